import type { Warning } from "@plan-tester/core";
import { Popover } from "radix-ui";

/** Doubt before praise: each warning opens what to do about it. */
export function Warnings({ warnings }: { readonly warnings: readonly Warning[] }) {
  if (warnings.length === 0) return null;
  return (
    <section
      aria-label="Warnings"
      className="flex flex-wrap items-baseline gap-x-5 gap-y-0.5 border-warn border-l-3 bg-warn-wash px-2.5 py-1.5 text-[14px] text-warn"
    >
      <strong className="font-semibold">Before you believe it:</strong>
      {warnings.map((warning) => (
        <Popover.Root key={warning.code}>
          <Popover.Trigger className="rounded-xs text-left decoration-dotted underline underline-offset-3">{warning.text}</Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              side="bottom"
              align="start"
              sideOffset={6}
              className="z-50 max-w-80 rounded-md border border-rule bg-sheet p-3 text-[13px] text-ink shadow-(--shadow)"
            >
              {warning.advice}
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      ))}
    </section>
  );
}
