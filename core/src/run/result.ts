/** Everything a run reports, put together from what happened in it. */
import type { LimitHit } from "../engine/account-limits.ts";
import { firstAtOrAfter } from "../engine/ascending.ts";
import type { EquityStretches } from "../engine/equity.ts";
import type { HeldCounts } from "../engine/feed.ts";
import type { Fill, LogLine, Order, Trade } from "../engine/orders.ts";
import { costsIn, type EngineSettings } from "../engine/settings.ts";
import type { SimulationCounts } from "../engine/simulation.ts";
import type { PlanFailure } from "../errors.ts";
import { type BenchmarkFigures, benchmarkDaily, benchmarkFigures, type MarketFigures, marketFigures } from "../figures/benchmark.ts";
import { type Daily, dailyEquity, dailyReturns, ruinDate } from "../figures/daily.ts";
import { type EquityFigures, equityFigures, MIN_YEARLY_DAYS } from "../figures/equity-figures.ts";
import { type Period, periods } from "../figures/periods.ts";
import { heldCounts, positionColumns } from "../figures/position-columns.ts";
import { refusals } from "../figures/refusals.ts";
import { sessionsPerYearOf } from "../figures/sessions-per-year.ts";
import { mean } from "../figures/statistics.ts";
import { stopDistancesOf } from "../figures/stop-distances.ts";
import { type TradeFigures, tradeFigures } from "../figures/trade-figures.ts";
import { type Warning, type WarningFacts, warningsOf } from "../figures/warnings.ts";
import type { ChartNote, OwnFigure, PlotColumn } from "../language/host.ts";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";

export type RunStatus = "complete" | "partial" | "failed" | "ruined";

export interface RunFigures extends TradeFigures, EquityFigures, MarketFigures {
  /** Share of bars with an open position. */
  readonly exposure: number | null;
  /** Sessions a year that figures are made yearly with: the calendar's, or counted where it was only assumed. */
  readonly sessionsPerYear: number;
  readonly averagePositionValue: number | null;
  readonly peakPositionValue: number;
  /** Most margin used at a bar close, account currency; null where the account has none. */
  readonly peakMargin: number | null;
  /** Value of all entries and exits a year over the mean of daily equity; null once the account was wiped out. */
  readonly turnover: number | null;
  /** Share of the months with a trade or a change of equity in which equity rose. */
  readonly monthsWon: number | null;
}

/** What happened in a run. */
export interface RunFacts {
  readonly status: RunStatus;
  /** Close at which equity was first 0 or less, UTC milliseconds; null where it never was. */
  readonly ruinMs?: number | null;
  /** Limits of the account that were hit, in order of time. */
  readonly limitHits?: readonly LimitHit[];
  readonly failure: PlanFailure | null;
  /** The run's whole series; `barsDone` of it were simulated. */
  readonly bars: BarSeries;
  readonly barsDone: number;
  /** First bar on which handlers could run. */
  readonly firstBar: number;
  /** As in `WarningFacts`. */
  readonly neverFull?: WarningFacts["neverFull"];
  readonly instrument: Instrument;
  /** All instruments of the run, the plan's own first. */
  readonly instruments: readonly Instrument[];
  readonly settings: EngineSettings;
  /** Equity at the close of each bar that was done. */
  readonly equity: Float64Array;
  /** In which stretches it came, where that is known. */
  readonly stretches?: EquityStretches | null;
  readonly orders: readonly Order[];
  readonly fills: readonly Fill[];
  readonly trades: readonly Trade[];
  readonly log: readonly LogLine[];
  readonly notes: readonly ChartNote[];
  readonly ownFigures: readonly OwnFigure[];
  readonly droppedLogLines: number;
  /** What was counted on the way; null for a run put together from its trades, whose counts are worked out from them. */
  readonly counts: SimulationCounts | null;
  readonly plots: readonly PlotColumn[];
}

export interface RunResult {
  readonly status: RunStatus;
  readonly failure: PlanFailure | null;
  readonly barsDone: number;
  readonly firstBar: number;
  readonly orders: readonly Order[];
  readonly fills: readonly Fill[];
  readonly trades: readonly Trade[];
  readonly log: readonly LogLine[];
  readonly notes: readonly ChartNote[];
  /** What the plan worked out itself. */
  readonly ownFigures: readonly OwnFigure[];
  readonly equity: Float64Array;
  readonly daily: Daily;
  readonly figures: RunFigures;
  readonly long: TradeFigures;
  readonly short: TradeFigures;
  readonly benchmarkFigures: BenchmarkFigures;
  readonly months: readonly Period[];
  readonly years: readonly Period[];
  readonly warnings: readonly Warning[];
  readonly plots: readonly PlotColumn[];
}

export function assembleResult(facts: RunFacts): RunResult {
  const {
    instrument,
    settings,
    trades,
    equity,
    status,
    failure,
    barsDone,
    firstBar,
    orders,
    fills,
    log,
    notes,
    ownFigures,
    plots,
    ruinMs = null,
    limitHits = [],
  } = facts;
  const bars = barsDone === facts.bars.length ? facts.bars : sliceSeries(facts.bars, 0, barsDone);
  const counts = facts.counts ?? { ...heldCounts(positionColumns(trades, bars, facts.instruments)), finerMissing: 0 };
  const sessionsPerYear = sessionsPerYearOf(bars, instrument.calendar);
  const context = { bars, capital: settings.cash, riskFree: settings.riskFree, sessionsPerYear, stretches: facts.stretches ?? null };
  const daily = dailyEquity(bars, equity, settings.cash);
  const benchmark = benchmarkDaily(context);
  const table = tradeFigures(trades, facts.instruments);
  const exitDates = trades.map((trade) => sessionDateOf(trade, facts));
  const months = periods(daily, trades, exitDates, "month");
  const ofEquity = equityFigures(equity, daily, balancesOf(trades, settings.cash), context);
  const figures: RunFigures = {
    ...table,
    ...ofEquity,
    turnover: turnoverOf(table.tradedValue, daily, ofEquity.days),
    monthsWon: monthsWonOf(months),
    ...marketFigures(dailyReturns(daily.equity), dailyReturns(benchmark.equity), settings.riskFree, context.sessionsPerYear),
    sessionsPerYear,
    exposure: barsDone > 0 ? counts.exposedBars / barsDone : null,
    averagePositionValue: barsDone > 0 ? counts.positionValueSum / barsDone : null,
    peakPositionValue: counts.positionValuePeak,
    peakMargin: peakMarginOf(settings.margin, counts),
  };
  const sideFigures = (side: 1 | -1): TradeFigures =>
    tradeFigures(
      trades.filter((trade) => trade.side === side),
      facts.instruments,
    );
  return {
    status,
    failure,
    barsDone,
    firstBar,
    orders,
    fills,
    trades,
    log,
    notes,
    ownFigures,
    equity,
    daily,
    figures,
    long: sideFigures(1),
    short: sideFigures(-1),
    benchmarkFigures: benchmarkFigures(benchmark, context),
    months,
    years: periods(daily, trades, exitDates, "year"),
    warnings: warningsOf({
      figures: table,
      trades,
      costsAreZero:
        bars.spread === undefined &&
        facts.instruments.every(({ symbol }) => Object.values(costsIn(settings, symbol)).every((cost) => cost === 0)),
      partial: status !== "complete" && status !== "ruined",
      ruin: ruinMs === null ? ruinDate(daily) : dateOf(ruinMs, bars),
      limits: limitHits.map(({ limit, act, timeMs }) => ({ limit, act, date: dateOf(timeMs, bars) })),
      refused: refusals(orders, log),
      stops: (settings.currency || instrument.currency) === instrument.currency ? stopDistancesOf(trades, bars, instrument) : null,
      neverFull: facts.neverFull ?? [],
      droppedLogLines: facts.droppedLogLines,
      finerMissing: counts.finerMissing,
    }),
    plots,
  };
}

function peakMarginOf(margin: EngineSettings["margin"], { unitsPeak, positionValuePeak }: HeldCounts): number | null {
  if (!margin) return null;
  return margin.by === "unit" ? unitsPeak * margin.value : positionValuePeak / margin.value;
}

function turnoverOf(tradedValue: number, daily: Daily, days: number): number | null {
  const equity = mean(Array.from(daily.equity));
  return ruinDate(daily) !== null || equity === null || days < MIN_YEARLY_DAYS ? null : ((tradedValue / equity) * 365.25) / days;
}

function monthsWonOf(months: readonly Period[]): number | null {
  const moved = months.filter(({ netProfit, trades }) => netProfit !== 0 || trades > 0);
  return moved.length === 0 ? null : moved.filter(({ netProfit }) => netProfit > 0).length / moved.length;
}

/** Session date of the bar that closes at a time. */
function dateOf(closeMs: number, bars: BarSeries): string {
  const i = Math.min(bars.length - 1, firstAtOrAfter(bars.closeTime, closeMs, bars.length));
  return bars.sessions.dates[bars.session[i]!]!;
}

/** Session date on which a trade ended, in the sessions of the first instrument. */
function sessionDateOf(trade: Trade, { bars, instrument }: RunFacts): string {
  // The bar on which a run failed counts as not done, but a trade may have ended on it. Bars of other instruments have numbers of their own.
  const bar =
    trade.symbol === instrument.symbol ? trade.exitBar : Math.max(0, firstAtOrAfter(bars.time, trade.exitTime + 1, bars.length) - 1);
  return bars.sessions.dates[bars.session[bar]!]!;
}

/** Balance after each closed trade. */
function balancesOf(trades: readonly Trade[], capital: number): Float64Array {
  const balances = new Float64Array(trades.length);
  let balance = capital;
  trades.forEach((trade, i) => {
    balance += trade.net;
    balances[i] = balance;
  });
  return balances;
}
