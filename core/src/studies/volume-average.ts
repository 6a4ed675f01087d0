import { columnInput, newColumn, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";

export const vwma: StudyDefinition = {
  name: "vwma",
  group: "average",
  unit: "as the source",
  summary: "Volume-weighted moving average of any source",
  formula: "sum(x * volume, span) / sum(volume, span); the plain mean while nothing was traded",
  warmUp: "span - 1 bars after the first value of both",
  source: "weighted mean",
  pane: "price",
  inputs: [SOURCE_COLUMN, columnInput("volume"), span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const [x, weight] = [columns[0]!.values, columns[1]!.values];
    const length = numbers[0]!;
    const first = Math.max(columns[0]!.first, columns[1]!.first) + length - 1;
    const n = x.length;
    const out = newColumn(n, first);
    for (let i = first; i < n; i++) {
      let sum = 0;
      let weights = 0;
      let plain = 0;
      for (let k = i - length + 1; k <= i; k++) {
        sum += x[k]! * weight[k]!;
        weights += weight[k]!;
        plain += x[k]!;
      }
      out[i] = weights > 0 ? sum / weights : plain / length;
    }
    return [{ values: out, first }];
  },
};
