/** What files of one source have in common, by which it is known how one of them was read. */
import type { LayoutGuess } from "./layout-question.ts";

const MOST_LETTERS = 600;

/** The delimiter, how many fields a line has and how its columns are headed; where they have no heads, which fields are numbers. */
export function shapeOf({ layout, rows }: LayoutGuess): string {
  const { delimiter, headerLines } = layout;
  const data = rows[Math.min(headerLines, rows.length - 1)] ?? [];
  const heads = headerLines > 0 ? rows[headerLines - 1]! : data.map((field) => (/^[-+]?[\d.,]+$/.test(field) ? "number" : "text"));
  const sign = delimiter === "\t" ? "tab" : delimiter;
  return [sign, data.length, ...heads.map((head) => head.toLowerCase())].join(" ").slice(0, MOST_LETTERS);
}
