/** A watch that has ended starts again; what it still holds is taken over or closed first. */
import type { RestartWatch } from "@plan-tester/contract";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";

export interface RestartDialogProps {
  readonly name: string;
  /** What is open, in words. */
  readonly open: string;
  readonly onChoose: (open: RestartWatch["open"]) => void;
  readonly onClose: () => void;
}

export function RestartDialog({ name, open, onChoose, onClose }: RestartDialogProps) {
  return (
    <Modal title={`Start ${name} again`} description={open} onClose={onClose}>
      <p className="pb-3 text-soft">
        Taken over, the plan finds itself in that position, with its stop and target. Closed first, it begins with nothing. What it
        remembered is gone either way.
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button onClick={() => onChoose("flatten")}>Close it first</Button>
        <Button variant="primary" onClick={() => onChoose("adopt")}>
          Take it over
        </Button>
      </div>
    </Modal>
  );
}
