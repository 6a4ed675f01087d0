/** What entries put at stake against their stops, and what they are worth against the account. */

import type { Trade } from "../engine/orders.ts";
import { quantile } from "../figures/statistics.ts";

export interface EntryRisk {
  /** Money between entry and first stop, at the size of the run: the middle one and the largest; null where none had a stop. */
  readonly middle: number | null;
  readonly largest: number | null;
  /** Share of the trades that had no stop. */
  readonly without: number;
}

export function entryRisk(trades: readonly Pick<Trade, "risk">[]): EntryRisk {
  const risks = Float64Array.from(trades.flatMap(({ risk }) => (risk !== null && risk > 0 ? [risk] : []))).sort();
  return {
    ...{ middle: quantile(risks, 0.5), largest: risks.at(-1) ?? null },
    without: trades.length === 0 ? 0 : 1 - risks.length / trades.length,
  };
}
