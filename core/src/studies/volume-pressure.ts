import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { barByBar } from "./windows.ts";

export const volumePressure: StudyDefinition = {
  name: "volumePressure",
  group: "volume",
  unit: "-1 to 1",
  summary: "Share of the volume of span bars that closed high in their range, less the share that closed low",
  formula: "sum(((close - low) - (high - close)) / (high - low) * volume, span) / sum(volume, span); 0 while nothing was traded",
  warmUp: "span - 1 bars",
  source: "windowed accumulation and distribution",
  pane: "own",
  inputs: [BARS, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const { high, low, close, volume, length } = bars;
    const pressureAt = (i: number): number => {
      const range = high[i]! - low[i]!;
      return range > 0 ? ((2 * close[i]! - low[i]! - high[i]!) / range) * volume[i]! : 0;
    };
    const sum = sumOver(length, 0, numbers[0]!, pressureAt);
    const total = sumOver(length, 0, numbers[0]!, (i) => volume[i]!);
    return [barByBar([sum, total], (i) => (total.values[i] === 0 ? 0 : sum.values[i]! / total.values[i]!))];
  },
};
