import { ALL_HISTORY, BARS, numberInput, type StudyDefinition, span } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { wilderAverage } from "./smoothing.ts";
import { trueRangeOf } from "./true-range.ts";

export const stopLine: StudyDefinition = {
  name: "stopLine",
  group: "stop",
  unit: "price",
  summary: "A stop line that follows price at a number of average true ranges and changes sides when the close passes it",
  formula:
    "up: max(line[1], middle - width * atr) while close >= line; a close below turns it to middle + width * atr, and mirrored; middle = (high + low) / 2",
  warmUp: "span - 1 bars; begins upward",
  source: "trailing of an average true range, after Wilder 1978",
  pane: "price",
  inputs: [BARS, span(10), numberInput("width", 3, 0.01, 100)],
  outputs: ["line", "direction"],
  settle: ALL_HISTORY,
  compute: ({ bars, numbers }) => {
    const { high, low, close, length } = bars;
    const { values: range, first } = wilderAverage(trueRangeOf(bars), numbers[0]!);
    const line = newColumn(length, first);
    const direction = newColumn(length, first);
    const start = startAt(first);
    let side = start > first ? direction[start - 1]! : 1;
    let level = start > first ? line[start - 1]! : Number.NEGATIVE_INFINITY;
    for (let i = start; i < length; i++) {
      const middle = (high[i]! + low[i]!) / 2;
      const reach = numbers[1]! * range[i]!;
      if (side * (close[i]! - level) < 0) {
        side = -side;
        level = middle - side * reach;
      } else level = side > 0 ? Math.max(level, middle - reach) : Math.min(level, middle + reach);
      line[i] = level;
      direction[i] = side;
    }
    return [
      { values: line, first },
      { values: direction, first },
    ];
  },
};
