/** One variant of a sweep: the main figures only, without keeping trades or curves. */
import { EquityStretches } from "../engine/equity.ts";
import type { TradeTally } from "../engine/tally.ts";
import { dailyEquity, dailyReturns, profitableYears, ruinDate } from "../figures/daily.ts";
import { deepestFall, MIN_YEARLY_DAYS, sharpeRatio } from "../figures/equity-figures.ts";
import { dailyIn, deepestFallIn } from "../figures/equity-sums.ts";
import { sessionsPerYearOf } from "../figures/sessions-per-year.ts";
import { ratio } from "../figures/statistics.ts";
import { tradeFigures } from "../figures/trade-figures.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { Backtest, type BacktestOptions, periodOf } from "./backtest.ts";
import type { RunResult } from "./result.ts";

/** Figures of a sweep's table, in the order of their columns. */
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
};

/** The same figures as `tradeFigures`, from sums kept on the way. */
function figuresOf({ trades, net, wins, grossProfit, grossLoss, commission, spread, slippage, financing, pathDependent }: TradeTally) {
  return {
    netProfit: net,
    trades,
    winRate: trades === 0 ? null : wins / trades,
    profitFactor: ratio(grossProfit, Math.abs(grossLoss)),
    averageTrade: trades === 0 ? null : net / trades,
    costs: commission + spread + slippage + financing,
    pathDependentTrades: pathDependent,
  };
}

/** Of the variant that runs: one after the other writes into the same memory. */
const stretches = new EquityStretches();

/**
 * Runs a variant and writes its figures to `out` from `at` on; an undefined figure is NaN. Answers its daily returns.
 * @param pace called ahead of every step of the run; answers how many bars it may take
 */
export function runVariant(options: BacktestOptions, out: Float64Array, at: number, pace = () => Number.POSITIVE_INFINITY): Float64Array {
  const { settings, feeds } = options;
  const { instrument } = feeds[0]!;
  const bars = periodOf(feeds[0]!);
  stretches.clear();
  const backtest = new Backtest({ ...options, isLean: true, record: stretches });
  while (backtest.barsDone < bars.length && !backtest.isOver) backtest.advance(backtest.barsDone + pace());
  const trades = backtest.tally
    ? figuresOf(backtest.tally)
    : tradeFigures(
        backtest.host.trades,
        feeds.map((feed) => feed.instrument),
      );
  // Several instruments have drawn a column together.
  const isJoint = feeds.length > 1;
  const drawdown = isJoint ? deepestFall(backtest.equity, settings.cash) : deepestFallIn(stretches, settings.cash, bars);
  const daily = isJoint ? dailyEquity(bars, backtest.equity, settings.cash) : dailyIn(stretches, settings.cash, bars);
  const returns = dailyReturns(daily.equity);
  const isShort = bars.length === 0 || (bars.closeTime[bars.length - 1]! - bars.time[0]!) / DAY_MS < MIN_YEARLY_DAYS;
  const yearly = isShort ? new Float64Array(0) : returns;
  const values: Partial<Record<SweepFigure, number | null>> = {
    netProfit: trades.netProfit,
    maxDrawdown: drawdown,
    // Whatever is aimed at, an account that was wiped out comes last: no other figure of it counts.
    ...(ruinDate(daily) === null
      ? {
          trades: trades.trades,
          winRate: trades.winRate,
          profitFactor: trades.profitFactor,
          averageTrade: trades.averageTrade,
          returnToDrawdown: ratio(trades.netProfit, drawdown),
          sharpe: sharpeRatio(yearly, settings.riskFree, sessionsPerYearOf(bars, instrument.calendar)),
          costs: trades.costs,
          pathDependentTrades: trades.pathDependentTrades,
          profitableYears: profitableYears(daily),
        }
      : {}),
  };
  SWEEP_FIGURES.forEach((figure, i) => {
    out[at + i] = values[figure] ?? Number.NaN;
  });
  return returns;
}

/** The same figures of a whole run; an undefined figure is NaN. */
export function sweepFigures({ figures, daily }: Pick<RunResult, "figures" | "daily">): Float64Array {
  const { netProfit, maxDrawdown } = figures;
  const values: Partial<Record<SweepFigure, number | null>> =
    ruinDate(daily) === null ? { ...figures, profitableYears: profitableYears(daily) } : { netProfit, maxDrawdown };
  return Float64Array.from(SWEEP_FIGURES, (figure) => values[figure] ?? Number.NaN);
}
