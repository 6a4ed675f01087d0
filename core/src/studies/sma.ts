import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { stillUpTo } from "./windows.ts";

/** The running sum is summed afresh after this many steps, so that one huge value can't spoil the rest of the column. */
const RESEED_EVERY = 256;

/** Simple moving average of `span` values. O(n). */
export function simpleAverage(source: ColumnValues, length: number): ColumnValues {
  const { values } = source;
  const first = source.first + length - 1;
  const n = values.length;
  const out = newColumn(n, first);
  let sum = 0;
  const from = startAt(first);
  // On from where the sum was summed afresh last.
  const start = from - ((from - first) % RESEED_EVERY);
  // How many values up to now are one and the same: their mean is that value, to the last bit.
  let still = stillUpTo(source, Math.min(start, n) - 1, length);
  for (let i = start; i < n; i++) {
    if (i > source.first) still = values[i] === values[i - 1] ? still + 1 : 1;
    if (still >= length) {
      sum = values[i]! * length;
      out[i] = values[i]!;
      continue;
    }
    if ((i - first) % RESEED_EVERY === 0) {
      sum = 0;
      for (let k = i - length + 1; k <= i; k++) sum += values[k]!;
    } else sum += values[i]! - values[i - length]!;
    out[i] = sum / length;
  }
  return { values: out, first };
}

export const sma: StudyDefinition = {
  name: "sma",
  group: "average",
  unit: "as the source",
  summary: "Simple moving average",
  formula: "mean of the last span values",
  warmUp: "span - 1 bars after the source's first value",
  source: "arithmetic mean; the running sum is re-seeded every 256 bars",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [simpleAverage(columns[0]!, numbers[0]!)],
};
