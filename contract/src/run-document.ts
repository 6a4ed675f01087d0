/** A run as one JSON document. Its schema is published in docs/run-document.schema.json; undefined figures are null. */
import type { EngineSettings, InputSpec, InputValues, Instrument, RunResult, Slip } from "@plan-tester/core";
import type { RunEvidence } from "./api.ts";

export interface DocumentParts {
  readonly title: string;
  readonly inputSpecs: readonly InputSpec[];
  readonly inputs: InputValues;
  readonly result: Omit<RunResult, "figures" | "long" | "short"> & Pick<RunEvidence, "figures" | "long" | "short">;
  readonly resultHash: string;
  readonly elapsedMs: number;
  /** The bars it ran on; times in UTC milliseconds. */
  readonly bars: { readonly count: number; readonly timeframe: string; readonly firstMs: number; readonly lastMs: number };
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  readonly fingerprint: string;
  readonly dataHash: string;
  readonly notices: readonly string[];
  readonly slips: readonly Slip[];
}

/** JSON has no NaN and no Infinity. */
const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
const iso = (ms: number | null): string | null => (ms === null || !Number.isFinite(ms) ? null : new Date(ms).toISOString());
const sideWord = (side: 1 | -1): "buy" | "sell" => (side > 0 ? "buy" : "sell");

export function runDocument(parts: DocumentParts) {
  const { title, inputSpecs, inputs, result, resultHash, elapsedMs, bars, instrument, settings, fingerprint, dataHash, notices, slips } =
    parts;
  return {
    version: 1 as const,
    status: result.status,
    failure: result.failure,
    plan: { title, inputs: inputSpecs },
    inputs,
    settings: { symbol: instrument.symbol, timeframe: bars.timeframe, ...settings },
    fingerprint,
    resultHash,
    dataHash,
    elapsedMs: Math.round(elapsedMs * 1000) / 1000,
    bars: {
      count: bars.count,
      done: result.barsDone,
      firstHandled: result.firstBar,
      first: iso(bars.firstMs),
      last: iso(bars.lastMs),
    },
    orders: result.orders.map((order) => ({
      id: order.id,
      side: sideWord(order.side),
      kind: order.kind,
      intent: order.intent,
      quantity: finite(order.quantity),
      price: finite(order.price),
      limitPrice: finite(order.limitPrice),
      stopLoss: order.stopLoss,
      target: order.target,
      trail: order.moves?.trail ?? null,
      locks: order.moves?.locks ?? [],
      timeLimit: order.moves?.timeLimit ?? null,
      tag: order.tag,
      group: order.group,
      line: order.line,
      state: order.state,
      note: order.note,
      submittedBar: order.submittedBar,
      submittedTime: iso(order.submittedTime),
      fillPrice: finite(order.fillPrice),
      fillBar: order.fillBar < 0 ? null : order.fillBar,
      fillTime: iso(order.fillTime),
    })),
    fills: result.fills.map((fill) => ({ ...fill, side: sideWord(fill.side), time: iso(fill.timeMs) })),
    trades: result.trades.map((trade) => ({
      ...trade,
      side: trade.side > 0 ? "long" : "short",
      entryTime: iso(trade.entryTime),
      exitTime: iso(trade.exitTime),
    })),
    equity: Array.from(result.equity),
    daily: { dates: result.daily.dates, equity: Array.from(result.daily.equity) },
    figures: result.figures,
    long: result.long,
    short: result.short,
    benchmark: result.benchmarkFigures,
    months: result.months,
    years: result.years,
    plots: result.plots.map(({ label, pane, shift, values }) => ({ label, pane, shift, values: Array.from(values, finite) })),
    ownFigures: result.ownFigures.map((figure) => ({ ...figure, value: finite(figure.value) })),
    notes: result.notes.map((note) => ({ ...note, time: iso(note.timeMs) })),
    log: result.log.map((line) => ({ ...line, time: iso(line.timeMs) })),
    warnings: result.warnings,
    slips,
    notices,
  };
}

export type RunDocument = ReturnType<typeof runDocument>;
