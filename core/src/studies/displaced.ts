import { type ColumnValues, newColumn } from "./definition.ts";

/** The column as it was `back` bars ago. */
export function displaced(column: ColumnValues, back: number): ColumnValues {
  const n = column.values.length;
  const values = newColumn(n, back);
  values.set(column.values.subarray(0, Math.max(0, n - back)), Math.min(back, n));
  return { values, first: column.first + back };
}
