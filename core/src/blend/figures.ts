/** What a blend came to: its own fall beside those of its members, and what each has to do with it. */
import { type DrawdownRow, drawdownTable } from "../figures/drawdown-table.ts";
import { type BlendCurves, dailyProfits, jointProfit } from "./curves.ts";

/** Money of the blend, and of its account. */
export interface Fall {
  readonly money: number;
  /** Of the account with which the blend began, a fraction. */
  readonly share: number;
}

export interface MemberShare {
  readonly profit: number;
  /** Deepest fall of the member alone, at its size. */
  readonly drawdown: Fall;
  /** Part of the blend's variance of daily results: those of all members add up to 1. null where it does not vary. */
  readonly volatility: number | null;
  /** What the member lost from the peak to the low of the blend's deepest fall; those of all add up to it. Below 0: it gained. */
  readonly atLow: number;
  /** The blend without it. */
  readonly without: { readonly profit: number; readonly drawdown: Fall };
}

export interface BlendFigures {
  readonly profit: number;
  readonly drawdown: Fall;
  /** The deepest fall in percent of the peak before it, a fraction. */
  readonly relative: number;
  /** Indices into the closes; start -1 is the beginning. */
  readonly deepest: { readonly start: number; readonly low: number; readonly recovery: number | null };
  /** Deepest falls of the members, each at its own time, added up. */
  readonly sumOfDrawdowns: number;
  /** Profit over the deepest fall; null where nothing fell. */
  readonly returnToDrawdown: number | null;
  readonly members: readonly MemberShare[];
}

/** What does not change with sizes. */
interface Unsized {
  /** Deepest fall of each member at the size of its run. */
  readonly falls: readonly number[];
  readonly covariances: readonly Float64Array[];
}

const unsized = new WeakMap<BlendCurves, Unsized>();

function unsizedOf(curves: BlendCurves): Unsized {
  const found = unsized.get(curves) ?? { falls: curves.profits.map(deepestFallOf), covariances: covariances(dailyProfits(curves)) };
  unsized.set(curves, found);
  return found;
}

/** @param cash of the account that the blend begins with @param joint what it made at each close, where that is known */
export function blendFigures(
  curves: BlendCurves,
  factors: readonly number[],
  cash: number,
  joint: Float64Array = jointProfit(curves, factors),
): BlendFigures {
  const n = joint.length;
  const { falls, covariances } = unsizedOf(curves);
  const [deepest] = drawdownTable(joint, 0, 1);
  const { start, low, recovery } = deepest ?? { start: -1, low: -1, recovery: null };
  const fall = (money: number): Fall => ({ money, share: money / cash });
  const part = (column: Float64Array, factor: number): number => (low < 0 ? 0 : factor * ((start < 0 ? 0 : column[start]!) - column[low]!));
  const volatility = partsOfVariance(covariances, factors);
  const members = curves.profits.map((profit, k): MemberShare => {
    const factor = factors[k]!;
    const made = factor * (profit[n - 1] ?? 0);
    return {
      profit: made,
      drawdown: fall(factor * falls[k]!),
      volatility: volatility ? volatility[k]! : null,
      atLow: part(profit, factor),
      without: { profit: (joint[n - 1] ?? 0) - made, drawdown: fall(deepestWithout(joint, profit, factor)) },
    };
  });
  const depth = deepest?.depth ?? 0;
  return {
    profit: joint[n - 1] ?? 0,
    drawdown: fall(depth),
    relative: relativeFall(joint, cash),
    deepest: { start, low, recovery },
    sumOfDrawdowns: members.reduce((sum, { drawdown }) => sum + drawdown.money, 0),
    returnToDrawdown: depth > 0 ? (joint[n - 1] ?? 0) / depth : null,
    members,
  };
}

/** Deepest fall of what was made, from a beginning at nothing. */
export function deepestFallOf(profit: ArrayLike<number>): number {
  let [peak, deepest] = [0, 0];
  for (let i = 0; i < profit.length; i++) {
    const value = profit[i]!;
    if (value > peak) peak = value;
    else if (peak - value > deepest) deepest = peak - value;
  }
  return deepest;
}

/** Deepest fall of a joint curve less one of its members. */
function deepestWithout(joint: Float64Array, profit: Float64Array, factor: number): number {
  const n = joint.length;
  let [peak, deepest] = [0, 0];
  for (let i = 0; i < n; i++) {
    const value = joint[i]! - factor * profit[i]!;
    if (value > peak) peak = value;
    else if (peak - value > deepest) deepest = peak - value;
  }
  return deepest;
}

function relativeFall(profit: Float64Array, cash: number): number {
  let [peak, deepest] = [cash, 0];
  for (let i = 0; i < profit.length; i++) {
    const equity = cash + profit[i]!;
    if (equity > peak) peak = equity;
    else deepest = Math.max(deepest, (peak - equity) / peak);
  }
  return deepest;
}

/** Covariances of columns, divisor n - 1. */
export function covariances(daily: readonly Float64Array[]): Float64Array[] {
  const n = daily[0]?.length ?? 0;
  const centred = daily.map((column) => {
    const mean = column.reduce((sum, value) => sum + value, 0) / n;
    return column.map((value) => value - mean);
  });
  return centred.map((a) =>
    Float64Array.from(centred, (b) => {
      let sum = 0;
      for (let d = 0; d < n; d++) sum += a[d]! * b[d]!;
      return n < 2 ? 0 : sum / (n - 1);
    }),
  );
}

/**
 * Parts of the variance of a weighted sum: w_k (C w)_k / w'C w, which add up to 1 (Litterman 1996, the hot spots of a
 * portfolio). null where the sum does not vary.
 */
export const varianceShares = (daily: readonly Float64Array[], weights: readonly number[]): readonly number[] | null =>
  partsOfVariance(covariances(daily), weights);

function partsOfVariance(covariance: readonly Float64Array[], weights: readonly number[]): readonly number[] | null {
  const parts = covariance.map((row, k) => weights[k]! * row.reduce((sum, value, j) => sum + value * weights[j]!, 0));
  const variance = parts.reduce((sum, part) => sum + part, 0);
  return variance > 0 ? parts.map((part) => part / variance) : null;
}

/** A deep fall of the blend, and what each member lost from its peak to its low. */
export interface SharedFall extends DrawdownRow {
  readonly parts: readonly number[];
}

/** The deepest falls of the blend, the deepest first. `share` is of the peak of equity. */
export function sharedFalls(
  curves: BlendCurves,
  factors: readonly number[],
  cash: number,
  joint: Float64Array = jointProfit(curves, factors),
  most = 5,
): SharedFall[] {
  const equity = joint.map((value) => cash + value);
  return drawdownTable(equity, cash, most).map((row) => ({
    ...row,
    parts: curves.profits.map((profit, k) => factors[k]! * ((row.start < 0 ? 0 : profit[row.start]!) - profit[row.low]!)),
  }));
}
