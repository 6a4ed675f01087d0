import { EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { exponentialAverage } from "./smoothing.ts";
import { barByBar } from "./windows.ts";

export const dema: StudyDefinition = {
  name: "dema",
  group: "average",
  unit: "as the source",
  summary: "Double exponential moving average",
  formula: "2 * e1 - e2, with e1 = ema(x, span) and e2 = ema(e1, span)",
  warmUp: "2 * (span - 1) bars after the source's first value",
  source: "Mulloy 1994, Smoothing Data with Faster Moving Averages",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: (numbers) => 2 * EXPONENTIAL(numbers),
  compute: ({ columns, numbers }) => {
    const one = exponentialAverage(columns[0]!, numbers[0]!);
    const two = exponentialAverage(one, numbers[0]!);
    return [barByBar([one, two], (i) => 2 * one.values[i]! - two.values[i]!)];
  },
};
