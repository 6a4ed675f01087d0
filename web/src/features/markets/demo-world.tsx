/** The demo world as a whole: removed when one works with data of one's own, made again when it is missed. */
import type { DemoState } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { useCommands } from "../../app/commands.ts";
import { api, messageOf } from "../../lib/api.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";

const LOOK_EVERY_MS = 2000;
const queryKey = ["demo"];

export function DemoWorld() {
  const client = useQueryClient();
  const [isAsking, setAsking] = useState(false);
  const { data } = useQuery({
    queryKey,
    queryFn: () => api.get<{ state: DemoState }>("/demo"),
    refetchInterval: ({ state }) => (state.data?.state === "making" ? LOOK_EVERY_MS : false),
  });
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    setAsking(false);
    try {
      await work();
    } catch (error) {
      toast.error(messageOf(error));
    }
    // Instruments, plans, runs and sweeps have changed with it.
    await client.invalidateQueries();
  };
  const make = (): void => void act(() => api.post("/demo"));
  const state = data?.state ?? "none";
  useCommands([
    ...(state === "there" ? [{ id: "remove-demo", label: "Remove the demo world", act: () => setAsking(true) }] : []),
    ...(state === "removed" ? [{ id: "make-demo", label: "Make the demo world", act: make }] : []),
  ]);
  return (
    <>
      {state === "there" ? <Button onClick={() => setAsking(true)}>Remove the demo</Button> : null}
      {state === "removed" ? <Button onClick={make}>Make the demo world</Button> : null}
      {state === "making" ? <span className="text-[13px] text-soft">The demo world is being made …</span> : null}
      {isAsking ? (
        <Modal title="Remove the demo world?" onClose={() => setAsking(false)}>
          <p>
            Its instruments with their bars go, and every example plan that you have not changed, with its runs, sweeps and walk-forwards.
            Plans that you changed stay, and so do your own instruments. It can be made again here.
          </p>
          <div className="flex pt-4 justify-end gap-2">
            <Button onClick={() => setAsking(false)}>Cancel</Button>
            <Button variant="primary" onClick={() => void act(() => api.delete("/demo"))}>
              Remove the demo
            </Button>
          </div>
        </Modal>
      ) : null}
    </>
  );
}
