/** Daily equity: the last equity of each session date, with the starting capital ahead of it. */
import type { BarSeries } from "../market/bars.ts";

export interface Daily {
  /** Session dates; one fewer than `equity`. */
  readonly dates: readonly string[];
  /** Starting capital, then one value for each date. */
  readonly equity: Float64Array;
}

/** The last bar of each session date of a series. */
export interface DayEnds {
  readonly dates: readonly string[];
  readonly bars: Int32Array;
}

/** Many runs on the same bars share their days. */
const known = new WeakMap<BarSeries, DayEnds>();

export function dayEnds(bars: BarSeries): DayEnds {
  const found = known.get(bars);
  if (found) return found;
  const { session, sessions, length } = bars;
  const dates: string[] = [];
  const ends: number[] = [];
  for (let i = 0; i < length; i++) {
    if (i + 1 < length && session[i + 1] === session[i]) continue;
    const date = sessions.dates[session[i]!]!;
    // Case: two sessions of one date count as one day, by its last.
    if (dates.length > 0 && dates[dates.length - 1] === date) ends[ends.length - 1] = i;
    else {
      dates.push(date);
      ends.push(i);
    }
  }
  const made = { dates, bars: Int32Array.from(ends) };
  known.set(bars, made);
  return made;
}

/** `values` is a column over all of `bars`: equity, or a price with its first as the capital. */
export function dailyEquity(bars: BarSeries, values: Float64Array, capital: number): Daily {
  const { dates, bars: ends } = dayEnds(bars);
  const n = ends.length;
  const equity = new Float64Array(n + 1);
  equity[0] = capital;
  for (let d = 0; d < n; d++) equity[d + 1] = values[ends[d]!]!;
  return { dates, equity };
}

/** Session date on which daily equity was first 0 or less; null where it never was. What divides by equity ends there. */
export function ruinDate({ dates, equity }: Daily): string | null {
  for (let d = 1; d < equity.length; d++) if (equity[d]! <= 0) return dates[d - 1]!;
  return null;
}

/** Daily returns: equity[d] / equity[d - 1] - 1; all 0, which no figure takes for returns, once the account was wiped out. */
export function dailyReturns(equity: Float64Array): Float64Array {
  const returns = new Float64Array(Math.max(0, equity.length - 1));
  const n = returns.length;
  for (let d = 1; d <= n; d++) if (equity[d]! <= 0) return returns;
  for (let d = 0; d < n; d++) returns[d] = equity[d + 1]! / equity[d]! - 1;
  return returns;
}

/** For each calendar year of some dates the number of its last. Many runs on the same bars share their dates. */
function yearEnds(dates: readonly string[]): readonly number[] {
  const found = ends.get(dates);
  if (found) return found;
  const made = [...dates.keys()].filter((d) => dates[d]!.slice(0, 4) !== dates[d + 1]?.slice(0, 4));
  ends.set(dates, made);
  return made;
}

const ends = new WeakMap<readonly string[], readonly number[]>();

/** Calendar years, of those that the dates touch, over which equity rose. */
export function profitableYears({ dates, equity }: Daily): number {
  let [count, before] = [0, equity[0]!];
  for (const d of yearEnds(dates)) {
    if (equity[d + 1]! > before) count++;
    before = equity[d + 1]!;
  }
  return count;
}
