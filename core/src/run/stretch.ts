/**
 * The figures of a stretch of a run, as if it were a run of its own that begins with the equity before it. Trades belong
 * to the stretch in which they close.
 */
import type { Trade } from "../engine/orders.ts";
import { type EngineSettings, resolveSettings } from "../engine/settings.ts";
import { heldCounts, positionColumns } from "../figures/position-columns.ts";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { assembleResult, type RunResult } from "./result.ts";

/** What of a run is needed; bars and equity of its first instrument. */
export interface StretchSource {
  readonly bars: BarSeries;
  readonly equity: Float64Array;
  readonly trades: readonly Trade[];
  readonly instruments: readonly Instrument[];
  readonly settings: Pick<EngineSettings, "cash" | "riskFree"> & Partial<Pick<EngineSettings, "costs" | "margin">>;
}

export type StretchResult = Pick<
  RunResult,
  "trades" | "equity" | "daily" | "figures" | "long" | "short" | "benchmarkFigures" | "months" | "years" | "warnings"
>;

/** Whether a trade closed on a bar of [from, to]. */
function closesWithin(trade: Trade, { time, closeTime }: BarSeries, from: number, to: number): boolean {
  return trade.exitTime >= time[from]! && trade.exitTime <= closeTime[to]! && (from === 0 || trade.exitTime > closeTime[from - 1]!);
}

/**
 * @param from first bar, `to` last bar, both included and inside the equity.
 */
export function stretchResult({ bars, equity, trades, instruments, settings }: StretchSource, from: number, to: number): StretchResult {
  const cash = from === 0 ? settings.cash : equity[from - 1]!;
  const own = instruments[0]!;
  const cut = sliceSeries(bars, from, to + 1);
  const closed = trades.filter((trade) => closesWithin(trade, bars, from, to));
  // Bars of other instruments have numbers of their own; nothing here reads them.
  const within = closed.map((trade) => ({ ...trade, entryBar: trade.entryBar - from, exitBar: trade.exitBar - from }));
  // Of all trades: one that is open at the end of the stretch was held in it too.
  const { value, grossUnits, exposed } = positionColumns(trades, bars, instruments);
  const held = {
    value: value.subarray(from, to + 1),
    grossUnits: grossUnits.subarray(from, to + 1),
    exposed: exposed.subarray(from, to + 1),
  };
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
    counts: { ...heldCounts(held), finerMissing: 0 },
    plots: [],
  });
  const { daily, figures, long, short, benchmarkFigures, months, years, warnings } = result;
  return {
    trades: closed,
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
