import { columnInput, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";
import { barByBar, whereStill } from "./windows.ts";

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
    const [n, start, length] = [x.length, Math.max(columns[0]!.first, columns[1]!.first), numbers[0]!];
    const sum = sumOver(n, start, length, (i) => x[i]! * weight[i]!);
    const weights = sumOver(n, start, length, (i) => weight[i]!);
    const plain = sumOver(n, start, length, (i) => x[i]!);
    const mean = (i: number): number => (weights.values[i]! > 0 ? sum.values[i]! / weights.values[i]! : plain.values[i]! / length);
    return [whereStill(barByBar([sum, weights, plain], mean), { values: x, first: start }, length)];
  },
};
