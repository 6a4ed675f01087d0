import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { simpleAverage } from "./sma.ts";
import { deviationOf } from "./standard-deviation.ts";

export const bollinger: StudyDefinition = {
  name: "bollinger",
  group: "band",
  unit: "as the source",
  summary: "Bollinger bands: a simple average and bands a number of standard deviations away",
  formula: "middle = sma(span); upper, lower = middle + and - width * standardDeviation(span)",
  warmUp: "span - 1 bars after the source's first value",
  source: "Bollinger 2001, Bollinger on Bollinger Bands",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20, 2), { kind: "number", name: "width", min: 0.01, max: 100, whole: false, default: 2 }],
  outputs: ["middle", "upper", "lower"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const [length, width] = [numbers[0]!, numbers[1]!];
    const middle = simpleAverage(columns[0]!, length);
    const deviation = deviationOf(columns[0]!, length);
    const n = middle.values.length;
    const upper = newColumn(n, middle.first);
    const lower = newColumn(n, middle.first);
    for (let i = startAt(middle.first); i < n; i++) {
      const reach = width * deviation.values[i]!;
      upper[i] = middle.values[i]! + reach;
      lower[i] = middle.values[i]! - reach;
    }
    return [middle, { values: upper, first: middle.first }, { values: lower, first: middle.first }];
  },
};
