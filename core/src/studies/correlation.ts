/** How two columns move together. */

import { isStill } from "../still.ts";
import { type ColumnValues, columnInput, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { productsOver } from "./long-windows.ts";

/** Of each window of `length` values: the sum of products of distances from the means, and those of squares. O(n). */
export function together(
  a: ColumnValues,
  b: ColumnValues,
  length: number,
  value: (xy: number, xx: number, yy: number) => number,
): ColumnValues {
  const [x, y] = [a.values, b.values];
  const start = Math.max(a.first, b.first);
  // What did not move but for rounding did not move.
  const still = (squares: number, mean: number): number => (isStill(Math.sqrt(squares / length), mean) ? 0 : squares);
  return productsOver(x, y, start, length, ({ xy, xx, yy, meanX, meanY }) => value(xy, still(xx, meanX), still(yy, meanY)));
}

const inputs = [SOURCE_COLUMN, columnInput("other"), span(50, 2)];

export const correlation: StudyDefinition = {
  name: "correlation",
  group: "statistic",
  unit: "-1 to 1",
  summary: "Correlation of two columns, of two instruments too",
  formula: "sum(dx * dy) / sqrt(sum(dx^2) * sum(dy^2)) over span values, d from the means; 0 when one did not move",
  warmUp: "span - 1 bars after the first value of both",
  source: "Pearson's coefficient, two passes",
  pane: "own",
  inputs,
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [
    together(columns[0]!, columns[1]!, numbers[0]!, (xy, xx, yy) => (xx === 0 || yy === 0 ? 0 : xy / Math.sqrt(xx * yy))),
  ],
};

export const beta: StudyDefinition = {
  name: "beta",
  group: "statistic",
  unit: "per unit of the other",
  summary: "How much a column moves for a move of another",
  formula: "sum(dx * dy) / sum(dy^2) over span values, x the source and y the other; 0 when the other did not move",
  warmUp: "span - 1 bars after the first value of both",
  source: "slope of the least-squares line of x on y",
  pane: "own",
  inputs,
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [together(columns[0]!, columns[1]!, numbers[0]!, (xy, _xx, yy) => (yy === 0 ? 0 : xy / yy))],
};
