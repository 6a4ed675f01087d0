/** Where the text of a plan holds the rule sheet that made it: for those who need not read the sheet. */

export const SHEET_LINE = /^\/\/! sheet (\{.*)$/m;

/** Whether a plan's text was made by a rule sheet. */
export const hasSheet = (text: string): boolean => SHEET_LINE.test(text);

/** A plan's text without its sheet: what one goes on with in code. */
export const withoutSheet = (text: string): string => text.replace(/^\/\/! sheet .*\n?/m, "");
