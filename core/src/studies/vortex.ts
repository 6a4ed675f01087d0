import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { trueRangeOf } from "./true-range.ts";
import { barByBar } from "./windows.ts";

export const vortex: StudyDefinition = {
  name: "vortex",
  group: "oscillator",
  unit: "share",
  summary: "Vortex: movement up and movement down against the true range",
  formula:
    "plus = sum(abs(high - low[1]), span) / sum(trueRange, span); minus = sum(abs(low - high[1]), span) / sum(trueRange, span); 0 for 0/0",
  warmUp: "span bars",
  source: "Botes and Siepman 2010, The Vortex Indicator",
  pane: "own",
  inputs: [BARS, span(14)],
  outputs: ["plus", "minus"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const { high, low, length } = bars;
    const ranges = trueRangeOf(bars).values;
    const over = (term: (i: number) => number) => sumOver(length, 1, numbers[0]!, term);
    const range = over((i) => ranges[i]!);
    const share = (moved: ReturnType<typeof over>) =>
      barByBar([moved, range], (i) => (range.values[i] === 0 ? 0 : moved.values[i]! / range.values[i]!));
    return [share(over((i) => Math.abs(high[i]! - low[i - 1]!))), share(over((i) => Math.abs(low[i]! - high[i - 1]!)))];
  },
};
