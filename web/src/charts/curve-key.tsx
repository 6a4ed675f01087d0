import type { ReactNode } from "react";
import type { TokenName } from "./layers.ts";

export interface CurveKeyProps {
  readonly color: TokenName;
  readonly dash: readonly number[];
  readonly children: ReactNode;
}

/** What a curve of a chart stands for. */
export function CurveKey({ color, dash, children }: CurveKeyProps) {
  return (
    <span className="flex items-center gap-1.5">
      <svg width="20" height="4" aria-hidden>
        <line x1="0" x2="20" y1="2" y2="2" stroke={`var(--${color})`} strokeWidth="2" strokeDasharray={dash.join(" ")} />
      </svg>
      {children}
    </span>
  );
}
