/** Values as a spreadsheet takes them. */
import Papa from "papaparse";

export type Cell = string | number | boolean | null;

/** More digits than prices and money have, fewer than the noise of adding them up: 14.499999999999188 is 14.5. */
const SIGNIFICANT_DIGITS = 13;

/** What is undefined is empty. */
export function tidyCell(given: Cell | undefined): Cell {
  if (typeof given !== "number") return given ?? null;
  return Number.isFinite(given) ? Number(given.toPrecision(SIGNIFICANT_DIGITS)) : null;
}

/** A table as text. Tags and notes are words of a plan, which may be another's: a spreadsheet must not take them for a formula. */
export const delimited = (fields: readonly string[], data: readonly (readonly (Cell | undefined)[])[], delimiter = ","): string =>
  `${Papa.unparse({ fields: [...fields], data: data.map((row) => row.map(tidyCell)) }, { delimiter, newline: "\n", escapeFormulae: true })}\n`;
