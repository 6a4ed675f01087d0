/** Buy and hold of the run's instrument with the same cash: fractional units, no costs, from the first open to the last close. */

import type { BarSeries } from "../market/bars.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { type Daily, dailyEquity, dailyReturns } from "./daily.ts";
import { type Drawdowns, drawdowns } from "./drawdown.ts";
import { compoundGrowth, type EquityContext, MIN_YEARLY_DAYS, sharpeRatio } from "./equity-figures.ts";
import { isNoise, mean, ratio } from "./statistics.ts";

export interface BenchmarkFigures {
  readonly netProfit: number;
  readonly totalReturn: number | null;
  readonly cagr: number | null;
  readonly sharpe: number | null;
  readonly maxDrawdown: number;
  readonly maxDrawdownShare: number;
}

/** How the plan's daily excess returns move with the benchmark's (ordinary least squares). */
export interface MarketFigures {
  readonly beta: number | null;
  /** A year. */
  readonly alpha: number | null;
  readonly correlation: number | null;
  readonly rSquared: number | null;
}

/** Daily values of the benchmark. They are prices: returns do not depend on how many units the cash buys. */
export function benchmarkDaily({ bars }: EquityContext): Daily {
  return dailyEquity(bars, bars.close, bars.length > 0 ? bars.open[0]! : 1);
}

/** Drawdowns of the closes from the first open; many runs on the same bars share them. */
const knownDrawdowns = new WeakMap<BarSeries, Drawdowns>();

function priceDrawdowns(bars: BarSeries): Drawdowns {
  const known = knownDrawdowns.get(bars);
  if (known) return known;
  const made = drawdowns(bars.close, bars.open[0]!, bars.closeTime, bars.time[0]!);
  knownDrawdowns.set(bars, made);
  return made;
}

/** The benchmark's equity at a close is cash / first open x close, so everything follows from the closes. */
export function benchmarkFigures(daily: Daily, context: EquityContext): BenchmarkFigures {
  const { bars, capital, riskFree, sessionsPerYear } = context;
  const n = bars.length;
  if (n === 0) return { netProfit: 0, totalReturn: null, cagr: null, sharpe: null, maxDrawdown: 0, maxDrawdownShare: 0 };
  const first = bars.open[0]!;
  const units = capital / first;
  const end = units * bars.close[n - 1]!;
  const down = priceDrawdowns(bars);
  const days = (bars.closeTime[n - 1]! - bars.time[0]!) / DAY_MS;
  return {
    netProfit: end - capital,
    totalReturn: end / capital - 1,
    cagr: compoundGrowth(capital, end, days),
    sharpe: days < MIN_YEARLY_DAYS ? null : sharpeRatio(dailyReturns(daily.equity), riskFree, sessionsPerYear),
    maxDrawdown: down.money.size * units,
    maxDrawdownShare: down.relative.size,
  };
}

export function marketFigures(own: Float64Array, market: Float64Array, riskFree: number, sessionsPerYear: number): MarketFigures {
  const none: MarketFigures = { beta: null, alpha: null, correlation: null, rSquared: null };
  const [meanOwn, meanMarket] = [mean(own), mean(market)];
  if (own.length < 2 || own.length !== market.length || meanOwn === null || meanMarket === null) return none;
  let [covariance, varianceOwn, varianceMarket] = [0, 0, 0];
  for (let d = 0; d < own.length; d++) {
    const [a, b] = [own[d]! - meanOwn, market[d]! - meanMarket];
    covariance += a * b;
    varianceOwn += a * a;
    varianceMarket += b * b;
  }
  const n = own.length;
  if (isNoise(Math.sqrt(varianceMarket / n), market) || isNoise(Math.sqrt(varianceOwn / n), own)) return none;
  const beta = ratio(covariance, varianceMarket);
  if (beta === null) return none;
  const target = riskFree / sessionsPerYear;
  const correlation = varianceOwn > 0 ? covariance / Math.sqrt(varianceOwn * varianceMarket) : null;
  return {
    beta,
    alpha: (meanOwn - target - beta * (meanMarket - target)) * sessionsPerYear,
    correlation,
    rSquared: correlation === null ? null : correlation ** 2,
  };
}
