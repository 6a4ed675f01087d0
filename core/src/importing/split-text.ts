/** The lines of a file split into fields, by the delimiter that fits best. */
import Papa from "papaparse";
import { PlanTesterError } from "../errors.ts";
import { columnsNamed, type NamedRole, plainName } from "./column-names.ts";
import { readNumber } from "./number-text.ts";

const DELIMITERS = [";", "\t", "|", ","] as const;
const MOST_HEADER_LINES = 10;
const LINES_LOOKED_AT = 400;

export interface SplitText {
  readonly delimiter: string;
  /** Physical lines before the first line of numbers. */
  readonly headerLines: number;
  readonly names: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: readonly (readonly string[])[];
}

export const parseRows = (text: string, delimiter: string): string[][] =>
  Papa.parse<string[]>(text, { delimiter, skipEmptyLines: true }).data.map((row) => row.map((field) => field.trim()));

export const isNumeric = (field: string): boolean => !Number.isNaN(readNumber(field, ".")) || !Number.isNaN(readNumber(field, ","));

type DataTest = (row: readonly string[]) => boolean;

const isOfBar: DataTest = (row) => row.length >= 5 && row.filter(isNumeric).length >= 4;
const isOfTick: DataTest = (row) => row.length >= 2 && row.some(isNumeric);

/** The delimiter under which most lines hold data, all with as many fields. @param least fields of a head */
function bestSplit(lines: readonly string[], isData: DataTest, least: number): SplitText | null {
  let best: (SplitText & { fit: number }) | null = null;
  for (const delimiter of DELIMITERS) {
    const rows = Papa.parse<string[]>(lines.slice(0, LINES_LOOKED_AT).join("\n"), { delimiter }).data.map((row) =>
      row.map((field) => field.trim()),
    );
    const first = rows.findIndex(isData);
    if (first < 0) continue;
    const sample = rows.slice(first).filter(isData);
    const width = sample[0]!.length;
    const fit = sample.filter((row) => row.length === width).length;
    if (best && fit <= best.fit) continue;
    const names = rows
      .slice(0, first)
      .reverse()
      .find((row) => row.some((field) => /\p{L}/u.test(field)) && row.length >= least);
    const kept = rows.filter((row) => row.some((field) => field !== ""));
    best = { delimiter, headerLines: first, names: (names ?? []).map(plainName), sample, rows: kept, fit };
  }
  return best;
}

const linesOf = (text: string): string[] => (text.includes("\n") ? text.split("\n") : text.split("\r"));

/** A file of bars. @throws PlanTesterError bad-input where no line holds a time and four numbers */
export function splitText(text: string): SplitText {
  const lines = linesOf(text);
  const best = bestSplit(lines, isOfBar, 5);
  if (best && best.headerLines <= MOST_HEADER_LINES) return best;
  throw new PlanTesterError(
    "bad-input",
    best
      ? `The first bar stands on line ${best.headerLines + 1}; ${MOST_HEADER_LINES} lines may stand ahead of it. Remove the others.`
      : `No line holds a time and four prices with a comma, semicolon, tab or bar between them.${exampleOf(lines)}`,
    {},
  );
}

/** A file of ticks: its heads name a price, a bid or an ask and not those of a bar, or no line has the numbers of a bar. */
export function splitTicks(text: string): SplitText | null {
  const lines = linesOf(text);
  const split = bestSplit(lines, isOfTick, 2);
  if (!split || split.headerLines > MOST_HEADER_LINES) return null;
  const { names } = split;
  if (names.length === 0) return bestSplit(lines, isOfBar, 5) ? null : split;
  const has = (role: NamedRole): boolean => columnsNamed(names, role).length > 0;
  const isOfBars = has("open") || has("high") || has("low");
  return !isOfBars && (has("price") || has("bid") || has("ask")) ? split : null;
}

const exampleOf = (lines: readonly string[]): string => {
  const line = lines.find((one) => one.trim() !== "")?.trim();
  return line ? ` The file begins with "${line.slice(0, 60)}".` : " The file is empty.";
};
