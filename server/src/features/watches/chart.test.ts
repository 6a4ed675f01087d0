/** Bars ahead of those that a plan at work has. */
import { type LiveView, makeSeries, STRIP, sliceSeries } from "@plan-tester/core";
import { instrumentNamed } from "@plan-tester/demo";
import { expect, test } from "vitest";
import { withEarlier } from "./chart.ts";

const KELP = instrumentNamed("KELP")!;
const NINE = Date.UTC(2026, 2, 2, 9);
const times = Float64Array.from({ length: 10 }, (_none, i) => NINE + i * 300_000);
const rising = Float64Array.from(times, (_time, i) => 400 + i);
const SERIES = makeSeries({ time: times, open: rising, high: rising, low: rising, close: rising, volume: rising }, "5m", KELP.calendar);

/** The last `count` bars, as a plan has them. */
function viewOf(count: number): LiveView {
  const { time, closeTime, open, high, low, close, session } = SERIES;
  const cut = <T extends Float64Array | Int32Array>(values: T): T => values.slice(-count) as T;
  return {
    bars: {
      ...{ time: cut(time), closeTime: cut(closeTime), open: cut(open), high: cut(high), low: cut(low), close: cut(close) },
      session: cut(session),
    },
    isForming: true,
    isLast: true,
    plots: [{ label: "Mean", pane: "price", shift: 0, values: Float64Array.from({ length: count }, () => 7) }],
    strips: [{ label: "above", values: new Uint8Array(count).fill(STRIP.yes) }],
  };
}

test.each([
  ["some", 4, 3],
  ["all there are", 4, 6],
  ["none, where the plan has all", 10, 0],
])("%s of the history come ahead, on which what the plan shows is not known", (_what, own, ahead) => {
  const earlier = sliceSeries(SERIES, SERIES.length - own - ahead, SERIES.length - own);
  const { bars, plots, strips, isForming } = withEarlier(viewOf(own), earlier);
  expect(isForming).toBe(true);
  for (const name of ["time", "closeTime", "open", "high", "low", "close", "session"] as const)
    expect([...bars[name]]).toEqual([...SERIES[name].slice(-own - ahead)]);
  expect([...plots[0]!.values]).toEqual([...Array(ahead).fill(Number.NaN), ...Array(own).fill(7)]);
  expect([...strips[0]!.values]).toEqual([...Array(ahead).fill(STRIP.unknown), ...Array(own).fill(STRIP.yes)]);
});
