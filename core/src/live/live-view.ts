/** The last bars of a plan at work with what it shows and waits for: the stretch of its chart. */
import type { PlotColumn } from "../language/host.ts";
import type { MinuteBar } from "../market/bar-frame.ts";
import type { BarSeries } from "../market/bars.ts";
import { STRIP } from "../run/trace.ts";
import type { LiveRun } from "./live-run.ts";

export interface LiveView {
  readonly bars: Pick<BarSeries, "time" | "closeTime" | "open" | "high" | "low" | "close" | "session">;
  /** Whether the last bar is still forming: what is shown has no value on it. */
  readonly isForming: boolean;
  readonly plots: readonly PlotColumn[];
  /** Conditions that handlers wait for, each with a state of `STRIP` at every bar. */
  readonly strips: readonly { readonly label: string; readonly values: Uint8Array }[];
}

/**
 * @param count of bars, the forming one included; fewer where the plan has fewer
 * @param minute the one that is under way, as far as it has gone: the forming bar goes on with it
 */
export function viewOf(run: LiveRun, count: number, minute: MinuteBar | null = null): LiveView {
  const { series, completed, isOpen, hasPrices } = run.markets[0]!.bars;
  const isUnderWay = minute !== null && minute.time >= series.time[completed]! && minute.time < series.closeTime[completed]!;
  const isForming = (isOpen && hasPrices) || isUnderWay;
  const end = completed + (isForming ? 1 : 0);
  const from = Math.max(0, end - count);
  const cut = <T extends Float64Array | Int32Array>(column: T): T => column.slice(from, end) as T;
  const { time, closeTime, session } = series;
  const [open, high, low, close] = [cut(series.open), cut(series.high), cut(series.low), cut(series.close)];
  if (isUnderWay) {
    const last = close.length - 1;
    if (!hasPrices) open[last] = high[last] = low[last] = minute.open;
    high[last] = Math.max(high[last]!, minute.high);
    low[last] = Math.min(low[last]!, minute.low);
    close[last] = minute.close;
  }
  return {
    bars: { ...{ time: cut(time), closeTime: cut(closeTime), open, high, low, close }, session: cut(session) },
    isForming,
    plots: run.host.shownColumns().map((plot) => {
      const values = cut(plot.values);
      if (isForming) values[values.length - 1] = Number.NaN;
      return { ...plot, values };
    }),
    strips: run.host.awaited().map(({ label, bits }) => {
      const values = new Uint8Array(end - from);
      for (let bar = from; bar < completed; bar++) values[bar - from] = bits[bar] === 1 ? STRIP.yes : STRIP.no;
      return { label, values };
    }),
  };
}
