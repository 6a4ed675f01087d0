import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { overWindows } from "./windows.ts";

export const sumOf: StudyDefinition = {
  name: "sumOf",
  group: "statistic",
  unit: "as the source",
  summary: "Sum of the last span values",
  formula: "x + x[1] + ... + x[span - 1]",
  warmUp: "span - 1 bars after the source's first value",
  source: "sum, each window afresh",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [
    overWindows(columns[0]!, numbers[0]!, (values, from, to) => {
      let sum = 0;
      for (let k = from; k <= to; k++) sum += values[k]!;
      return sum;
    }),
  ],
};
