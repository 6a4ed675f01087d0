import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { overWindows } from "./windows.ts";

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
    const { high, low, close } = bars;
    return [
      overWindows({ values: bars.volume, first: 0 }, numbers[0]!, (volume, from, to) => {
        let sum = 0;
        let total = 0;
        for (let k = from; k <= to; k++) {
          const range = high[k]! - low[k]!;
          if (range > 0) sum += ((2 * close[k]! - low[k]! - high[k]!) / range) * volume[k]!;
          total += volume[k]!;
        }
        return total === 0 ? 0 : sum / total;
      }),
    ];
  },
};
