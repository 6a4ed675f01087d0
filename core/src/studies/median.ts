import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { overWindows } from "./windows.ts";

export const medianOf: StudyDefinition = {
  name: "medianOf",
  group: "average",
  unit: "as the source",
  summary: "Median of the last span values: one wild value does not move it",
  formula: "middle of the sorted values, the mean of the two middle ones for an even span",
  warmUp: "span - 1 bars after the source's first value",
  source: "running median",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(9)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const length = numbers[0]!;
    const sorted = new Float64Array(length);
    return [
      overWindows(columns[0]!, length, (values, from, to) => {
        for (let k = from; k <= to; k++) sorted[k - from] = values[k]!;
        sorted.sort();
        const middle = length >> 1;
        return length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
      }),
    ];
  },
};
