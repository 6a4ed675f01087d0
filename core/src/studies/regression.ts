/** The least-squares line through the last values. */
import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { barByBar, meanOf, overWindows } from "./windows.ts";

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
    const mean = overWindows(columns[0]!, length, meanOf);
    const slope = overWindows(columns[0]!, length, (values, from, to) => {
      let sum = 0;
      for (let k = from; k <= to; k++) sum += (k - from - middle) * values[k]!;
      return sum / spread;
    });
    const squares = overWindows(columns[0]!, length, (values, from, to) => {
      const centre = meanOf(values, from, to);
      let sum = 0;
      for (let k = from; k <= to; k++) sum += (values[k]! - centre) ** 2;
      return sum;
    });
    return [
      barByBar([mean, slope], (i) => mean.values[i]! + middle * slope.values[i]!),
      slope,
      barByBar([slope, squares], (i) => (squares.values[i]! === 0 ? 0 : (slope.values[i]! ** 2 * spread) / squares.values[i]!)),
    ];
  },
};
