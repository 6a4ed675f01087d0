import { isStill } from "../still.ts";
import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { typicalOf } from "./prices.ts";
import { meanOf, overWindows } from "./windows.ts";

export const cci: StudyDefinition = {
  name: "cci",
  group: "oscillator",
  unit: "about -200 to 200",
  summary: "Commodity channel index: distance from the mean in mean deviations",
  formula: "(t - sma(t, span)) / (0.015 * mean absolute deviation), t the typical price; 0 when nothing moved",
  warmUp: "span - 1 bars",
  source: "Lambert 1980, Commodity Channel Index",
  pane: "own",
  inputs: [BARS, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => [
    overWindows(typicalOf(bars), numbers[0]!, (values, from, to) => {
      const mean = meanOf(values, from, to);
      let away = 0;
      for (let k = from; k <= to; k++) away += Math.abs(values[k]! - mean);
      return isStill(away / (to - from + 1), mean) ? 0 : ((values[to]! - mean) * (to - from + 1)) / (0.015 * away);
    }),
  ],
};
