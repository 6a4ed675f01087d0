import type { Slip } from "@plan-tester/core";
import type { ReactNode } from "react";
import { Popover } from "../../ui/popover.tsx";
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
    <Popover
      className="max-w-80"
      trigger={
        <button type="button" className="rounded-xs text-left underline decoration-dotted underline-offset-3">
          {text}
        </button>
      }
    >
      {children}
    </Popover>
  );
}
