import { EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { exponentialAverage } from "./smoothing.ts";
import { barByBar } from "./windows.ts";

export const tema: StudyDefinition = {
  name: "tema",
  group: "average",
  unit: "as the source",
  summary: "Triple exponential moving average",
  formula: "3 * e1 - 3 * e2 + e3, each the ema(span) of the one before",
  warmUp: "3 * (span - 1) bars after the source's first value",
  source: "Mulloy 1994, Smoothing Data with Faster Moving Averages",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: (numbers) => 3 * EXPONENTIAL(numbers),
  compute: ({ columns, numbers }) => {
    const one = exponentialAverage(columns[0]!, numbers[0]!);
    const two = exponentialAverage(one, numbers[0]!);
    const three = exponentialAverage(two, numbers[0]!);
    return [barByBar([one, two, three], (i) => 3 * (one.values[i]! - two.values[i]!) + three.values[i]!)];
  },
};
