/** The chart of a watch as it is sent. */
import { packColumns, type WatchChartMeta } from "@plan-tester/contract";
import { type BarSeries, type LiveView, STRIP } from "@plan-tester/core";
import type { LiveViewed } from "./plan-at-work.ts";

/** With bars ahead of those that the plan has; what it shows is not known on them. */
export function withEarlier(view: LiveView, earlier: BarSeries): LiveView {
  const { length } = earlier;
  if (length === 0) return view;
  const ahead = (values: Float64Array): Float64Array => {
    const whole = new Float64Array(length + values.length).fill(Number.NaN);
    whole.set(values, length);
    return whole;
  };
  const joined = <T extends Float64Array | Int32Array>(name: keyof LiveView["bars"]): T => {
    const [before, after] = [earlier[name], view.bars[name]];
    const whole = new (after.constructor as new (length: number) => T)(before.length + after.length);
    whole.set(before);
    whole.set(after, before.length);
    return whole;
  };
  return {
    ...view,
    bars: {
      ...{ time: joined("time"), closeTime: joined("closeTime"), open: joined("open"), high: joined("high"), low: joined("low") },
      ...{ close: joined("close"), session: joined("session") },
    },
    plots: view.plots.map((plot) => ({ ...plot, values: ahead(plot.values) })),
    strips: view.strips.map(({ label, values }) => {
      const whole = new Uint8Array(length + values.length).fill(STRIP.unknown);
      whole.set(values, length);
      return { label, values: whole };
    }),
  };
}

/** @param asked so many bars */
export function packChart(view: LiveView, notes: LiveViewed["notes"], asked: number): Uint8Array {
  const { bars, plots, strips, isForming, isLast } = view;
  const { session, ...prices } = bars;
  const firstMs = bars.time[0] ?? 0;
  const meta: WatchChartMeta = {
    ...{ isForming, isLast, hasMore: bars.time.length >= asked },
    plots: plots.map(({ label, pane, shift }) => ({ label, pane, shift })),
    strips: strips.map(({ label }) => label),
    notes: notes.filter(({ timeMs }) => timeMs >= firstMs).map(({ timeMs, price, text }) => ({ timeMs, price, text })),
  };
  return packColumns(meta, [
    ...Object.entries(prices).map(([name, values]) => ({ name, values })),
    { name: "session", values: Float64Array.from(session) },
    ...plots.map(({ values }, k) => ({ name: `plot${k}`, values })),
    ...strips.map(({ values }, k) => ({ name: `strip${k}`, values })),
  ]);
}
