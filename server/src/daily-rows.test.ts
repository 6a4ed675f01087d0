import { expect, test } from "vitest";
import { dailyRowsOf } from "./features/sweeps/daily-rows.ts";

const NONE = Number.NaN;
/** Five variants of two figures each, with room for one more; every second keeps three days. */
const state = {
  points: [7, 3, 9, 1, 4],
  figures: Float64Array.of(1, 0, 2, 0, 3, 0, 4, 0, NONE, NONE, NONE, NONE),
  daily: Float32Array.of(1, 2, 3, 4, 5, 6, 0, 0, 0),
  dailyStride: 2,
};

test("rows of variants that were not reached are left out, and days stay whole", () => {
  const { settings, daily } = dailyRowsOf(state, 2);
  expect(settings).toBe(2);
  expect([...daily]).toEqual([1, 2, 3, 4, 5, 6]);
});

test("rows of variants that failed are left out", () => {
  const failed = {
    ...state,
    figures: Float64Array.of(NONE, NONE, 2, 0, 3, 0, 4, 0, 5, 0, NONE, NONE),
    daily: Float32Array.of(0, 0, 0, 4, 5, 6, 7, 8, 9),
  };
  expect(dailyRowsOf(failed, 2)).toEqual({ settings: 2, daily: Float32Array.of(4, 5, 6, 7, 8, 9) });
});

test("a search that ended before its room was used up has its rows only", () => {
  const ended = { ...state, points: [7, 3], figures: Float64Array.of(1, 0, 2, 0, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE) };
  expect(dailyRowsOf(ended, 2)).toEqual({ settings: 1, daily: Float32Array.of(1, 2, 3) });
});

test("where none are kept there are none", () => {
  expect(dailyRowsOf({ ...state, daily: new Float32Array(0), dailyStride: 0 }, 2)).toEqual({ settings: 0, daily: new Float32Array(0) });
});
