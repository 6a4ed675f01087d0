/**
 * Sliding extremes by a monotonic queue of indices (Lemire 2006): each index enters and leaves once, so O(n) whatever
 * the span. The queue holds indices whose values fall (for the highest) from head to tail.
 */
import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export function slidingExtreme(source: ColumnValues, length: number, sign: 1 | -1): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  const from = startAt(first);
  // What lies before the window of the first value to be written is forgotten.
  const start = Math.max(source.first, from - length + 1);
  const queue = new Int32Array(Math.max(0, n - start));
  let head = 0;
  let tail = 0;
  for (let i = start; i < n; i++) {
    const x = sign * values[i]!;
    while (tail > head && sign * values[queue[tail - 1]!]! <= x) tail--;
    queue[tail++] = i;
    if (queue[head]! <= i - length) head++;
    if (i >= from) out[i] = values[queue[head]!]!;
  }
  return { values: out, first };
}

export const highest: StudyDefinition = {
  name: "highest",
  group: "extreme",
  unit: "as the source",
  summary: "Highest of the last span values, the current one included",
  formula: "max(x, x[1], ..., x[span - 1])",
  warmUp: "span - 1 bars after the source's first value",
  source: "sliding maximum, Lemire 2006",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [slidingExtreme(columns[0]!, numbers[0]!, 1)],
};

export const lowest: StudyDefinition = {
  name: "lowest",
  group: "extreme",
  unit: "as the source",
  summary: "Lowest of the last span values, the current one included",
  formula: "min(x, x[1], ..., x[span - 1])",
  warmUp: "span - 1 bars after the source's first value",
  source: "sliding minimum, Lemire 2006",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [slidingExtreme(columns[0]!, numbers[0]!, -1)],
};
