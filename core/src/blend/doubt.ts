/** How sure a blend is: its days resampled in blocks, the same days for every member, so that what fell together stays together. */
import { drawBlocks } from "../blocks.ts";
import { quantile } from "../figures/statistics.ts";
import { Random } from "../random.ts";
import { DAYS_OF_A_BLOCK, type DayMoves, deepestFall, drawdownAhead, movesBetween } from "../sizing/drawdown-ahead.ts";
import { type BlendCurves, jointProfit } from "./curves.ts";

/** Days of a blend as its joint equity goes through them. */
export const jointMoves = (curves: BlendCurves, factors: readonly number[]): DayMoves =>
  movesBetween(curves.dayEnds, jointProfit(curves, factors), 0);

/** Deepest falls of resampled days; null of fewer than two days. */
export const jointAhead = (curves: BlendCurves, factors: readonly number[]): ReturnType<typeof drawdownAhead> =>
  drawdownAhead(jointMoves(curves, factors));

export interface Gain {
  /** Return over drawdown of the one and of the other, on these days; null where one did not fall. */
  readonly chosen: number | null;
  readonly plain: number | null;
  /** Share of the draws in which the chosen weights do no better than the plain ones: how far luck explains the gain. */
  readonly luck: number;
  /** The difference at 5, 50 and 95 % of the draws. */
  readonly low: number;
  readonly middle: number;
  readonly high: number;
  readonly draws: number;
}

const DRAWS = 1000;

/**
 * What chosen weights gain over plain ones on days that they were not chosen by: the difference of return over drawdown, in
 * draws of those days in blocks, the same draw for both. Seeded. null under two days.
 */
export function gainOver(later: BlendCurves, chosen: readonly number[], plain: readonly number[], seed = 1): Gain | null {
  const n = later.dayEnds.length;
  if (n < 2) return null;
  const [a, b] = [jointMoves(later, chosen), jointMoves(later, plain)];
  const own = Int32Array.from({ length: n }, (_none, d) => d);
  const random = new Random(seed);
  const order = new Int32Array(n);
  const differences = new Float64Array(DRAWS);
  let worse = 0;
  for (let draw = 0; draw < DRAWS; draw++) {
    drawBlocks(order, Math.min(DAYS_OF_A_BLOCK, n), random);
    differences[draw] = (worth(a, order) ?? 0) - (worth(b, order) ?? 0);
    if (!(differences[draw]! > 0)) worse++;
  }
  differences.sort();
  const at = (share: number): number => quantile(differences, share)!;
  return {
    ...{ chosen: worth(a, own), plain: worth(b, own), luck: worse / DRAWS },
    ...{ low: at(0.05), middle: at(0.5), high: at(0.95), draws: DRAWS },
  };
}

function worth(moves: DayMoves, order: Int32Array): number | null {
  const fall = deepestFall(moves, order);
  let made = 0;
  for (let i = 0; i < order.length; i++) made += moves.end[order[i]!]!;
  return fall > 0 ? made / fall : null;
}
