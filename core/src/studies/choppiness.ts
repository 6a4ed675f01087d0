import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { sumOver } from "./long-windows.ts";
import { trueRangeOf } from "./true-range.ts";
import { barByBar } from "./windows.ts";

export const choppiness: StudyDefinition = {
  name: "choppiness",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Choppiness: how much of its way price went to and fro; near 100 sideways, low in a straight move",
  formula: "100 * log(sum(trueRange, span) / (H - L)) / log(span), H and L of span bars; 100 when H = L",
  warmUp: "span - 1 bars",
  source: "Dreiss 1992, the choppiness index",
  pane: "own",
  inputs: [BARS, span(14, 2)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const length = numbers[0]!;
    const ranges = trueRangeOf(bars).values;
    const way = sumOver(bars.length, 0, length, (i) => ranges[i]!);
    const top = slidingExtreme({ values: bars.high, first: 0 }, length, 1);
    const bottom = slidingExtreme({ values: bars.low, first: 0 }, length, -1);
    return [
      barByBar([way, top, bottom], (i) => {
        const range = top.values[i]! - bottom.values[i]!;
        return range === 0 ? 100 : (100 * Math.log(way.values[i]! / range)) / Math.log(length);
      }),
    ];
  },
};
