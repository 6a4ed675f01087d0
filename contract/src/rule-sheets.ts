/**
 * A plan made by a rule sheet is the program that the sheet writes, with the sheet itself in a last line of its own, which a
 * program skips as a comment. So whatever keeps, compares, runs or shows a plan's text needs to know nothing of sheets, and a
 * run that was made by one is the same run however sheets are written later.
 */
import { type RuleSheet, writeProgram } from "@plan-tester/core";
import { SHEET_LINE } from "./sheet-line.ts";

/** The sheet of a plan's text, which the server has checked when it took it in; null where no sheet made it. */
export function sheetIn(text: string): RuleSheet | null {
  const json = SHEET_LINE.exec(text)?.[1];
  return json === undefined ? null : (JSON.parse(json) as RuleSheet);
}

/** JSON in one line that holds nothing a program may not hold, comments included. */
const inComment = (sheet: RuleSheet): string =>
  JSON.stringify(sheet)
    .replace(/\bimport(\s*)\(/g, "import$1\\u0028")
    .replaceAll("<!--", "\\u003c!--")
    .replaceAll("-->", "--\\u003e")
    .replaceAll("\u2028", "\\u2028")
    .replaceAll("\u2029", "\\u2029");

/** The text of a plan that a sheet makes. @throws as `writeProgram` */
export const textOfSheet = (sheet: RuleSheet): string => `${writeProgram(sheet).source}//! sheet ${inComment(sheet)}\n`;
