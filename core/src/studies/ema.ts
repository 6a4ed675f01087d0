import { EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { smooth } from "./smoothing.ts";

export const ema: StudyDefinition = {
  name: "ema",
  group: "average",
  unit: "as the source",
  summary: "Exponential moving average",
  formula: "y = y[1] + 2 / (span + 1) * (x - y[1]), seeded by the simple mean of the first span values",
  warmUp: "span - 1 bars after the source's first value",
  source: "Brown 1956, smoothing constant 2 / (span + 1)",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: EXPONENTIAL,
  compute: ({ columns, numbers }) => [smooth(columns[0]!, numbers[0]!, 2 / (numbers[0]! + 1))],
};
