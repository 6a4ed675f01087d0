import { EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { smooth } from "./smoothing.ts";

export const wilder: StudyDefinition = {
  name: "wilder",
  group: "average",
  unit: "as the source",
  summary: "Wilder's moving average",
  formula: "y = y[1] + (x - y[1]) / span, seeded by the simple mean of the first span values",
  warmUp: "span - 1 bars after the source's first value",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(14)],
  outputs: ["value"],
  settle: EXPONENTIAL,
  compute: ({ columns, numbers }) => [smooth(columns[0]!, numbers[0]!, 1 / numbers[0]!)],
};
