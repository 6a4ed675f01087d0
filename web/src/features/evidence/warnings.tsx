import type { Slip } from "@plan-tester/core";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import type { Surrounding } from "./surroundings.ts";

/** Doubt before praise: each warning opens what to do about it. */
export function Warnings({
  warnings,
  slips,
  onLine,
}: {
  readonly warnings: readonly Surrounding[];
  readonly slips: readonly Slip[];
  readonly onLine: (line: number) => void;
}) {
  if (warnings.length === 0 && slips.length === 0) return null;
  return (
    <section
      aria-label="Warnings"
      className="flex flex-wrap items-baseline gap-x-5 gap-y-0.5 border-warn border-l-3 bg-warn-wash px-2.5 py-1.5 text-[14px] text-warn"
    >
      <strong className="font-semibold">Before you believe it:</strong>
      {warnings.map(({ code, text, advice }) => (
        <Finding key={code} text={text}>
          {advice}
        </Finding>
      ))}
      {slips.map(({ line, code, text, advice }) => (
        <Finding key={`${line} ${code}`} text={`${text}?`}>
          <p>{advice}</p>
          <button type="button" className="mt-1 font-semibold text-accent hover:underline" onClick={() => onLine(line)}>
            Show line {line}
          </button>
        </Finding>
      ))}
    </section>
  );
}

/** A finding whose text opens what to do about it. */
function Finding({ text, children }: { readonly text: string; readonly children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="rounded-xs text-left decoration-dotted underline underline-offset-3">{text}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="bottom"
          align="start"
          sideOffset={6}
          className="z-50 max-w-80 rounded-md border border-rule bg-sheet p-3 text-[13px] text-ink shadow-(--shadow)"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
