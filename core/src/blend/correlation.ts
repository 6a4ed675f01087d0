/** How the daily results of members of a blend move together. */
import { mean } from "../figures/statistics.ts";
import { isStill } from "../still.ts";
import type { BlendCurves } from "./curves.ts";

/** Fewer days than these tell nothing of a correlation. */
export const MIN_CORRELATED_DAYS = 20;

/** Square, one row for each member; null where one did not move, or there are too few days. */
export type Correlations = readonly (readonly (number | null)[])[];

/**
 * Pearson's correlation of two columns over some days; null under MIN_CORRELATED_DAYS days, or where either does not move.
 * @param days which; all where left out
 */
export function correlation(a: Float64Array, b: Float64Array, days?: readonly number[]): number | null {
  const n = days?.length ?? a.length;
  if (n < MIN_CORRELATED_DAYS) return null;
  let [sumA, sumB] = [0, 0];
  for (let i = 0; i < n; i++) {
    const d = days ? days[i]! : i;
    sumA += a[d]!;
    sumB += b[d]!;
  }
  const [meanA, meanB] = [sumA / n, sumB / n];
  let [aa, bb, ab, largestA, largestB] = [0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const d = days ? days[i]! : i;
    const [x, y] = [a[d]! - meanA, b[d]! - meanB];
    aa += x * x;
    bb += y * y;
    ab += x * y;
    largestA = Math.max(largestA, Math.abs(a[d]!));
    largestB = Math.max(largestB, Math.abs(b[d]!));
  }
  if (isStill(Math.sqrt(aa / n), largestA) || isStill(Math.sqrt(bb / n), largestB)) return null;
  return Math.max(-1, Math.min(1, ab / Math.sqrt(aa * bb)));
}

function matrix(daily: readonly Float64Array[], daysOf: (a: number, b: number) => readonly number[]): Correlations {
  return daily.map((one, a) =>
    daily.map((other, b) => {
      const days = daysOf(a, b);
      return a === b ? (correlation(one, one, days) === null ? null : 1) : correlation(one, other, days);
    }),
  );
}

const range = (from: number, to: number): number[] => Array.from({ length: Math.max(0, to - from + 1) }, (_none, i) => from + i);

/** Over the days on which both of a pair ran. */
export function correlations(daily: readonly Float64Array[], alive: BlendCurves["alive"]): Correlations {
  return matrix(daily, (a, b) => range(Math.max(alive[a]!.from, alive[b]!.from), Math.min(alive[a]!.to, alive[b]!.to)));
}

/** The days that cost a blend the most, so many of a hundred, and no fewer than a correlation needs. */
export function worstDays(joint: Float64Array, share = 0.1): number[] {
  const count = Math.min(joint.length, Math.max(MIN_CORRELATED_DAYS, Math.round(joint.length * share)));
  return range(0, joint.length - 1)
    .sort((a, b) => joint[a]! - joint[b]! || a - b)
    .slice(0, count);
}

/** Over the same days for every pair, such as the worst. */
export const correlationsOn = (daily: readonly Float64Array[], days: readonly number[]): Correlations => matrix(daily, () => days);

/** The mean of all pairs; null of fewer than two members that moved. */
export function meanCorrelation(matrix: Correlations): number | null {
  return mean(matrix.flatMap((row, a) => row.slice(a + 1).filter((value) => value !== null)));
}

/** On each day the mean correlation of all pairs over the days up to it; NaN before there are so many, or where nothing moved. */
export function rollingCorrelation(daily: readonly Float64Array[], days = 60): Float64Array {
  const n = daily[0]?.length ?? 0;
  const out = new Float64Array(n).fill(Number.NaN);
  for (let d = days - 1; d < n; d++) {
    const window = daily.map((one) => one.subarray(d - days + 1, d + 1));
    const pairs = window.flatMap((one, a) => window.slice(a + 1).map((other) => correlation(one, other)));
    out[d] = mean(pairs.filter((value) => value !== null)) ?? Number.NaN;
  }
  return out;
}
