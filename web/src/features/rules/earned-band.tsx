/** What a rule earns a year as a band about zero; all rules of a plan share one scale. */
import { yearly } from "./rule-verdict.ts";

export interface EarnedBandProps {
  readonly earned: number;
  readonly low: number;
  readonly high: number;
  /** The largest of all rules, either way. */
  readonly reach: number;
}

export function EarnedBand({ earned, low, high, reach }: EarnedBandProps) {
  const at = (value: number): number => 50 + (reach > 0 ? (50 * value) / reach : 0);
  return (
    <span
      role="img"
      aria-label={`${yearly(earned)} a year, from ${yearly(low)} to ${yearly(high)}`}
      className="relative block h-4 w-full min-w-24 rounded-sm bg-sunk"
    >
      <span className="absolute inset-y-0 w-px bg-soft/60" style={{ left: "50%" }} />
      <span
        className={`absolute top-1.5 h-1 rounded-full ${low > 0 ? "bg-gain" : high < 0 ? "bg-loss" : "bg-soft/60"}`}
        style={{ left: `${at(low)}%`, width: `${Math.max(1, at(high) - at(low))}%` }}
      />
      <span className="absolute top-0.5 h-3 w-0.75 -translate-x-1/2 rounded-sm bg-ink" style={{ left: `${at(earned)}%` }} />
    </span>
  );
}
