import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { barByBar } from "./windows.ts";

export const donchian: StudyDefinition = {
  name: "donchian",
  group: "band",
  unit: "price",
  summary: "Price channel: highest high and lowest low of the last span bars, the current one included, and their middle",
  formula: "upper = highest(high, span); lower = lowest(low, span); middle = (upper + lower) / 2",
  warmUp: "span - 1 bars",
  source: "Donchian 1960",
  pane: "price",
  inputs: [BARS, span(20)],
  outputs: ["upper", "lower", "middle"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const upper = slidingExtreme({ values: bars.high, first: 0 }, numbers[0]!, 1);
    const lower = slidingExtreme({ values: bars.low, first: 0 }, numbers[0]!, -1);
    return [upper, lower, barByBar([upper, lower], (i) => (upper.values[i]! + lower.values[i]!) / 2)];
  },
};
