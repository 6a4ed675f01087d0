/**
 * How deep equity could fall in days like those of a run: its days resampled in blocks, which keep what came together
 * together (Politis & Romano 1994, the stationary bootstrap). Sizes are taken to be constant: money, not percent.
 */
import { drawBlocks } from "../blocks.ts";
import { firstAfter } from "../engine/ascending.ts";
import { dayEnds } from "../figures/daily.ts";
import { quantile } from "../figures/statistics.ts";
import type { BarSeries } from "../market/bars.ts";
import { Random } from "../random.ts";

/** Days as equity went through them at the closes of bars; money against the end of the day before. */
export interface DayMoves {
  readonly end: Float64Array;
  readonly high: Float64Array;
  readonly low: Float64Array;
  /** Deepest fall from a high of the same day. */
  readonly fall: Float64Array;
}

export interface DrawdownAhead {
  readonly draws: number;
  /** Mean length of a block, days. */
  readonly block: number;
  /** The deepest fall of each draw, ascending. */
  readonly deepest: Float64Array;
  /** Those at 50, 95 and 99 % of the draws. */
  readonly middle: number;
  readonly likely: number;
  readonly rare: number;
}

export const DAYS_OF_A_BLOCK = 10;
const DRAWS = 2000;

/** @param equity at the close of each bar, so many as have been run @param capital ahead of the first */
export const dayMoves = (bars: BarSeries, equity: ArrayLike<number>, capital: number): DayMoves =>
  movesBetween(dayEnds(bars).bars, equity, capital);

/** @param ends index of the last value of each day; those that lie beyond the values are left out */
export function movesBetween(ends: Int32Array, equity: ArrayLike<number>, capital: number): DayMoves {
  // A run may have ended ahead of its bars, in the middle of a day.
  const days = ends.filter((_end, d) => d === 0 || ends[d - 1]! + 1 < equity.length).length;
  const column = (): Float64Array => new Float64Array(days);
  const moves: DayMoves = { end: column(), high: column(), low: column(), fall: column() };
  let before = capital;
  let i = 0;
  for (let d = 0; d < days; d++) {
    const last = Math.min(ends[d]!, equity.length - 1);
    let [high, low, fall] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY, 0];
    for (; i <= last; i++) {
      const move = equity[i]! - before;
      high = Math.max(high, move);
      low = Math.min(low, move);
      fall = Math.max(fall, high - move);
    }
    moves.high[d] = high;
    moves.low[d] = low;
    moves.fall[d] = fall;
    moves.end[d] = equity[last]! - before;
    before = equity[last]!;
  }
  return moves;
}

/** The deepest fall of the days in an order; in their own it is the drawdown at the closes of bars. */
export function deepestFall({ end, high, low, fall }: DayMoves, order: ArrayLike<number>): number {
  let [equity, peak, deepest] = [0, 0, 0];
  for (let k = 0; k < order.length; k++) {
    const d = order[k]!;
    deepest = Math.max(deepest, peak - (equity + low[d]!), fall[d]!);
    peak = Math.max(peak, equity + high[d]!);
    equity += end[d]!;
  }
  return deepest;
}

/**
 * Seeded: the same seed gives the same draws. null of fewer than two days.
 * @param length mean length of a block; 1 draws each day for itself
 */
export function drawdownAhead(moves: DayMoves, length = DAYS_OF_A_BLOCK, seed = 1, draws = DRAWS): DrawdownAhead | null {
  const n = moves.end.length;
  if (n < 2) return null;
  const random = new Random(seed);
  const block = Math.min(length, n);
  const order = new Int32Array(n);
  const falls = new Float64Array(draws);
  for (let draw = 0; draw < draws; draw++) {
    drawBlocks(order, block, random);
    falls[draw] = deepestFall(moves, order);
  }
  falls.sort();
  const at = (share: number): number => quantile(falls, share)!;
  return { draws, block, deepest: falls, middle: at(0.5), likely: at(0.95), rare: at(0.99) };
}

/** Shares of the draws, of which the falls are told together. */
const BANDS = [0.05, 0.25, 0.5, 0.75, 0.95, 0.99] as const;

export interface FallBand {
  /** So large a share of the draws falls by no more. */
  readonly share: number;
  readonly fall: number;
}

export const fallBands = ({ deepest }: Pick<DrawdownAhead, "deepest">): readonly FallBand[] =>
  BANDS.map((share) => ({ share, fall: quantile(deepest, share)! }));

/** Share of the draws that fall by more than so much money. */
export function shareBeyond({ deepest }: Pick<DrawdownAhead, "deepest">, fall: number): number {
  return 1 - firstAfter(deepest, fall, 0, deepest.length) / deepest.length;
}
