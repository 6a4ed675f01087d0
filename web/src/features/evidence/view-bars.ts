/** A run's trades, columns and strips on bars of another timeframe, for looking only: each at the bar that holds its time. */
import type { RunEvidence } from "@plan-tester/contract";
import { type BarSeries, type ChartNote, lowerBound, type Order, type Trade } from "@plan-tester/core";

export interface ViewBars {
  readonly bars: BarSeries;
  /** The shown bar of a bar of the run. */
  readonly toView: (barIndex: number) => number;
  /** The last bar of the run that is completed at the close of a shown bar; -1 before the first. */
  readonly toRun: (viewIndex: number) => number;
}

export const sameBars = (bars: BarSeries): ViewBars => ({ bars, toView: (i) => i, toRun: (i) => i });

export function viewBars(run: BarSeries, shown: BarSeries): ViewBars {
  return {
    bars: shown,
    toView: (i) => Math.min(shown.length - 1, lowerBound(shown.closeTime, run.closeTime[Math.max(0, Math.min(run.length - 1, i))]!)),
    toRun: (i) => lowerBound(run.closeTime, shown.closeTime[i]! + 1) - 1,
  };
}

export function viewTrades(trades: readonly Trade[], { bars, toView }: ViewBars): Trade[] {
  const at = (ms: number): number => Math.min(bars.length - 1, lowerBound(bars.closeTime, ms + 1));
  return trades.map((trade) => ({
    ...trade,
    entryBar: at(trade.entryTime),
    exitBar: at(trade.exitTime),
    rails: trade.rails.map((rail) => ({ ...rail, barIndex: toView(rail.barIndex) })),
  }));
}

export const viewNotes = (notes: RunEvidence["notes"], { toView }: ViewBars): ChartNote[] =>
  notes.map((note) => ({ ...note, barIndex: toView(note.barIndex) }));

export const viewOrders = (orders: readonly Order[], { toView }: ViewBars): Order[] =>
  orders.map((order) => ({ ...order, submittedBar: toView(order.submittedBar), endBar: order.endBar < 0 ? -1 : toView(order.endBar) }));

export function viewColumn(values: Float64Array, { bars, toRun }: ViewBars): Float64Array {
  return Float64Array.from({ length: bars.length }, (_none, i) => values[toRun(i)] ?? Number.NaN);
}

/** Of several bars of the run in one shown bar the highest value: a yes outweighs a no. */
export function viewStrip(values: Uint8Array, { bars, toRun }: ViewBars): Uint8Array {
  const out = new Uint8Array(bars.length);
  let before = -1;
  for (let i = 0; i < bars.length; i++) {
    const last = toRun(i);
    let most = values[last] ?? 0;
    for (let k = before + 1; k < last; k++) if (values[k]! > most) most = values[k]!;
    out[i] = most;
    before = last;
  }
  return out;
}
