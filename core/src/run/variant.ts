/** One variant of a sweep: the main figures only, without keeping trades or curves. */
import { EquityStretches } from "../engine/equity.ts";
import type { Trade } from "../engine/orders.ts";
import type { TradeTotals } from "../engine/trade-totals.ts";
import { dailyEquity, dailyReturns, profitableYears, ruinDate } from "../figures/daily.ts";
import { drawdowns } from "../figures/drawdown.ts";
import { compoundGrowth, MIN_YEARLY_DAYS, sharpeRatio, sortinoRatio, ulcerIndex } from "../figures/equity-figures.ts";
import { type DeepestFalls, dailyIn, deepestFallsIn } from "../figures/equity-sums.ts";
import { sessionsPerYearOf } from "../figures/sessions-per-year.ts";
import { ratio, sampleDeviation } from "../figures/statistics.ts";
import { tradeFigures } from "../figures/trade-figures.ts";
import type { BarSeries } from "../market/bars.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { isStill } from "../still.ts";
import { Backtest, type BacktestOptions, periodOf } from "./backtest.ts";
import type { RunResult } from "./result.ts";

/** Figures of a sweep's table, in the order of their columns. Sweeps are kept by it: new ones come last. */
export const SWEEP_FIGURES = [
  "netProfit",
  "trades",
  "winRate",
  "profitFactor",
  "averageTrade",
  "maxDrawdown",
  "returnToDrawdown",
  "sharpe",
  "costs",
  "pathDependentTrades",
  "profitableYears",
  "cagr",
  "sortino",
  "volatility",
  "calmar",
  "martinRatio",
  "sqn",
  "averageTradeTicks",
  "averageTradeR",
  "payoffRatio",
  "longestLosingStreak",
  "exposure",
] as const;
export type SweepFigure = (typeof SWEEP_FIGURES)[number];

/** Which way each is better. */
export const SWEEP_SENSE: Readonly<Record<SweepFigure, "more" | "less" | "neither">> = {
  netProfit: "more",
  trades: "neither",
  winRate: "more",
  profitFactor: "more",
  averageTrade: "more",
  maxDrawdown: "less",
  returnToDrawdown: "more",
  sharpe: "more",
  costs: "less",
  pathDependentTrades: "less",
  profitableYears: "more",
  cagr: "more",
  sortino: "more",
  volatility: "less",
  calmar: "more",
  martinRatio: "more",
  sqn: "more",
  averageTradeTicks: "more",
  averageTradeR: "more",
  payoffRatio: "more",
  longestLosingStreak: "less",
  exposure: "neither",
};

/** The same figures as `tradeFigures`, from sums kept on the way. */
function figuresOf(totals: TradeTotals) {
  const { trades, net, wins, losses, grossProfit, grossLoss, commission, spread, slippage, financing, pathDependent, ticks } = totals;
  const { nets, rs } = totals;
  const results = rs.count === trades ? rs : nets;
  const { deviation } = results;
  return {
    netProfit: net,
    trades,
    winRate: trades === 0 ? null : wins / trades,
    profitFactor: ratio(grossProfit, Math.abs(grossLoss)),
    averageTrade: trades === 0 ? null : net / trades,
    costs: commission + spread + slippage + financing,
    pathDependentTrades: pathDependent,
    averageTradeTicks: trades === 0 ? null : ticks / trades,
    averageTradeR: rs.count === 0 ? null : rs.mean,
    payoffRatio: wins === 0 || losses === 0 ? null : grossProfit / wins / Math.abs(grossLoss / losses),
    longestLosingStreak: totals.longestLosingStreak,
    sqn: deviation === null || isStill(deviation, results.largest) ? null : (Math.sqrt(Math.min(trades, 100)) * results.mean) / deviation,
  };
}

function fallsOfColumn(equity: Float64Array, capital: number, { closeTime, time }: BarSeries): DeepestFalls {
  const { money, relative } = drawdowns(equity, capital, closeTime, time[0] ?? 0);
  return { money: money.size, share: relative.size };
}

/** Of the variant that runs: one after the other writes into the same memory. */
const stretches = new EquityStretches();

/**
 * Runs a variant and writes its figures to `out` from `at` on; an undefined figure is NaN. Answers its daily returns.
 * @param pace called ahead of every step of the run; answers how many bars it may take
 * @param onTrades is given its trades, where somebody wants them
 */
export function runVariant(
  options: BacktestOptions,
  out: Float64Array,
  at: number,
  pace = () => Number.POSITIVE_INFINITY,
  onTrades: ((trades: readonly Trade[]) => void) | null = null,
): Float64Array {
  const { settings, feeds } = options;
  const { instrument } = feeds[0]!;
  const bars = periodOf(feeds[0]!);
  stretches.clear();
  const backtest = new Backtest({ ...options, isLean: onTrades === null, record: stretches });
  while (backtest.barsDone < bars.length && !backtest.isOver) backtest.advance(backtest.barsDone + pace());
  const trades = backtest.totals
    ? figuresOf(backtest.totals)
    : tradeFigures(
        backtest.host.trades,
        feeds.map((feed) => feed.instrument),
      );
  onTrades?.(backtest.host.trades);
  // Several instruments have drawn a column together.
  const isJoint = feeds.length > 1;
  const fall = isJoint ? fallsOfColumn(backtest.equity, settings.cash, bars) : deepestFallsIn(stretches, settings.cash, bars);
  const daily = isJoint ? dailyEquity(bars, backtest.equity, settings.cash) : dailyIn(stretches, settings.cash, bars);
  const returns = dailyReturns(daily.equity);
  const { length } = bars;
  const days = length === 0 ? 0 : (bars.closeTime[length - 1]! - bars.time[0]!) / DAY_MS;
  const yearly = days < MIN_YEARLY_DAYS ? new Float64Array(0) : returns;
  const sessionsPerYear = sessionsPerYearOf(bars, instrument.calendar);
  const deviation = sampleDeviation(yearly);
  const cagr = compoundGrowth(settings.cash, daily.equity[daily.equity.length - 1]!, days);
  const ulcer = ulcerIndex(daily.equity);
  const { exposedBars } = backtest.simulation.counts;
  const values: Partial<Record<SweepFigure, number | null>> = {
    netProfit: trades.netProfit,
    maxDrawdown: fall.money,
    // Whatever is aimed at, an account that was wiped out comes last: no other figure of it counts.
    ...(ruinDate(daily) === null
      ? {
          trades: trades.trades,
          winRate: trades.winRate,
          profitFactor: trades.profitFactor,
          averageTrade: trades.averageTrade,
          returnToDrawdown: ratio(trades.netProfit, fall.money),
          sharpe: sharpeRatio(yearly, settings.riskFree, sessionsPerYear),
          costs: trades.costs,
          pathDependentTrades: trades.pathDependentTrades,
          profitableYears: profitableYears(daily),
          cagr,
          sortino: sortinoRatio(yearly, settings.riskFree, sessionsPerYear),
          volatility: deviation === null ? null : deviation * Math.sqrt(sessionsPerYear),
          calmar: ratio(cagr, fall.share),
          martinRatio: ratio(cagr === null ? null : cagr - settings.riskFree, ulcer),
          sqn: trades.sqn,
          averageTradeTicks: trades.averageTradeTicks,
          averageTradeR: trades.averageTradeR,
          payoffRatio: trades.payoffRatio,
          longestLosingStreak: trades.longestLosingStreak,
          exposure: length > 0 ? exposedBars / length : null,
        }
      : {}),
  };
  SWEEP_FIGURES.forEach((figure, i) => {
    out[at + i] = values[figure] ?? Number.NaN;
  });
  return returns;
}

/**
 * Figures of some variants as they were kept when there were fewer of them, widened; what was not worked out then is NaN.
 * @param rows variants times stretches: each is tried, since a search that ended early has more rows than variants
 */
export function widened(figures: Float64Array, ...rows: readonly number[]): Float64Array {
  const width = SWEEP_FIGURES.length;
  if (figures.length === 0 || rows.some((count) => figures.length === count * width)) return figures;
  const before = FEWER_FIGURES.find((count) => rows.some((tried) => figures.length === tried * count));
  if (before === undefined) return figures;
  return widenedFrom(figures, before);
}

function widenedFrom(figures: Float64Array, before: number): Float64Array {
  const width = SWEEP_FIGURES.length;
  const rows = figures.length / before;
  const out = new Float64Array(rows * width).fill(Number.NaN);
  for (let row = 0; row < rows; row++) out.set(figures.subarray(row * before, (row + 1) * before), row * width);
  return out;
}

/** How many there have been. */
const FEWER_FIGURES = [11];

/** The same figures of a whole run; an undefined figure is NaN. */
export function sweepFigures({ figures, daily }: Pick<RunResult, "figures" | "daily">): Float64Array {
  const { netProfit, maxDrawdown } = figures;
  const values: Partial<Record<SweepFigure, number | null>> =
    ruinDate(daily) === null ? { ...figures, profitableYears: profitableYears(daily) } : { netProfit, maxDrawdown };
  return Float64Array.from(SWEEP_FIGURES, (figure) => values[figure] ?? Number.NaN);
}
