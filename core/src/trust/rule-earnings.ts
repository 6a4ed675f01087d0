/**
 * What a rule of a plan earns: the plan with it against the same plan without it, day by day, and against placebos, which
 * are the plan with that rule as it stood some bars ago.
 */
import { drawBlocks } from "../blocks.ts";
import { mean, quantile } from "../figures/statistics.ts";
import { type MatchedTrade, matchTrades } from "../figures/trade-match.ts";
import { Random } from "../random.ts";

/** A run of the plan. */
export interface RuleRun {
  /** Daily returns, of the same sessions in every run. */
  readonly daily: ArrayLike<number>;
  readonly trades: readonly MatchedTrade[];
}

export interface RuleEarnings {
  /** Earned a year by having it: the mean daily return with it less that without it, times the sessions of a year. */
  readonly earned: number;
  /** 5 and 95 % of what is earned a year, by the stationary bootstrap. */
  readonly low: number;
  readonly high: number;
  /** The same in each half of the period. */
  readonly halves: readonly [number, number];
  readonly placebos: number;
  /** Placebos that did at least as well as the rule itself. */
  readonly asGood: number;
  /** How likely a rule that knows nothing does as well: (1 + asGood) / (1 + placebos); null without placebos. */
  readonly share: number | null;
  /** Both the band and the placebos say that it earns. */
  readonly earns: boolean;
  /** Trades that only the plan without it made: it kept them out. */
  readonly keptOut: TradeSum;
  /** Trades that only the plan with it made. */
  readonly letIn: TradeSum;
}

export interface TradeSum {
  readonly trades: number;
  /** Money, in account currency. */
  readonly net: number;
}

/** Mean length of a block, sessions. */
const BLOCK = 5;
const DRAWS = 2000;
/** Of placebos that may do as well. */
export const MOST_AS_GOOD = 0.05;

/** @param placebos mean daily return of each */
export function ruleEarnings(
  withIt: RuleRun,
  without: RuleRun,
  placebos: readonly number[],
  { sessionsPerYear, seed }: { readonly sessionsPerYear: number; readonly seed: number },
): RuleEarnings {
  const n = withIt.daily.length;
  const apart = Float64Array.from({ length: n }, (_none, i) => withIt.daily[i]! - without.daily[i]!);
  const aYear = (part: Float64Array): number => (mean(part) ?? 0) * sessionsPerYear;
  const [low, high] = bandOfMean(apart, seed);
  const own = mean(withIt.daily) ?? 0;
  const asGood = placebos.filter((placebo) => placebo >= own).length;
  const share = placebos.length === 0 ? null : (1 + asGood) / (1 + placebos.length);
  const { onlyA, onlyB } = matchTrades(withIt.trades, without.trades);
  const half = n >> 1;
  return {
    earned: aYear(apart),
    low: low * sessionsPerYear,
    high: high * sessionsPerYear,
    halves: [aYear(apart.subarray(0, half)), aYear(apart.subarray(half))],
    placebos: placebos.length,
    asGood,
    share,
    earns: low > 0 && share !== null && share <= MOST_AS_GOOD,
    keptOut: sumOf(onlyB),
    letIn: sumOf(onlyA),
  };
}

const sumOf = (trades: readonly MatchedTrade[]): TradeSum => ({
  trades: trades.length,
  net: trades.reduce((sum, { net }) => sum + net, 0),
});

/** 5 and 95 % of the mean of values in a row, drawn in blocks. 0 and 0 of no values. */
export function bandOfMean(values: Float64Array, seed: number): [number, number] {
  const n = values.length;
  if (n === 0) return [0, 0];
  const random = new Random(seed);
  const order = new Int32Array(n);
  const means = new Float64Array(DRAWS);
  for (let draw = 0; draw < DRAWS; draw++) {
    drawBlocks(order, BLOCK, random);
    let sum = 0;
    for (let i = 0; i < n; i++) sum += values[order[i]!]!;
    means[draw] = sum / n;
  }
  means.sort();
  return [quantile(means, 0.05)!, quantile(means, 0.95)!];
}
