/** How long ago the highest or lowest of the last values was. */
import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** What is made of the bars since the extreme of the last `length` values, 0 for the newest; of equal ones the newest counts. */
export function sinceExtreme(
  source: ColumnValues,
  length: number,
  sign: 1 | -1,
  value: (bars: number) => number = (bars) => bars,
): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  // Places of values that fall (for the highest) from head to tail, as in extremes.ts.
  const from = startAt(first);
  const start = Math.max(source.first, from - length + 1);
  const queue = new Int32Array(Math.max(0, n - start));
  let [head, tail] = [0, 0];
  for (let i = start; i < n; i++) {
    while (tail > head && sign * values[queue[tail - 1]!]! <= sign * values[i]!) tail--;
    queue[tail++] = i;
    if (queue[head]! <= i - length) head++;
    if (i >= from) out[i] = value(i - queue[head]!);
  }
  return { values: out, first };
}

const definition = (name: string, what: string, sign: 1 | -1): StudyDefinition => ({
  name,
  group: "extreme",
  unit: "bars",
  summary: `Bars since the ${what} of the last span values; of equal ones the newest counts`,
  formula: `the smallest k with x[k] = ${what}(x, span)`,
  warmUp: "span - 1 bars after the source's first value",
  source: "sliding extreme, Lemire 2006",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [sinceExtreme(columns[0]!, numbers[0]!, sign)],
});

export const barsSinceHighest = definition("barsSinceHighest", "highest", 1);
export const barsSinceLowest = definition("barsSinceLowest", "lowest", -1);
