/** How two columns move together. */

import { isStill } from "../still.ts";
import { type ColumnValues, columnInput, newColumn, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { meanOf } from "./windows.ts";

/** Of each window of `length` values: the sum of products of distances from the means, and those of squares. */
function together(a: ColumnValues, b: ColumnValues, length: number, value: (xy: number, xx: number, yy: number) => number): ColumnValues {
  const [x, y] = [a.values, b.values];
  const n = x.length;
  const first = Math.max(a.first, b.first) + length - 1;
  const out = newColumn(n, first);
  for (let i = first; i < n; i++) {
    const from = i - length + 1;
    const mx = meanOf(x, from, i);
    const my = meanOf(y, from, i);
    let xy = 0;
    let xx = 0;
    let yy = 0;
    for (let k = from; k <= i; k++) {
      const dx = x[k]! - mx;
      const dy = y[k]! - my;
      xy += dx * dy;
      xx += dx * dx;
      yy += dy * dy;
    }
    // What did not move but for rounding did not move.
    const still = (squares: number, mean: number): number => (isStill(Math.sqrt(squares / length), mean) ? 0 : squares);
    out[i] = value(xy, still(xx, mx), still(yy, my));
  }
  return { values: out, first };
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
