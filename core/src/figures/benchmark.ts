/** Buy and hold of the run's instrument with the same cash: fractional units, no costs, from the first open to the last close. */

import { DAY_MS } from "../market/timeframe.ts";
import { dailyEquity, dailyReturns } from "./daily.ts";
import { drawdowns } from "./drawdown.ts";
import { compoundGrowth, type EquityContext, sharpeRatio } from "./equity-figures.ts";
import { mean, ratio } from "./statistics.ts";

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

export function benchmarkEquity({ bars, capital }: EquityContext): Float64Array {
  const values = new Float64Array(bars.length);
  const units = bars.length > 0 ? capital / bars.open[0]! : 0;
  for (let i = 0; i < values.length; i++) values[i] = units * bars.close[i]!;
  return values;
}

export function benchmarkFigures(equity: Float64Array, context: EquityContext): BenchmarkFigures {
  const { bars, capital, riskFree, sessionsPerYear } = context;
  const n = equity.length;
  const end = n > 0 ? equity[n - 1]! : capital;
  const start = n > 0 ? bars.time[0]! : 0;
  const down = drawdowns(equity, capital, bars.closeTime, start);
  const days = n > 0 ? (bars.closeTime[n - 1]! - start) / DAY_MS : 0;
  return {
    netProfit: end - capital,
    totalReturn: n > 0 ? end / capital - 1 : null,
    cagr: compoundGrowth(capital, end, days),
    sharpe: sharpeRatio(dailyReturns(dailyEquity(bars, equity, capital).equity), riskFree, sessionsPerYear),
    maxDrawdown: down.money.size,
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
