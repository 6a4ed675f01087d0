import { BARS, EXPONENTIAL, type StudyDefinition, span } from "./definition.ts";
import { smooth } from "./smoothing.ts";
import { trueRangeOf } from "./true-range.ts";

export const atr: StudyDefinition = {
  name: "atr",
  group: "range",
  unit: "price",
  summary: "Average true range in price units",
  formula: "Wilder's average of the true range",
  warmUp: "span - 1 bars",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "own",
  inputs: [BARS, span(14)],
  outputs: ["value"],
  settle: EXPONENTIAL,
  compute: ({ bars, numbers }) => [smooth(trueRangeOf(bars), numbers[0]!, 1 / numbers[0]!)],
};
