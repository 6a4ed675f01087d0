/**
 * Extremes and sums of every sixteen bars, so that a stretch in which price stays between two levels is crossed a block at
 * a time. Made once for a series and kept with it: all runs on the same bars use them.
 */
import type { BarSeries } from "../market/bars.ts";

export const BLOCK_SHIFT = 4;
export const BLOCK_BARS = 1 << BLOCK_SHIFT;

/** One entry for each full block of bars. */
export interface BarBlocks {
  readonly high: Float64Array;
  readonly low: Float64Array;
  readonly closeSum: Float64Array;
  readonly closePeak: Float64Array;
  readonly closeLow: Float64Array;
}

const known = new WeakMap<BarSeries, BarBlocks>();

export function blocksOf(bars: BarSeries): BarBlocks {
  const found = known.get(bars);
  if (found) return found;
  const count = bars.length >> BLOCK_SHIFT;
  const high = new Float64Array(count);
  const low = new Float64Array(count);
  const closeSum = new Float64Array(count);
  const closePeak = new Float64Array(count);
  const closeLow = new Float64Array(count);
  for (let block = 0; block < count; block++) {
    let top = Number.NEGATIVE_INFINITY;
    let bottom = Number.POSITIVE_INFINITY;
    let sum = 0;
    let peak = Number.NEGATIVE_INFINITY;
    let least = Number.POSITIVE_INFINITY;
    const end = (block + 1) << BLOCK_SHIFT;
    for (let i = block << BLOCK_SHIFT; i < end; i++) {
      if (bars.high[i]! > top) top = bars.high[i]!;
      if (bars.low[i]! < bottom) bottom = bars.low[i]!;
      if (bars.close[i]! > peak) peak = bars.close[i]!;
      if (bars.close[i]! < least) least = bars.close[i]!;
      sum += bars.close[i]!;
    }
    high[block] = top;
    low[block] = bottom;
    closeSum[block] = sum;
    closePeak[block] = peak;
    closeLow[block] = least;
  }
  const made: BarBlocks = { high, low, closeSum, closePeak, closeLow };
  known.set(bars, made);
  return made;
}
