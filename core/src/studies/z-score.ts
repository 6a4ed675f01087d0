import { isStill } from "../still.ts";
import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { squaresOver } from "./long-windows.ts";

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
  compute: ({ columns, numbers }) => {
    const { values, first } = columns[0]!;
    return [
      squaresOver(values, first, numbers[0]!, (squares, mean, i) => {
        const deviation = Math.sqrt(squares / numbers[0]!);
        return isStill(deviation, mean) && isStill(deviation, values[i]!) ? 0 : (values[i]! - mean) / deviation;
      }),
    ];
  },
};
