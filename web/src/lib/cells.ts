/** Values as a spreadsheet takes them. */

export type Cell = string | number | boolean | null;

/** More digits than prices and money have, fewer than the noise of adding them up: 14.499999999999188 is 14.5. */
const SIGNIFICANT_DIGITS = 13;

/** What is undefined is empty. */
export function tidyCell(given: Cell | undefined): Cell {
  if (typeof given !== "number") return given ?? null;
  return Number.isFinite(given) ? Number(given.toPrecision(SIGNIFICANT_DIGITS)) : null;
}

/** Tags and notes are words of a plan, which may be another's: a spreadsheet must not take them for a formula. */
export const escaped = { newline: "\n", escapeFormulae: true } as const;
