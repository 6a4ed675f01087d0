/** The least-squares line through the last values. */
import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { squaresOver, weightedSumOver } from "./long-windows.ts";
import { barByBar, whereStill } from "./windows.ts";

export const regression: StudyDefinition = {
  name: "regression",
  group: "statistic",
  unit: "as the source",
  summary: "Least-squares line through the last span values: its end, its slope a bar, and how well it fits",
  formula: "line through (k, x[k]); value at the newest bar; slope a bar; fit = r squared, 0 when nothing moved",
  warmUp: "span - 1 bars after the source's first value",
  source: "ordinary least squares",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20, 2)],
  outputs: ["value", "slope", "fit"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const length = numbers[0]!;
    const middle = (length - 1) / 2;
    const spread = (length * (length * length - 1)) / 12;
    const { values, first } = columns[0]!;
    const mean = squaresOver(values, first, length, (_squares, centre) => centre);
    const squares = squaresOver(values, first, length, (sum) => sum);
    // Weights about the middle, those of the weighted sum less their mean.
    const weighted = weightedSumOver(values, first, length, (sum) => sum);
    const tilt = (i: number): number => (weighted.values[i]! - (middle + 1) * length * mean.values[i]!) / spread;
    const slope = whereStill(barByBar([weighted, mean], tilt), columns[0]!, length, 0);
    return [
      whereStill(
        barByBar([mean, slope], (i) => mean.values[i]! + middle * slope.values[i]!),
        columns[0]!,
        length,
      ),
      slope,
      barByBar([slope, squares], (i) => (squares.values[i]! === 0 ? 0 : (slope.values[i]! ** 2 * spread) / squares.values[i]!)),
    ];
  },
};
