import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { isGoingOn, newColumn } from "./growth.ts";
import { SHORT_WINDOW } from "./long-windows.ts";
import { OrderedWindow } from "./ordered-window.ts";
import { overWindows } from "./windows.ts";

function medianBySorting(source: ColumnValues, length: number): ColumnValues {
  const sorted = new Float64Array(length);
  const middle = length >> 1;
  return overWindows(source, length, (values, from, to) => {
    for (let k = from; k <= to; k++) sorted[k - from] = values[k]!;
    sorted.sort();
    return length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
  });
}

/** The same in O(n log n). */
function medianInOrder({ values, first: start }: ColumnValues, length: number): ColumnValues {
  const n = values.length;
  const first = start + length - 1;
  const out = newColumn(n, first);
  const window = new OrderedWindow(values);
  const middle = length >> 1;
  for (let i = start; i < n; i++) {
    window.add(i);
    if (i > first) window.remove(i - length);
    if (i >= first) out[i] = length % 2 === 1 ? window.at(middle) : (window.at(middle - 1) + window.at(middle)) / 2;
  }
  return { values: out, first };
}

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
  compute: ({ columns, numbers }) => [
    (numbers[0]! > SHORT_WINDOW && !isGoingOn() ? medianInOrder : medianBySorting)(columns[0]!, numbers[0]!),
  ],
};
