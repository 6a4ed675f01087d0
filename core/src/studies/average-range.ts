import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { simpleAverage } from "./sma.ts";

export const averageRange: StudyDefinition = {
  name: "averageRange",
  group: "range",
  unit: "price",
  summary: "Average of high - low over the last span bars, gaps left out",
  formula: "sma(high - low, span)",
  warmUp: "span - 1 bars",
  source: "arithmetic mean",
  pane: "own",
  inputs: [BARS, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const { high, low, length } = bars;
    const range = newColumn(length, 0);
    for (let i = startAt(0); i < length; i++) range[i] = high[i]! - low[i]!;
    return [simpleAverage({ values: range, first: 0 }, numbers[0]!)];
  },
};
