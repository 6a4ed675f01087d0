import { Popover as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { cx } from "./cx.ts";

export interface PopoverProps {
  /** What opens it: a button. */
  readonly trigger: ReactNode;
  readonly align?: "start" | "center" | "end";
  readonly className?: string;
  readonly label?: string;
  /** Where its owner opens and closes it. */
  readonly open?: boolean;
  readonly onOpen?: (open: boolean) => void;
  readonly children: ReactNode;
}

/** A sheet that opens at a button. */
export function Popover({ trigger, align = "start", className, label, open, onOpen, children }: PopoverProps) {
  return (
    <Radix.Root {...(open === undefined ? {} : { open })} {...(onOpen ? { onOpenChange: onOpen } : {})}>
      <Radix.Trigger asChild>{trigger}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          align={align}
          sideOffset={6}
          aria-label={label}
          className={cx("z-50 max-w-96 rounded-md border border-rule bg-sheet p-3 text-[13px] text-ink shadow-(--shadow)", className)}
        >
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

export const PopoverClose = Radix.Close;
