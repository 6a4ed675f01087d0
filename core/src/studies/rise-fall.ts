import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { barByBar } from "./windows.ts";

export const riseFall: StudyDefinition = {
  name: "riseFall",
  group: "oscillator",
  unit: "-100 to 100",
  summary: "Momentum by sums of rises and falls: what rose less what fell, in percent of both",
  formula: "100 * (U - D) / (U + D), U and D the sums of the rises and of the falls of span values; 0 when nothing moved",
  warmUp: "span bars after the source's first value",
  source: "Chande and Kroll 1994, The New Technical Trader",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(14)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const { values, first } = columns[0]!;
    const moves = (sign: 1 | -1) =>
      sumOver(values.length, first + 1, numbers[0]!, (i) => Math.max(0, sign * (values[i]! - values[i - 1]!)));
    const [up, down] = [moves(1), moves(-1)];
    return [
      barByBar([up, down], (i) => {
        const total = up.values[i]! + down.values[i]!;
        return total === 0 ? 0 : (100 * (up.values[i]! - down.values[i]!)) / total;
      }),
    ];
  },
};
