import { BARS, barsInput, type ColumnValues, type StudyDefinition, WINDOWS } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { trueRangeOf } from "./true-range.ts";
import { barByBar } from "./windows.ts";

export const threeSpan: StudyDefinition = {
  name: "threeSpan",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Three-span oscillator: where closes stand in their true ranges, over three spans, the short one weighing most",
  formula: "100 * (4 * a(short) + 2 * a(middle) + a(long)) / 7, a(n) = sum(close - min(low, close[1]), n) / sum(trueRange, n), 0.5 for 0/0",
  warmUp: "the longest of the three spans",
  source: "Williams 1985, The Ultimate Oscillator",
  pane: "own",
  inputs: [BARS, barsInput("short", 7), barsInput("middle", 14), barsInput("long", 28)],
  outputs: ["value"],
  settle: WINDOWS,
  compute: ({ bars, numbers }) => {
    const { low, close, length } = bars;
    const ranges = trueRangeOf(bars).values;
    const share = (span: number): ColumnValues => {
      const bought = sumOver(length, 1, span, (i) => close[i]! - Math.min(low[i]!, close[i - 1]!));
      const range = sumOver(length, 1, span, (i) => ranges[i]!);
      return barByBar([bought, range], (i) => (range.values[i] === 0 ? 0.5 : bought.values[i]! / range.values[i]!));
    };
    const [short, middle, long] = [share(numbers[0]!), share(numbers[1]!), share(numbers[2]!)];
    return [barByBar([short, middle, long], (i) => (100 * (4 * short.values[i]! + 2 * middle.values[i]! + long.values[i]!)) / 7)];
  },
};
