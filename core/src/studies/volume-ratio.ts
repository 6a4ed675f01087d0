import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";

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
  compute: ({ bars, numbers }) => {
    const { volume, length } = bars;
    const span = numbers[0]!;
    const ratioTo = (sum: number, i: number): number => (sum === 0 ? 1 : (volume[i]! * span) / sum);
    return [sumOver(length, 0, span, (i) => volume[i]!, ratioTo)];
  },
};
