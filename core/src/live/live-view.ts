/** The last bars of a plan at work with what it shows and waits for: the stretch of its chart. */
import { firstAfter } from "../engine/ascending.ts";
import type { PlotColumn } from "../language/host.ts";
import type { MinuteBar } from "../market/bar-frame.ts";
import type { BarSeries } from "../market/bars.ts";
import { STRIP } from "../run/trace.ts";
import type { LiveRun } from "./live-run.ts";

export interface LiveView {
  readonly bars: Pick<BarSeries, "time" | "closeTime" | "open" | "high" | "low" | "close" | "session">;
  /** Whether the last bar is still forming: what is shown has no value on it. */
  readonly isForming: boolean;
  /** Whether there are none behind them. */
  readonly isLast: boolean;
  readonly plots: readonly PlotColumn[];
  /** Conditions that handlers wait for, each with a state of `STRIP` at every bar. */
  readonly strips: readonly { readonly label: string; readonly values: Uint8Array }[];
}

/** Which bars are looked at. */
export interface LookedAt {
  /** So many, the forming one included; fewer where the plan has fewer. */
  readonly count: number;
  /** Those that open by this time; null for the last. */
  readonly untilMs: number | null;
  /** The minute that is under way, as far as it has gone: the forming bar goes on with it. */
  readonly minute: MinuteBar | null;
}

export function viewOf(run: LiveRun, { count, untilMs, minute }: LookedAt): LiveView {
  const { series, completed, isOpen, hasPrices } = run.markets[0]!.bars;
  const isOpenMinute = minute !== null && minute.time >= series.time[completed]! && minute.time < series.closeTime[completed]!;
  const all = completed + ((isOpen && hasPrices) || isOpenMinute ? 1 : 0);
  const end = untilMs === null ? all : firstAfter(series.time, untilMs, 0, all);
  const isForming = end > completed;
  const isUnderWay = isForming && isOpenMinute;
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
    isLast: end === all,
    plots: run.host.shownColumns().map((plot) => {
      const values = cut(plot.values);
      if (isForming) values[values.length - 1] = Number.NaN;
      return { ...plot, values };
    }),
    strips: run.host.awaited().map(({ label, bits }) => {
      const values = new Uint8Array(end - from);
      for (let bar = from; bar < Math.min(end, completed); bar++) values[bar - from] = bits[bar] === 1 ? STRIP.yes : STRIP.no;
      return { label, values };
    }),
  };
}
