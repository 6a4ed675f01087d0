import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { typicalOf } from "./prices.ts";
import { barByBar } from "./windows.ts";

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
  compute: ({ bars, numbers }) => {
    const { values: typical, first } = typicalOf(bars);
    const flowOf = (sign: 1 | -1) => (i: number) => (sign * (typical[i]! - typical[i - 1]!) > 0 ? typical[i]! * bars.volume[i]! : 0);
    const up = sumOver(bars.length, first + 1, numbers[0]!, flowOf(1));
    const down = sumOver(bars.length, first + 1, numbers[0]!, flowOf(-1));
    return [
      barByBar([up, down], (i) => {
        const total = up.values[i]! + down.values[i]!;
        return total === 0 ? 50 : (100 * up.values[i]!) / total;
      }),
    ];
  },
};
