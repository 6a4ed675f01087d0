/** A word of a sentence that opens its control. */
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import { cx } from "./cx.ts";

export interface WordProps {
  readonly label: string;
  readonly text: string;
  readonly readOnly: boolean;
  /** Says that something happens on one bar, rather than holds. */
  readonly isMoment?: boolean;
  readonly children: (close: () => void) => ReactNode;
}

export function Word({ label, text, readOnly, isMoment = false, children }: WordProps) {
  const [open, setOpen] = useState(false);
  if (readOnly) return <strong className="font-semibold">{text}</strong>;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={cx(
          "rounded-xs border-b font-semibold hover:bg-sunk data-[state=open]:bg-sunk",
          isMoment ? "border-accent border-double border-b-3 text-accent" : "border-soft border-dotted",
        )}
        aria-label={`${label}: ${text}`}
      >
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-h-(--radix-popover-content-available-height) overflow-auto rounded-md border border-rule bg-sheet p-2 shadow-(--shadow)"
        >
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
