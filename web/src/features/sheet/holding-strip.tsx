/** When a rule holds in the period, as a strip, and how often, in words. */
import type { ConditionEvidence } from "@plan-tester/contract";
import { number } from "../../lib/format.ts";

export function holdingWords({ known, held, began }: ConditionEvidence, bars: number): string {
  if (known === 0) return "never known in this period: it needs more bars";
  if (held === 0) return "never holds in this period";
  if (held === known) return "always holds in this period";
  const share = (100 * held) / bars;
  return `on ${number(held)} bars (${share < 0.1 ? "< 0.1" : share.toFixed(1)} %), begins ${number(began)} ${began === 1 ? "time" : "times"}`;
}

/** Parts of the period are drawn as high as the share of bars on which the rule holds; even one bar is seen. */
export interface HoldingStripProps {
  readonly evidence: ConditionEvidence;
  readonly bars: number;
  /** Stands ahead of the words. */
  readonly label?: string;
}

export function HoldingStrip({ evidence, bars, label }: HoldingStripProps) {
  const { shares, held, known } = evidence;
  const isIdle = held === 0 || held === known;
  const path = shares.map((share, i) => (share === 0 ? "" : `M${i} 10V${(10 - Math.max(2, 10 * share)).toFixed(1)}h1V10z`)).join("");
  return (
    <span className="flex min-w-0 items-center gap-2 text-[12px] text-soft">
      <svg
        viewBox={`0 0 ${Math.max(1, shares.length)} 10`}
        preserveAspectRatio="none"
        className="h-2.5 w-36 shrink-0 border-rule border-b"
        aria-hidden
      >
        <path d={path} className="fill-accent" />
      </svg>
      {label ? <span className="text-ink">{label}</span> : null}
      <span className={isIdle ? "font-semibold text-loss" : "truncate"}>{holdingWords(evidence, bars)}</span>
    </span>
  );
}
