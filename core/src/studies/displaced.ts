import type { ColumnValues } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** The column as it was `back` bars ago. */
export function displaced(column: ColumnValues, back: number): ColumnValues {
  const n = column.values.length;
  const values = newColumn(n, back);
  const start = Math.min(startAt(back), n);
  values.set(column.values.subarray(Math.max(0, start - back), Math.max(0, n - back)), start);
  return { values, first: column.first + back };
}
