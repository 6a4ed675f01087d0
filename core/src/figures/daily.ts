/** Daily equity: the last equity of each session date, with the starting capital ahead of it. */
import type { BarSeries } from "../market/bars.ts";

export interface Daily {
  /** Session dates; one fewer than `equity`. */
  readonly dates: readonly string[];
  /** Starting capital, then one value for each date. */
  readonly equity: Float64Array;
}

export function dailyEquity(bars: BarSeries, equity: Float64Array, capital: number): Daily {
  const { session, sessions } = bars;
  const n = equity.length;
  const dates: string[] = [];
  const values: number[] = [capital];
  for (let i = 0; i < n; i++) {
    if (i + 1 < n && session[i + 1] === session[i]) continue;
    const date = sessions.dates[session[i]!]!;
    // Case: two sessions of one date count as one day, by its last.
    if (dates.length > 0 && dates[dates.length - 1] === date) values[values.length - 1] = equity[i]!;
    else {
      dates.push(date);
      values.push(equity[i]!);
    }
  }
  return { dates, equity: Float64Array.from(values) };
}

/** Daily returns: equity[d] / equity[d - 1] - 1. */
export function dailyReturns(equity: Float64Array): Float64Array {
  const returns = new Float64Array(Math.max(0, equity.length - 1));
  for (let d = 0; d < returns.length; d++) returns[d] = equity[d + 1]! / equity[d]! - 1;
  return returns;
}
