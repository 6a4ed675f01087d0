/** The demo world as a whole: removed when one works with data of one's own, made again when it is missed. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";

export function DemoWorld() {
  const [isAsking, setAsking] = useState(false);
  const { data } = useQuery(queries.demo());
  const makeDemo = useChange("makeDemo");
  const removeDemo = useChange("removeDemo");
  const make = (): void => void makeDemo.run();
  const remove = (): void => {
    setAsking(false);
    void removeDemo.run();
  };
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
            <Button variant="primary" onClick={remove}>
              Remove the demo
            </Button>
          </div>
        </Modal>
      ) : null}
    </>
  );
}
