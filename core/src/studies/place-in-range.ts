import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { barByBar } from "./windows.ts";

export const placeInRange: StudyDefinition = {
  name: "placeInRange",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Where a value stands between the lowest and the highest of its last span values; of an RSI: the stochastic RSI",
  formula: "100 * (x - lowest(x, span)) / (highest(x, span) - lowest(x, span)); 50 when nothing moved",
  warmUp: "span - 1 bars after the source's first value",
  source: "Chande and Kroll 1994, The New Technical Trader",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(14)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const top = slidingExtreme(columns[0]!, numbers[0]!, 1);
    const bottom = slidingExtreme(columns[0]!, numbers[0]!, -1);
    return [
      barByBar([top, bottom], (i) => {
        const range = top.values[i]! - bottom.values[i]!;
        return range === 0 ? 50 : (100 * (columns[0]!.values[i]! - bottom.values[i]!)) / range;
      }),
    ];
  },
};
