import { expect, test } from "vitest";
import { type BarColumns, joinBars } from "./bars.ts";

test("columns are joined in memory of their own; spreads that one of them does not have are 0", () => {
  const one = (value: number, spread?: number): BarColumns => {
    const column = Float64Array.of(value);
    const plain = { time: column, open: column, high: column, low: column, close: column, volume: column };
    return spread === undefined ? plain : { ...plain, spread: Float64Array.of(spread) };
  };
  expect(joinBars(one(1), one(2))).toMatchObject({ time: Float64Array.of(1, 2), volume: Float64Array.of(1, 2), spread: undefined });
  expect(joinBars(one(1, 0.5), one(2)).spread).toEqual(Float64Array.of(0.5, 0));
  expect(joinBars(one(1), one(2, 0.5)).spread).toEqual(Float64Array.of(0, 0.5));
});
