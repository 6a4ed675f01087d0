import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { typicalOf } from "./prices.ts";
import { overWindows } from "./windows.ts";

export const moneyFlow: StudyDefinition = {
  name: "moneyFlow",
  group: "volume",
  unit: "0 to 100",
  summary: "Money flow index: share of the traded value on bars with a rising typical price",
  formula: "100 * P / (P + N), P and N the sums of typical price * volume over span rises and falls; 50 when nothing moved",
  warmUp: "span bars",
  source: "Quong and Soudack 1989, Volume-Weighted RSI",
  pane: "own",
  inputs: [BARS, span(14)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => [
    overWindows(typicalOf(bars), numbers[0]! + 1, (typical, from, to) => {
      let up = 0;
      let down = 0;
      for (let k = from + 1; k <= to; k++) {
        const flow = typical[k]! * bars.volume[k]!;
        if (typical[k]! > typical[k - 1]!) up += flow;
        else if (typical[k]! < typical[k - 1]!) down += flow;
      }
      return up + down === 0 ? 50 : (100 * up) / (up + down);
    }),
  ],
};
