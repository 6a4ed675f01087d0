/** Figures of an equity curve. Shares and rates are fractions (0.12 is 12 %); what is undefined is null. */
import type { EquityStretches } from "../engine/equity.ts";
import type { BarSeries } from "../market/bars.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { type Daily, dailyReturns, ruinDate } from "./daily.ts";
import { drawdowns, drawdownsIn } from "./drawdown.ts";
import { isNoise, mean, quantile, ratio, sampleDeviation } from "./statistics.ts";

export interface ReturnFigures {
  readonly totalReturn: number | null;
  readonly cagr: number | null;
  readonly volatility: number | null;
  readonly sharpe: number | null;
  readonly sortino: number | null;
  readonly calmar: number | null;
  readonly maxDrawdown: number;
  readonly maxDrawdownShare: number | null;
}

export interface EquityFigures extends ReturnFigures {
  readonly maxDrawdownStart: number | null;
  readonly maxDrawdownLow: number | null;
  readonly maxDrawdownRecovery: number | null;
  readonly maxDrawdownShareStart: number | null;
  readonly maxDrawdownShareLow: number | null;
  readonly maxDrawdownShareRecovery: number | null;
  readonly longestDrawdownDays: number;
  readonly closedTradeDrawdown: number;
  readonly returnToDrawdown: number | null;
  readonly ulcerIndex: number | null;
  readonly martinRatio: number | null;
  readonly valueAtRisk: number | null;
  readonly expectedShortfall: number | null;
  readonly days: number;
}

export interface EquityContext {
  readonly bars: BarSeries;
  /** Starting capital, account currency. */
  readonly capital: number;
  /** Yearly risk-free rate as a fraction. */
  readonly riskFree: number;
  readonly sessionsPerYear: number;
  /** In which stretches equity came, where that is known. */
  readonly stretches?: EquityStretches | null;
}

/** Nothing is made yearly from fewer calendar days. */
export const MIN_YEARLY_DAYS = 30;

/** Mean over deviation of excess returns, a year (Sharpe 1994). Null under two returns or without variation. */
export function sharpeRatio(returns: Float64Array, riskFree: number, sessionsPerYear: number): number | null {
  const deviation = sampleDeviation(returns);
  const average = mean(returns);
  if (deviation === null || average === null || isNoise(deviation, returns)) return null;
  return ((average - riskFree / sessionsPerYear) / deviation) * Math.sqrt(sessionsPerYear);
}

/** Mean excess return over its downside deviation with target rf, a year (Sortino & Price 1994). */
export function sortinoRatio(returns: Float64Array, riskFree: number, sessionsPerYear: number): number | null {
  if (returns.length < 2) return null;
  const target = riskFree / sessionsPerYear;
  let squares = 0;
  let sum = 0;
  for (const r of returns) {
    const excess = r - target;
    sum += excess;
    if (excess < 0) squares += excess * excess;
  }
  if (isNoise(Math.sqrt(squares / returns.length), returns)) return null;
  return (sum / returns.length / Math.sqrt(squares / returns.length)) * Math.sqrt(sessionsPerYear);
}

/** Growth a year from calendar days; null under 30 of them or once the money is gone. */
export function compoundGrowth(start: number, end: number, days: number): number | null {
  return days >= MIN_YEARLY_DAYS && end > 0 && start > 0 ? (end / start) ** (365.25 / days) - 1 : null;
}

/** sqrt(mean(drawdown share^2)) over daily equity (Martin & McCann 1989). */
export function ulcerIndex(daily: Float64Array): number | null {
  if (daily.length < 2) return null;
  let peak = daily[0]!;
  let squares = 0;
  for (const value of daily) {
    peak = Math.max(peak, value);
    squares += ((peak - value) / peak) ** 2;
  }
  return Math.sqrt(squares / daily.length);
}

export function equityFigures(equity: Float64Array, daily: Daily, balances: Float64Array, context: EquityContext): EquityFigures {
  const { bars, capital, riskFree, sessionsPerYear } = context;
  const n = equity.length;
  const startTime = n > 0 ? bars.time[0]! : 0;
  const time = bars.closeTime;
  const days = n > 0 ? (time[n - 1]! - startTime) / DAY_MS : 0;
  const end = n > 0 ? equity[n - 1]! : capital;
  const { stretches } = context;
  const down = stretches ? drawdownsIn(stretches, equity, capital, bars) : drawdowns(equity, capital, time, startTime);
  const timeAt = (index: number | null): number | null => (index === null ? null : index < 0 ? startTime : time[index]!);
  const stamped = (low: number, index: number | null): number | null => (low < 0 ? null : timeAt(index));
  const isRuined = ruinDate(daily) !== null;
  const returns = dailyReturns(daily.equity);
  // What rests on returns is undefined once the account was wiped out, and nothing is made yearly from a few days.
  const yearly = isRuined || days < MIN_YEARLY_DAYS ? new Float64Array(0) : returns;
  const deviation = sampleDeviation(yearly);
  const cagr = isRuined ? null : compoundGrowth(capital, end, days);
  const ulcer = isRuined ? null : ulcerIndex(daily.equity);
  const sorted = returns.slice().sort();
  const valueAtRisk = isRuined || returns.length < 2 ? null : quantile(sorted, 0.05);
  const tail = valueAtRisk === null ? [] : Array.from(sorted).filter((r) => r <= valueAtRisk);
  return {
    totalReturn: n > 0 ? end / capital - 1 : null,
    cagr,
    volatility: deviation === null ? null : deviation * Math.sqrt(sessionsPerYear),
    sharpe: sharpeRatio(yearly, riskFree, sessionsPerYear),
    sortino: sortinoRatio(yearly, riskFree, sessionsPerYear),
    calmar: ratio(cagr, down.relative.size),
    maxDrawdown: down.money.size,
    maxDrawdownShare: isRuined ? null : down.relative.size,
    maxDrawdownStart: stamped(down.money.low, down.money.start),
    maxDrawdownLow: stamped(down.money.low, down.money.low),
    maxDrawdownRecovery: stamped(down.money.low, down.money.recovery),
    maxDrawdownShareStart: stamped(down.relative.low, down.relative.start),
    maxDrawdownShareLow: stamped(down.relative.low, down.relative.low),
    maxDrawdownShareRecovery: stamped(down.relative.low, down.relative.recovery),
    longestDrawdownDays: down.longest.end < 0 ? 0 : (time[down.longest.end]! - timeAt(down.longest.start)!) / DAY_MS,
    closedTradeDrawdown: deepestFall(balances, capital),
    returnToDrawdown: ratio(end - capital, down.money.size),
    ulcerIndex: ulcer,
    martinRatio: ratio(cagr === null ? null : cagr - riskFree, ulcer),
    valueAtRisk,
    expectedShortfall: mean(tail),
    days,
  };
}

/** The deepest fall in money of a column from its peak so far, the capital being the first peak. */
export function deepestFall(values: Float64Array, capital: number): number {
  let peak = capital;
  let deepest = 0;
  const n = values.length;
  for (let i = 0; i < n; i++) {
    const fall = peak - values[i]!;
    if (fall < 0) peak = values[i]!;
    else if (fall > deepest) deepest = fall;
  }
  return deepest;
}
