/** How a blend is shared among its members, by what they did on one part of the history. Only proportions: sizes come after. */
import { sampleDeviation } from "../figures/statistics.ts";
import { type BlendCurves, dailyProfits, jointProfit } from "./curves.ts";
import { covariances, deepestFallOf } from "./figures.ts";

export const WEIGHTINGS = [
  "as they ran",
  "equal drawdown",
  "equal volatility",
  "equal contribution to risk",
  "lowest correlation",
  "greatest return over drawdown",
] as const;
export type Weighting = (typeof WEIGHTINGS)[number];

/**
 * Factors on the sizes that the members ran at, all 0 or more; only their proportions mean something. A member that did not
 * move on this part gets 0.
 * @param part the days by which is chosen
 */
export function weightsBy(weighting: Weighting, part: BlendCurves): number[] {
  const daily = dailyProfits(part);
  const moves = daily.map((column) => sampleDeviation(column) ?? 0);
  const over = (values: readonly number[]): number[] => values.map((value, k) => (moves[k]! > 0 && value > 0 ? 1 / value : 0));
  const byDrawdown = (): number[] => over(part.profits.map(deepestFallOf));
  switch (weighting) {
    case "as they ran":
      return moves.map(() => 1);
    case "equal drawdown":
      return byDrawdown();
    case "equal volatility":
      return over(moves);
    case "equal contribution to risk":
      return equalRisk(covariances(daily), moves);
    case "lowest correlation":
      return mostDiverse(covariances(daily), moves);
    case "greatest return over drawdown":
      return bestReturnToDrawdown(part, byDrawdown());
  }
}

const ROUNDS = 500;
const CLOSE = 1e-12;

/** Goes round the coordinates of a vector until none moves. */
function goRound(start: readonly number[], next: (x: readonly number[], k: number) => number): number[] {
  const x = [...start];
  for (let round = 0; round < ROUNDS; round++) {
    let moved = 0;
    for (let k = 0; k < x.length; k++) {
      const value = next(x, k);
      moved = Math.max(moved, Math.abs(value - x[k]!) / (Math.abs(value) + CLOSE));
      x[k] = value;
    }
    if (moved < CLOSE) break;
  }
  return x;
}

const othersOf = (row: Float64Array, x: readonly number[], k: number): number =>
  row.reduce((sum, value, j) => (j === k ? sum : sum + value * x[j]!), 0);

/**
 * Weights at which each member has the same part in the variance: the least of x'Cx / 2 - sum of ln x, coordinate by
 * coordinate (Griveau-Billion, Richard & Roncalli 2013, "A fast algorithm for computing high-dimensional risk parity
 * portfolios").
 */
function equalRisk(covariance: readonly Float64Array[], moves: readonly number[]): number[] {
  return goRound(
    moves.map((move) => (move > 0 ? 1 / move : 0)),
    (x, k) => {
      const own = covariance[k]![k]!;
      if (!(own > 0)) return 0;
      const others = othersOf(covariance[k]!, x, k);
      return (-others + Math.sqrt(others * others + 4 * own)) / (2 * own);
    },
  );
}

/**
 * Weights of the most diversified blend: its volatility is the least against the sum of its members' (Choueifaty & Coignard
 * 2008, "Toward maximum diversification"). The least of y'Ry / 2 - sum of y over y >= 0 with the correlations R, then each
 * over its volatility.
 */
function mostDiverse(covariance: readonly Float64Array[], moves: readonly number[]): number[] {
  const y = goRound(
    moves.map((move) => (move > 0 ? 1 : 0)),
    (x, k) => {
      if (!(moves[k]! > 0)) return 0;
      const row = covariance[k]!.map((value, j) => (moves[j]! > 0 ? value / (moves[k]! * moves[j]!) : 0));
      return Math.max(0, 1 - othersOf(row, x, k));
    },
  );
  return y.map((value, k) => (moves[k]! > 0 ? value / moves[k]! : 0));
}

const FIRST_STRIDE = 1;
const LAST_STRIDE = 1 / 32;
/** What a move must gain, of what there is: without it the search would go on by hairs. */
const WORTH_A_MOVE = 1e-4;

/** Seeks the greatest profit over deepest fall, one member larger, smaller or left out at a time, in ever smaller strides. */
function bestReturnToDrawdown(part: BlendCurves, start: readonly number[]): number[] {
  const factors = [...start];
  const joint = jointProfit(part, factors);
  const trial = new Float64Array(joint.length);
  const worth = (profit: Float64Array): number => {
    const fall = deepestFallOf(profit);
    const made = profit[profit.length - 1] ?? 0;
    return fall > 0 ? made / fall : made > 0 ? Number.POSITIVE_INFINITY : 0;
  };
  let best = worth(joint);
  for (let stride = FIRST_STRIDE; stride >= LAST_STRIDE; stride /= 2) {
    for (let hasMoved = true; hasMoved; ) {
      hasMoved = false;
      for (let k = 0; k < factors.length; k++)
        for (const factor of [factors[k]! * (1 + stride), factors[k]! / (1 + stride), 0, start[k]! * stride]) {
          const change = factor - factors[k]!;
          if (change === 0) continue;
          const profit = part.profits[k]!;
          for (let i = 0; i < trial.length; i++) trial[i] = joint[i]! + change * profit[i]!;
          const found = worth(trial);
          if (!(found > best + Math.abs(best) * WORTH_A_MOVE + CLOSE)) continue;
          [best, factors[k], hasMoved] = [found, factor, true];
          joint.set(trial);
        }
    }
  }
  // A blend of nothing falls by nothing, and is none.
  return factors.some((factor) => factor > 0) && best > 0 ? factors : [...start];
}
