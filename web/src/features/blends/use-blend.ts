/** A blend under the user's hands. */
import type { Blend } from "@plan-tester/contract";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { queries } from "../../data/queries.ts";
import { BlendSaver, type SaverView } from "./blend-saver.ts";

export interface EditedBlend extends SaverView {
  readonly saver: BlendSaver;
}

/** @param blend as it was read; another one needs another key on the component */
export function useBlend(blend: Blend): EditedBlend {
  const client = useQueryClient();
  const [saver] = useState(
    () =>
      new BlendSaver(blend, (saved) => {
        client.setQueryData(queries.blend(saved.id).queryKey, saved);
        void client.invalidateQueries({ queryKey: queries.blends().queryKey });
      }),
  );
  const view = useSyncExternalStore(saver.subscribe, saver.view);
  useEffect(() => {
    const leave = (): void => saver.leave();
    window.addEventListener("pagehide", leave);
    return () => window.removeEventListener("pagehide", leave);
  }, [saver]);
  return { ...view, saver };
}
