import { type ColumnValues, numberInput, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { isGoingOn, newColumn } from "./growth.ts";
import { SHORT_WINDOW } from "./long-windows.ts";
import { OrderedWindow } from "./ordered-window.ts";
import { overWindows } from "./windows.ts";

/** Between the two values about a place in order. */
function between(at: (k: number) => number, length: number, share: number): number {
  const place = share * (length - 1);
  const low = Math.floor(place);
  const under = at(low);
  return low === place ? under : under + (place - low) * (at(low + 1) - under);
}

function bySorting(source: ColumnValues, length: number, share: number): ColumnValues {
  const sorted = new Float64Array(length);
  return overWindows(source, length, (values, from, to) => {
    for (let k = from; k <= to; k++) sorted[k - from] = values[k]!;
    sorted.sort();
    return between((k) => sorted[k]!, length, share);
  });
}

/** The same in O(n log n). */
function inOrder({ values, first: start }: ColumnValues, length: number, share: number): ColumnValues {
  const n = values.length;
  const first = start + length - 1;
  const out = newColumn(n, first);
  const window = new OrderedWindow(values);
  for (let i = start; i < n; i++) {
    window.add(i);
    if (i > first) window.remove(i - length);
    if (i >= first) out[i] = between((k) => window.at(k), length, share);
  }
  return { values: out, first };
}

export const quantileOf: StudyDefinition = {
  name: "quantileOf",
  group: "statistic",
  unit: "as the source",
  summary: "Value that a share of the last span values stays below",
  formula: "the sorted values at share * (span - 1), counted from 0, straight between two of them",
  warmUp: "span - 1 bars after the source's first value",
  source: "Hyndman and Fan 1996, Sample Quantiles in Statistical Packages, type 7",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(100), numberInput("share", 0.5, 0, 1)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [
    (numbers[0]! > SHORT_WINDOW && !isGoingOn() ? inOrder : bySorting)(columns[0]!, numbers[0]!, numbers[1]!),
  ],
};
