import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";

export const sumOf: StudyDefinition = {
  name: "sumOf",
  group: "statistic",
  unit: "as the source",
  summary: "Sum of the last span values",
  formula: "x + x[1] + ... + x[span - 1]",
  warmUp: "span - 1 bars after the source's first value",
  source: "sum of values inside the window only",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const { values, first } = columns[0]!;
    return [sumOver(values.length, first, numbers[0]!, (i) => values[i]!)];
  },
};
