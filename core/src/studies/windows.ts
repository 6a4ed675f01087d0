/** Sliding windows over columns. Each window is computed afresh, so nothing that has left it can spoil a value. */
import type { ColumnValues } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** One value for each window of `length` values, from the values at `from` to `to`, both included. O(n * length). */
export function overWindows(
  source: ColumnValues,
  length: number,
  value: (values: Float64Array, from: number, to: number) => number,
): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) out[i] = value(values, i - length + 1, i);
  return { values: out, first };
}

/** One value a bar from the values of several columns at that bar. */
export function barByBar(columns: readonly ColumnValues[], value: (i: number) => number): ColumnValues {
  let first = 0;
  for (let k = 0; k < columns.length; k++) first = Math.max(first, columns[k]!.first);
  const n = columns[0]!.values.length;
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) out[i] = value(i);
  return { values: out, first };
}

/** Puts a neutral value, the standing value itself by default, where all of a window's values are one and the same. In place. */
export function whereStill(out: ColumnValues, source: ColumnValues, length: number, neutral?: number): ColumnValues {
  const { values } = source;
  const start = startAt(source.first);
  let still = stillUpTo(source, start - 1, length);
  for (let i = start; i < values.length; i++) {
    still = i > source.first && values[i] === values[i - 1] ? still + 1 : 1;
    if (still >= length && i >= out.first) out.values[i] = neutral ?? values[i]!;
  }
  return out;
}

/** How many values that end with the one at `at` are one and the same; no more than `most` are counted. */
export function stillUpTo({ values, first }: ColumnValues, at: number, most: number): number {
  if (at < first) return 0;
  let still = 1;
  for (let i = at; i > first && still < most && values[i] === values[i - 1]; i--) still++;
  return still;
}

/** a + factor * b. */
export function plusTimes(a: ColumnValues, factor: number, b: ColumnValues): ColumnValues {
  const first = Math.max(a.first, b.first);
  const [x, y] = [a.values, b.values];
  const n = x.length;
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) out[i] = x[i]! + factor * y[i]!;
  return { values: out, first };
}

export function meanOf(values: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let k = from; k <= to; k++) sum += values[k]!;
  return sum / (to - from + 1);
}

/** Mean squared distance from the mean, two passes. */
export function varianceOf(values: Float64Array, from: number, to: number): number {
  const mean = meanOf(values, from, to);
  let squares = 0;
  for (let k = from; k <= to; k++) squares += (values[k]! - mean) ** 2;
  return squares / (to - from + 1);
}
