/**
 * The figures of a stretch of a run, as if it were a run of its own that begins with the equity before it. Trades belong
 * to the stretch in which they close.
 */
import type { Trade } from "../engine/orders.ts";
import { type EngineSettings, resolveSettings } from "../engine/settings.ts";
import { type PositionColumns, positionColumns } from "../figures/position-columns.ts";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { assembleResult, type RunResult } from "./result.ts";

/** What of a run is needed; bars and equity of its first instrument. */
export interface StretchSource {
  readonly bars: BarSeries;
  readonly equity: Float64Array;
  readonly trades: readonly Trade[];
  readonly instruments: readonly Instrument[];
  readonly settings: Pick<EngineSettings, "cash" | "riskFree"> & Partial<Pick<EngineSettings, "costs">>;
}

export interface StretchResult
  extends Pick<
    RunResult,
    "trades" | "equity" | "daily" | "figures" | "long" | "short" | "benchmarkFigures" | "months" | "years" | "warnings"
  > {
  /** First and last bar, both included. */
  readonly from: number;
  readonly to: number;
  readonly position: PositionColumns;
}

/** Whether a trade closed on a bar of [from, to]. */
export function closesWithin(trade: Trade, { time, closeTime }: BarSeries, from: number, to: number): boolean {
  return trade.exitTime >= time[from]! && trade.exitTime <= closeTime[to]! && (from === 0 || trade.exitTime > closeTime[from - 1]!);
}

/**
 * @param from first bar, `to` last bar, both included and inside the equity.
 */
export function stretchResult({ bars, equity, trades, instruments, settings }: StretchSource, from: number, to: number): StretchResult {
  const cash = from === 0 ? settings.cash : equity[from - 1]!;
  const own = instruments[0]!;
  const cut = sliceSeries(bars, from, to + 1);
  // Bars of other instruments have numbers of their own; nothing here reads them.
  const within = trades
    .filter((trade) => closesWithin(trade, bars, from, to))
    .map((trade) => ({ ...trade, entryBar: trade.entryBar - from, exitBar: trade.exitBar - from }));
  const whole = positionColumns(trades, bars, instruments);
  const position = { units: whole.units.subarray(from, to + 1), value: whole.value.subarray(from, to + 1) };
  const result = assembleResult({
    status: "complete",
    failure: null,
    bars: cut,
    barsDone: cut.length,
    firstBar: 0,
    instrument: own,
    instruments,
    settings: resolveSettings({ ...settings, cash }),
    equity: equity.subarray(from, to + 1),
    orders: [],
    fills: [],
    trades: within,
    log: [],
    notes: [],
    ownFigures: [],
    droppedLogLines: 0,
    counts: { ...exposureOf(position), finerMissing: 0 },
    plots: [],
  });
  const { daily, figures, long, short, benchmarkFigures, months, years, warnings } = result;
  const back = within.map((trade) => ({ ...trade, entryBar: trade.entryBar + from, exitBar: trade.exitBar + from }));
  return {
    from,
    to,
    position,
    trades: back,
    equity: result.equity,
    daily,
    figures,
    long,
    short,
    benchmarkFigures,
    months,
    years,
    warnings,
  };
}

function exposureOf({ units, value }: PositionColumns) {
  let [exposedBars, positionValueSum, positionValuePeak] = [0, 0, 0];
  for (let i = 0; i < units.length; i++) {
    if (value[i]! > 0) exposedBars++;
    positionValueSum += value[i]!;
    positionValuePeak = Math.max(positionValuePeak, value[i]!);
  }
  return { exposedBars, positionValueSum, positionValuePeak };
}
