/** Ends a watch, or all of them: what becomes of what is open is asked, each way with what it means (R8.5). */
import type { Leaving } from "@plan-tester/contract";
import { useState } from "react";
import { Button } from "../../ui/button.tsx";
import { Modal } from "../../ui/modal.tsx";

export interface StopDialogProps {
  readonly title: string;
  /** What is open now, in words. */
  readonly open: string;
  readonly onStop: (leaving: Leaving) => void;
  readonly onClose: () => void;
}

const WAYS: readonly { readonly leaving: Leaving; readonly label: string; readonly means: string }[] = [
  { leaving: "flatten", label: "Close it now", means: "Every order is cancelled and what is open is closed at the next price." },
  {
    leaving: "protected",
    label: "Leave it with its protection",
    means:
      "Entries are cancelled. Positions stay at the venue with their stops, targets and exits, and are listed here until they are closed.",
  },
  {
    leaving: "bare",
    label: "Leave it bare",
    means: "Every order, stop and target is taken away. Positions stay open without a limit to their loss until you close them.",
  },
];

export function StopDialog({ title, open, onStop, onClose }: StopDialogProps) {
  const [leaving, setLeaving] = useState<Leaving>("flatten");
  return (
    <Modal title={title} description={`The plan acts no more. ${open}`} onClose={onClose}>
      <form
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          onStop(leaving);
        }}
      >
        {WAYS.map(({ leaving: way, label, means }, k) => (
          <label
            key={way}
            className="flex cursor-pointer gap-2 rounded border border-rule p-2 has-checked:border-accent has-checked:bg-sunk"
          >
            <input
              type="radio"
              className="mt-1 self-start"
              name="leaving"
              // biome-ignore lint/a11y/noAutofocus: the dialog's one question
              autoFocus={k === 0}
              checked={leaving === way}
              onChange={() => setLeaving(way)}
            />
            <span>
              <strong>{label}</strong>
              <span className="block text-[13px] text-soft">{means}</span>
            </span>
          </label>
        ))}
        <div className="flex justify-end gap-2 pt-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="danger" type="submit">
            {title.startsWith("Stop every") ? "Stop everything" : "Stop"}
          </Button>
        </div>
      </form>
    </Modal>
  );
}
