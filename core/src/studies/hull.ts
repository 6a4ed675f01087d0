import { SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { weightedAverage } from "./weighted.ts";
import { barByBar } from "./windows.ts";

export const hull: StudyDefinition = {
  name: "hull",
  group: "average",
  unit: "as the source",
  summary: "Hull moving average: quick, and smoothed once more",
  formula: "wma(2 * wma(x, floor(span / 2)) - wma(x, span), floor(sqrt(span)))",
  warmUp: "span + floor(sqrt(span)) - 2 bars after the source's first value",
  source: "Hull 2005",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20, 2)],
  outputs: ["value"],
  settle: (numbers) => 2 * numbers[0]! + 2,
  compute: ({ columns, numbers }) => {
    const length = numbers[0]!;
    const half = weightedAverage(columns[0]!, Math.floor(length / 2));
    const whole = weightedAverage(columns[0]!, length);
    const ahead = barByBar([half, whole], (i) => 2 * half.values[i]! - whole.values[i]!);
    return [weightedAverage(ahead, Math.floor(Math.sqrt(length)))];
  },
};
