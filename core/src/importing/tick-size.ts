/** What grid the prices of a file lie on. */
import type { BarColumns } from "../market/bars.ts";

const MOST_DECIMALS = 8;
const PRICES_LOOKED_AT = 20_000;

/**
 * The coarsest grid that holds every price of some bars: the greatest common divisor of the prices, counted in the last
 * decimal that any of them has. A few bars can lie on a coarser grid than the instrument's by chance, never on a finer one.
 * @returns price units; 0.01 where there are no prices.
 */
export function guessTickSize({ open, high, low, close }: Pick<BarColumns, "open" | "high" | "low" | "close">): number {
  const n = Math.min(open.length, PRICES_LOOKED_AT);
  let decimals = 0;
  const columns = [open, high, low, close];
  for (const column of columns)
    for (let i = 0; i < n; i++) while (decimals < MOST_DECIMALS && !isWhole(column[i]! * 10 ** decimals)) decimals++;
  let common = 0;
  for (const column of columns) for (let i = 0; i < n; i++) common = greatestDivisor(common, Math.round(column[i]! * 10 ** decimals));
  if (common === 0) return 0.01;
  // Case: few different prices, or one. A grid that coarse is chance.
  const lowest = Math.round(Math.min(...low.subarray(0, n)) * 10 ** decimals);
  return (common > lowest / 100 ? 1 : common) / 10 ** decimals;
}

/** To the noise of a decimal number that is written in binary. */
const isWhole = (value: number): boolean => Math.abs(value - Math.round(value)) <= Math.abs(value) * 1e-12;

function greatestDivisor(a: number, b: number): number {
  let [large, small] = [a, b];
  while (small > 0) [large, small] = [small, large % small];
  return large;
}
