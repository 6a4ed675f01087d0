import type { BarSeries } from "../market/bars.ts";
import { BARS, type ColumnValues, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** True range of every bar; the first bar has no previous close, so its range is high - low. */
export function trueRangeOf(bars: BarSeries): ColumnValues {
  const { high, low, close, length } = bars;
  const out = newColumn(length, 0);
  if (length > 0) out[0] = high[0]! - low[0]!;
  for (let i = startAt(1); i < length; i++) {
    const previous = close[i - 1]!;
    out[i] = Math.max(high[i]!, previous) - Math.min(low[i]!, previous);
  }
  return { values: out, first: 0 };
}

export const trueRange: StudyDefinition = {
  name: "trueRange",
  group: "range",
  unit: "price",
  summary: "True range in price units",
  formula: "max(high, close[1]) - min(low, close[1]); high - low on the first bar",
  warmUp: "none",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "own",
  inputs: [BARS],
  outputs: ["value"],
  settle: () => 2,
  compute: ({ bars }) => [trueRangeOf(bars)],
};
