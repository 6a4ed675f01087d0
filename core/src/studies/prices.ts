/** Prices made of a bar's own four. */
import type { BarSeries } from "../market/bars.ts";
import { BARS, type ColumnValues, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

function eachBar(bars: BarSeries, value: (i: number) => number): ColumnValues {
  const out = newColumn(bars.length, 0);
  const n = bars.length;
  for (let i = startAt(0); i < n; i++) out[i] = value(i);
  return { values: out, first: 0 };
}

export const typicalOf = (bars: BarSeries): ColumnValues => eachBar(bars, (i) => (bars.high[i]! + bars.low[i]! + bars.close[i]!) / 3);

export const middlesOf = (bars: BarSeries): ColumnValues => eachBar(bars, (i) => (bars.high[i]! + bars.low[i]!) / 2);

const definition = (
  name: string,
  pane: "price" | "own",
  summary: string,
  formula: string,
  value: (bars: BarSeries, i: number) => number,
): StudyDefinition => ({
  name,
  group: "price",
  unit: "price",
  summary,
  formula,
  warmUp: "none",
  source: "arithmetic on the bar",
  pane,
  inputs: [BARS],
  outputs: ["value"],
  settle: () => 1,
  compute: ({ bars }) => [eachBar(bars, (i) => value(bars, i))],
});

export const typicalPrice = definition(
  "typicalPrice",
  "price",
  "Mean of high, low and close",
  "(high + low + close) / 3",
  ({ high, low, close }, i) => (high[i]! + low[i]! + close[i]!) / 3,
);

export const medianPrice = definition(
  "medianPrice",
  "price",
  "Middle of the bar's range",
  "(high + low) / 2",
  ({ high, low }, i) => (high[i]! + low[i]!) / 2,
);

export const barRange = definition("barRange", "own", "Range of the bar", "high - low", ({ high, low }, i) => high[i]! - low[i]!);
export const barBody = definition(
  "barBody",
  "own",
  "Body of the bar: above 0 when it closed above its open",
  "close - open",
  ({ close, open }, i) => close[i]! - open[i]!,
);
