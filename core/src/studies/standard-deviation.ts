import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { SHORT_WINDOW, squaresOver } from "./long-windows.ts";
import { whereStill } from "./windows.ts";

/** Population standard deviation of each window, exact whatever came before it: two passes a window, long ones in O(n). */
export function deviationOf(source: ColumnValues, length: number): ColumnValues {
  const { values } = source;
  if (length > SHORT_WINDOW) return squaresOver(values, source.first, length, (squares) => Math.sqrt(squares / length));
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) {
    const start = i - length + 1;
    let sum = 0;
    for (let k = start; k <= i; k++) sum += values[k]!;
    const mean = sum / length;
    let squares = 0;
    for (let k = start; k <= i; k++) {
      const d = values[k]! - mean;
      squares += d * d;
    }
    out[i] = Math.sqrt(squares / length);
  }
  return whereStill({ values: out, first }, source, length, 0);
}

export const standardDeviation: StudyDefinition = {
  name: "standardDeviation",
  group: "statistic",
  unit: "as the source",
  summary: "Standard deviation of the last span values",
  formula: "sqrt(mean((x - mean(x))^2)), divisor span",
  warmUp: "span - 1 bars after the source's first value",
  source: "population standard deviation, two-pass",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20, 2)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [deviationOf(columns[0]!, numbers[0]!)],
};
