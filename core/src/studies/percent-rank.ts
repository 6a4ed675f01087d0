import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { isGoingOn, newColumn } from "./growth.ts";
import { SHORT_WINDOW } from "./long-windows.ts";
import { OrderedWindow } from "./ordered-window.ts";
import { overWindows } from "./windows.ts";

const rankByCount = (source: ColumnValues, length: number): ColumnValues =>
  overWindows(source, length + 1, (values, from, to) => {
    const x = values[to]!;
    let count = 0;
    for (let k = from; k < to; k++) count += values[k]! < x ? 1 : values[k]! === x ? 0.5 : 0;
    return (100 * count) / (to - from);
  });

/** The same in O(n log n). */
function rankInOrder({ values, first: start }: ColumnValues, length: number): ColumnValues {
  const n = values.length;
  const first = start + length;
  const out = newColumn(n, first);
  const window = new OrderedWindow(values);
  for (let i = start; i < n; i++) {
    if (i >= first) out[i] = (100 * (window.below(i) + 0.5 * window.equal(i))) / length;
    window.add(i);
    if (i >= first) window.remove(i - length);
  }
  return { values: out, first };
}

export const percentRank: StudyDefinition = {
  name: "percentRank",
  group: "statistic",
  unit: "0 to 100",
  summary: "How many percent of the span values before are below the current one; equal ones count half",
  formula: "100 * (values below + half of the values equal) / span, among x[1] to x[span]",
  warmUp: "span bars after the source's first value",
  source: "percentile rank with mid-ranks for ties",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(100)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [(numbers[0]! > SHORT_WINDOW && !isGoingOn() ? rankInOrder : rankByCount)(columns[0]!, numbers[0]!)],
};
