import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { meanOf, overWindows } from "./windows.ts";

export const volumeRatio: StudyDefinition = {
  name: "volumeRatio",
  group: "volume",
  unit: "times the average",
  summary: "Volume against its average over the last span bars",
  formula: "volume / sma(volume, span); 1 while nothing was traded",
  warmUp: "span - 1 bars",
  source: "ratio to the arithmetic mean",
  pane: "own",
  inputs: [BARS, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => [
    overWindows({ values: bars.volume, first: 0 }, numbers[0]!, (values, from, to) => {
      const mean = meanOf(values, from, to);
      return mean === 0 ? 1 : values[to]! / mean;
    }),
  ],
};
