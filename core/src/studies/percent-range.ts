import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { barByBar } from "./windows.ts";

export const percentRange: StudyDefinition = {
  name: "percentRange",
  group: "oscillator",
  unit: "-100 to 0",
  summary: "Percent range: how far below the highest high the close stands, in percent of the range",
  formula: "-100 * (H - close) / (H - L), H and L the highest high and lowest low of span bars; -50 when H = L",
  warmUp: "span - 1 bars",
  source: "Williams 1979, How I Made One Million Dollars",
  pane: "own",
  inputs: [BARS, span(14)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const top = slidingExtreme({ values: bars.high, first: 0 }, numbers[0]!, 1);
    const bottom = slidingExtreme({ values: bars.low, first: 0 }, numbers[0]!, -1);
    return [
      barByBar([top, bottom], (i) => {
        const range = top.values[i]! - bottom.values[i]!;
        return range === 0 ? -50 : (-100 * (top.values[i]! - bars.close[i]!)) / range;
      }),
    ];
  },
};
