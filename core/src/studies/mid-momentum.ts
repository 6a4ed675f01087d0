import { BARS, barsInput, type StudyDefinition, WINDOWS } from "./definition.ts";
import { middlesOf } from "./prices.ts";
import { simpleAverage } from "./sma.ts";
import { plusTimes } from "./windows.ts";

export const midMomentum: StudyDefinition = {
  name: "midMomentum",
  group: "oscillator",
  unit: "price",
  summary: "Mid-price momentum: a fast average of the bars' middles less a slow one",
  formula: "sma(m, fast) - sma(m, slow), m = (high + low) / 2",
  warmUp: "max(fast, slow) - 1 bars",
  source: "Williams 1998, New Trading Dimensions",
  pane: "own",
  inputs: [BARS, barsInput("fast", 5), barsInput("slow", 34)],
  outputs: ["value"],
  settle: WINDOWS,
  compute: ({ bars, numbers }) => {
    const middles = middlesOf(bars);
    return [plusTimes(simpleAverage(middles, numbers[0]!), -1, simpleAverage(middles, numbers[1]!))];
  },
};
