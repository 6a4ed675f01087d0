/** Runs on each pause in typing, when the user has turned that on. */
import { useEffect, useRef } from "react";
import { useSwitch } from "../../lib/switch.ts";
import type { Draft } from "../drafts/use-draft.ts";

const PAUSE_MS = 600;

export type AutoRun = ReturnType<typeof useSwitch>;

export function useAutoRun(draft: Draft, isSound: boolean, isRunning: boolean, start: () => Promise<void>): AutoRun {
  const { isOn, toggle } = useSwitch("run-on-pause");
  const latest = useRef(start);
  latest.current = start;
  const ran = useRef(draft);
  useEffect(() => {
    if (!isOn || !isSound || isRunning || ran.current === draft) return;
    const timer = setTimeout(() => {
      ran.current = draft;
      void latest.current();
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [draft, isOn, isSound, isRunning]);
  return { isOn, toggle };
}
