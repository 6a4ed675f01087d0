import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { SHORT_WINDOW, weightedSumOver } from "./long-windows.ts";
import { overWindows, whereStill } from "./windows.ts";

/** Linearly weighted average: weight 1 for the oldest value of the window, `length` for the newest. */
export function weightedAverage(source: ColumnValues, length: number): ColumnValues {
  const total = (length * (length + 1)) / 2;
  const average =
    length > SHORT_WINDOW
      ? weightedSumOver(source.values, source.first, length, (sum) => sum / total)
      : overWindows(source, length, (values, from, to) => {
          let sum = 0;
          for (let k = from; k <= to; k++) sum += (k - from + 1) * values[k]!;
          return sum / total;
        });
  return whereStill(average, source, length);
}

export const wma: StudyDefinition = {
  name: "wma",
  group: "average",
  unit: "as the source",
  summary: "Weighted moving average: the newest value counts most",
  formula: "sum(w * x) / sum(w), with w = 1 for the oldest of span values up to span for the newest",
  warmUp: "span - 1 bars after the source's first value",
  source: "linear weights",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [weightedAverage(columns[0]!, numbers[0]!)],
};
