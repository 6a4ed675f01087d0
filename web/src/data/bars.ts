/** Bars as the server sends them, as the series that the core computes on. */
import type { BarsMeta, Packed } from "@plan-tester/contract";
import type { BarSeries } from "@plan-tester/core";

/** Sessions begin and end with their first and last bar here: what lies between them was not traded. */
export function seriesOf({ meta, columns }: Packed<BarsMeta>): BarSeries {
  const { time, closeTime, open, high, low, close, volume, spread } = columns as Required<
    Record<"time" | "closeTime" | "open" | "high" | "low" | "close" | "volume", Float64Array>
  > & { readonly spread?: Float64Array };
  const session = Int32Array.from(columns.session!);
  const openMs = new Float64Array(meta.dates.length);
  const closeMs = new Float64Array(meta.dates.length);
  for (let i = session.length - 1; i >= 0; i--) {
    const s = session[i]!;
    openMs[s] = time[i]!;
    if (closeMs[s] === 0) closeMs[s] = closeTime[i]!;
  }
  return {
    ...{ time, closeTime, open, high, low, close, volume, spread, session, timeframe: meta.timeframe, length: time.length },
    sessions: {
      ...{ zone: meta.zone, dates: meta.dates, openMs, closeMs, regularCloseMs: closeMs, parts: { openMs, closeMs } },
      openMinute: new Int32Array(meta.dates.length),
      // Wall-clock times are looked up, since the calendar's own are not known here.
      clocksChange: new Uint8Array(meta.dates.length).fill(1),
    },
  };
}
