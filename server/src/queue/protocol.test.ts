import { ALWAYS_OPEN, makeSeries, sliceSeries } from "@plan-tester/core";
import { expect, test } from "vitest";
import { packBars, unpackBars } from "./protocol.ts";

const COUNT = 50;
const column = (from: number): Float64Array => Float64Array.from({ length: COUNT }, (_none, i) => from + i);
const time = Float64Array.from({ length: COUNT }, (_none, i) => Date.UTC(2025, 0, 6) + i * 60_000);
const whole = makeSeries(
  { time, open: column(10), high: column(12), low: column(9), close: column(11), volume: column(0) },
  "1m",
  ALWAYS_OPEN,
);

test.each([0, 20])("bars travel as they are, with %i of them ahead of the period", (lead) => {
  const series = sliceSeries(whole, lead, COUNT);
  const got = unpackBars("a key", packBars({ key: "a key", series, whole, finer: null }));
  expect(got.key).toBe("a key");
  expect(got.series.length).toBe(COUNT - lead);
  expect(Array.from(got.series.time)).toEqual(Array.from(series.time));
  expect(Array.from(got.series.close)).toEqual(Array.from(series.close));
  expect(Array.from(got.whole!.close)).toEqual(Array.from(whole.close));
});

test("without bars ahead the whole is the period", () => {
  const got = unpackBars("a key", packBars({ key: "a key", series: whole, finer: null }));
  expect([got.series.length, got.whole!.length]).toEqual([COUNT, COUNT]);
});
