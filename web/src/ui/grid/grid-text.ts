/** A list as text: the columns that are shown, in their order; numbers bare, so that a spreadsheet takes them for numbers. */
import { type Cell, delimited } from "../../lib/cells.ts";
import type { Grid, GridColumn, GridId } from "./use-grid.ts";

const cellOf = <Row>({ value, text }: GridColumn<Row>, row: Row): Cell | undefined => (text ? text(row) : value?.(row));

/** @param rows all of the list's, or some */
export function gridText<Row, Id extends GridId>(
  { columns, rows: all }: Pick<Grid<Row, Id>, "columns" | "rows">,
  as: "tsv" | "csv",
  rows = all,
): string {
  const told = columns.filter(({ value, text }) => value ?? text);
  const fields = told.map(({ name, label }) => name ?? label);
  const data = rows.map((row) => told.map((column) => cellOf(column, row)));
  return delimited(fields, data, as === "tsv" ? "\t" : ",");
}

/** Rows in which each of the words stands, in whichever column. */
export function rowsWith<Row>(search: string, rows: readonly Row[], columns: readonly GridColumn<Row>[]): readonly Row[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return rows;
  return rows.filter((row) => {
    const text = columns
      .map((column) => cellOf(column, row) ?? "")
      .join("\n")
      .toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
