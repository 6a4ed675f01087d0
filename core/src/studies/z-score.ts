import { isStill } from "../still.ts";
import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { meanOf, overWindows, varianceOf } from "./windows.ts";

export const zScore: StudyDefinition = {
  name: "zScore",
  group: "statistic",
  unit: "standard deviations",
  summary: "Distance from the mean of the last span values in standard deviations",
  formula: "(x - sma(x, span)) / standardDeviation(x, span); 0 when nothing moved",
  warmUp: "span - 1 bars after the source's first value",
  source: "standard score, divisor span",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20, 2)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [
    overWindows(columns[0]!, numbers[0]!, (values, from, to) => {
      const deviation = Math.sqrt(varianceOf(values, from, to));
      const mean = meanOf(values, from, to);
      return isStill(deviation, mean) && isStill(deviation, values[to]!) ? 0 : (values[to]! - mean) / deviation;
    }),
  ],
};
