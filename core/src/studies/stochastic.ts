import { BARS, barsInput, type StudyDefinition, span, WINDOWS } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { simpleAverage } from "./sma.ts";
import { barByBar } from "./windows.ts";

export const stochastic: StudyDefinition = {
  name: "stochastic",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Stochastic: where the close stands between the lowest low and the highest high",
  formula: "k = sma(100 * (close - L) / (H - L), slowing) with H, L of span bars (50 when H = L); d = sma(k, smoothing)",
  warmUp: "span + slowing - 2 bars for k, smoothing - 1 more for d",
  source: "Lane 1984, Lane's Stochastics",
  pane: "own",
  inputs: [BARS, span(14), barsInput("slowing", 3), barsInput("smoothing", 3)],
  outputs: ["k", "d"],
  settle: WINDOWS,
  compute: ({ bars, numbers }) => {
    const high = slidingExtreme({ values: bars.high, first: 0 }, numbers[0]!, 1);
    const low = slidingExtreme({ values: bars.low, first: 0 }, numbers[0]!, -1);
    const raw = barByBar([high, low], (i) => {
      const range = high.values[i]! - low.values[i]!;
      return range === 0 ? 50 : (100 * (bars.close[i]! - low.values[i]!)) / range;
    });
    const k = simpleAverage(raw, numbers[1]!);
    return [k, simpleAverage(k, numbers[2]!)];
  },
};
