/** The chart of a watch as it is sent. */
import { packColumns, type WatchChartMeta } from "@plan-tester/contract";
import type { LiveViewed } from "./plan-at-work.ts";

/** @param asked so many bars */
export function packChart({ view, notes }: LiveViewed, asked: number): Uint8Array {
  const { bars, plots, strips, isForming } = view!;
  const { session, ...prices } = bars;
  const firstMs = bars.time[0] ?? 0;
  const meta: WatchChartMeta = {
    ...{ isForming, hasMore: bars.time.length >= asked },
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
