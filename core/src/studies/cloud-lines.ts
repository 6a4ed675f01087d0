import type { BarSeries } from "../market/bars.ts";
import { BARS, barsInput, type ColumnValues, type StudyDefinition, WINDOWS } from "./definition.ts";
import { displaced } from "./displaced.ts";
import { slidingExtreme } from "./extremes.ts";
import { barByBar } from "./windows.ts";

/** Middle of the range of the last `length` bars. */
function middleOf({ high, low }: BarSeries, length: number): ColumnValues {
  const top = slidingExtreme({ values: high, first: 0 }, length, 1);
  const bottom = slidingExtreme({ values: low, first: 0 }, length, -1);
  return barByBar([top, bottom], (i) => (top.values[i]! + bottom.values[i]!) / 2);
}

export const cloudLines: StudyDefinition = {
  name: "cloudLines",
  group: "band",
  unit: "price",
  summary: "Lines of the five-line cloud: conversion, base, and the cloud's two edges as they stand over this bar",
  formula:
    "m(n) = middle of the highest high and lowest low of n bars; conversion = m(fast); base = m(middle); leadA = ((conversion + base) / 2)[middle]; leadB = m(slow)[middle]; the fifth line is close, held against itself middle bars ago",
  warmUp: "fast - 1 and middle - 1 bars; the edges middle bars after what they are made of",
  source: "Hosoda 1969, the one-glance equilibrium chart",
  pane: "price",
  inputs: [BARS, barsInput("fast", 9), barsInput("middle", 26), barsInput("slow", 52)],
  outputs: ["conversion", "base", "leadA", "leadB"],
  settle: WINDOWS,
  compute: ({ bars, numbers }) => {
    const [fast, middle, slow] = numbers as readonly [number, number, number];
    const [conversion, base] = [middleOf(bars, fast), middleOf(bars, middle)];
    const between = barByBar([conversion, base], (i) => (conversion.values[i]! + base.values[i]!) / 2);
    return [conversion, base, displaced(between, middle), displaced(middleOf(bars, slow), middle)];
  },
};
