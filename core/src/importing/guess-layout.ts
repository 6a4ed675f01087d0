/**
 * Finds out how a file of bars is laid out from its first lines, and from later ones where days and months look alike. What
 * can be read in two ways is asked, never guessed.
 */
import Papa from "papaparse";
import { PlanTesterError } from "../errors.ts";
import { barProblem } from "../market/bars.ts";
import { columnsNamed, isTickName, plainName } from "./column-names.ts";
import type { CsvLayout } from "./csv-bars.ts";
import { type DateGuess, guessDateFormat } from "./date-order.ts";
import { type DecimalSign, readNumber } from "./number-text.ts";

/** Something about a file that only its owner knows. */
export interface LayoutQuestion {
  readonly about: "date-order" | "decimal" | "columns" | "volume";
  /** Why both readings fit. */
  readonly text: string;
  /** The likelier one first. Empty where only the roles of the columns can answer. */
  readonly answers: readonly { readonly label: string; readonly layout: Partial<CsvLayout> }[];
}

export interface LayoutGuess {
  readonly layout: CsvLayout;
  readonly questions: readonly LayoutQuestion[];
  /** The lines that it was told from, split into fields; blank ones left out. */
  readonly rows: readonly (readonly string[])[];
}

const DELIMITERS = [";", "\t", "|", ","] as const;
const MOST_HEADER_LINES = 10;
const LINES_LOOKED_AT = 400;
const PRICE_ROLES = ["open", "high", "low", "close"] as const;

interface SplitText {
  readonly delimiter: string;
  /** Physical lines before the first line of numbers. */
  readonly headerLines: number;
  readonly names: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: readonly (readonly string[])[];
}

/**
 * @param text the head of the file, whole lines
 * @param zone taken for times that name none
 * @param later lines from elsewhere in the file, which help where the head leaves a doubt
 * @throws PlanTesterError bad-input where no line holds a time and four numbers
 */
export function guessLayout(text: string, zone: string, later = ""): LayoutGuess {
  const split = splitText(text.replace(/^\ufeff/, ""));
  const { delimiter, headerLines, names, sample } = split;
  const questions: LayoutQuestion[] = [];
  const roles = guessRoles(split, questions);
  const laterRows = later === "" ? [] : parseRows(later, delimiter).filter((row) => row.length >= sample[0]!.length);
  const all = [...sample, ...laterRows];
  const dates = guessDateFormat(all.map((row) => row[roles.time] ?? ""));
  const decimal = guessDecimal(all, roles, questions);
  const layout: CsvLayout = {
    ...{ delimiter, headerLines, ...roles, dateFormat: dates.format, decimal, zone },
    spread: spreadOf(split, roles.close, decimal),
    stamp: /^(close time|end|end time)$/.test(names[roles.time] ?? "") ? "close" : "open",
  };
  const dateQuestion = askDateOrder(dates);
  if (dateQuestion) questions.push(dateQuestion);
  return { layout, questions, rows: split.rows };
}

const parseRows = (text: string, delimiter: string): string[][] =>
  Papa.parse<string[]>(text, { delimiter, skipEmptyLines: true }).data.map((row) => row.map((field) => field.trim()));

const isNumeric = (field: string): boolean => !Number.isNaN(readNumber(field, ".")) || !Number.isNaN(readNumber(field, ","));

/** The delimiter under which most lines hold a time and four numbers, all with as many fields. */
function splitText(text: string): SplitText {
  const lines = text.includes("\n") ? text.split("\n") : text.split("\r");
  let best: (SplitText & { fit: number }) | null = null;
  for (const delimiter of DELIMITERS) {
    const rows = Papa.parse<string[]>(lines.slice(0, LINES_LOOKED_AT).join("\n"), { delimiter }).data.map((row) =>
      row.map((field) => field.trim()),
    );
    const isData = (row: readonly string[]): boolean => row.length >= 5 && row.filter(isNumeric).length >= 4;
    const first = rows.findIndex(isData);
    if (first < 0) continue;
    const sample = rows.slice(first).filter(isData);
    const width = sample[0]!.length;
    const fit = sample.filter((row) => row.length === width).length;
    if (best && fit <= best.fit) continue;
    const names = rows
      .slice(0, first)
      .reverse()
      .find((row) => row.some((field) => /\p{L}/u.test(field)) && row.length >= 5);
    const kept = rows.filter((row) => row.some((field) => field !== ""));
    best = { delimiter, headerLines: first, names: (names ?? []).map(plainName), sample, rows: kept, fit };
  }
  if (best && best.headerLines <= MOST_HEADER_LINES) return best;
  throw new PlanTesterError(
    "bad-input",
    best
      ? `The first bar stands on line ${best.headerLines + 1}; ${MOST_HEADER_LINES} lines may stand ahead of it. Remove the others.`
      : `No line holds a time and four prices with a comma, semicolon, tab or bar between them.${exampleOf(lines)}`,
    {},
  );
}

const exampleOf = (lines: readonly string[]): string => {
  const line = lines.find((one) => one.trim() !== "")?.trim();
  const quotes = (line ?? "").split(/[,;\t|]/).filter((head) => isTickName(plainName(head)));
  if (quotes.length > 0) return ` Its columns ${quotes.join(", ")} are prices of quotes or trades, not of bars.`;
  return line ? ` The file begins with "${line.slice(0, 60)}".` : " The file is empty.";
};

type Roles = Pick<CsvLayout, "time" | "clock" | "zoneColumn" | "open" | "high" | "low" | "close" | "volume">;

function guessRoles({ names, sample, headerLines }: SplitText, questions: LayoutQuestion[]): Roles {
  const row = sample[0]!;
  const dateNames = ["date", "datum", "fecha", "day", "trade date", "trading day"];
  const named = columnsNamed(names, "time");
  let time = names.findIndex((name) => dateNames.includes(name));
  if (time < 0) time = named[0] ?? -1;
  if (time < 0)
    time = Math.max(
      0,
      row.findIndex((field) => !isNumeric(field) || /^\d{8,19}$/.test(field)),
    );
  const clockNamed = columnsNamed(names, "clock").find((column) => column !== time);
  const holdsClock = (column: number): boolean =>
    CLOCK.test(row[column] ?? "") || (clockNamed === column && CLOCK_WITHOUT_COLON.test(row[column] ?? ""));
  const clock = [clockNamed, time + 1].find((column) => column !== undefined && holdsClock(column)) ?? null;
  const zoneColumn =
    columnsNamed(names, "zoneColumn").find((column) => column !== time && column !== clock) ??
    (names.length === 0 ? unnamedZone(row, clock ?? time) : null);
  const found = PRICE_ROLES.map((role) => columnsNamed(names, role).find((column) => column !== time && column !== clock) ?? -1);
  const next = Math.max(time, clock ?? 0, zoneColumn !== null && zoneColumn <= (clock ?? time) + 1 ? zoneColumn : 0) + 1;
  const isKnown = found.every((column) => column >= 0);
  const [open, high, low, close] = isKnown ? found : [next, next + 1, next + 2, next + 3];
  const used = [time, clock, zoneColumn, open, high, low, close];
  if (!isKnown) askColumns(names, sample, found, [open!, high!, low!, close!], questions);
  const lastNamed = names.length > 0 && headerLines > 0 && row.length > names.length + 1;
  if (lastNamed)
    questions.push({
      about: "columns",
      text: `The lines have ${row.length} fields and the header has ${names.length}. If numbers have a decimal comma and fields have commas between them, save the file with semicolons; else say what each column is.`,
      answers: [],
    });
  const volume =
    isKnown || columnsNamed(names, "volume").length > 0
      ? (columnsNamed(names, "volume")[0] ?? null)
      : unnamedVolume(names, sample, used, questions);
  const prices = { open: open!, high: high!, low: low!, close: close! };
  return { time, clock, zoneColumn, ...prices, volume };
}

/** A spread in points or ticks is not taken for one in price: it lies far above the price's own part. */
const MOST_SPREAD = 0.05;

function spreadOf({ names, sample }: SplitText, close: number, decimal: DecimalSign): number | null {
  const [column] = columnsNamed(names, "spread");
  if (column === undefined) return null;
  const isPrice = sample.every((row) => {
    const [spread, price] = [readNumber(row[column] ?? "", decimal), readNumber(row[close] ?? "", decimal)];
    return spread >= 0 && spread <= MOST_SPREAD * price;
  });
  return isPrice ? column : null;
}

/** A time of day, whatever stands behind it. Only a head can tell 715 and 7.15 from numbers. */
const CLOCK = /^\d{1,2}:\d{2}(?!\d)/;
const CLOCK_WITHOUT_COLON = /^(\d{1,6}|\d{1,2}\.\d{2}(\.\d{2})?)$/;

const unnamedZone = (row: readonly string[], after: number): number | null =>
  /^(UTC|GMT)?[+-]\d{1,2}:\d{2}$|^(UTC|GMT|Z|CET|CEST)$/i.test(row[after + 1] ?? "") ? after + 1 : null;

/** Heads that name no open, high, low and close: quotes are refused, other words are asked about. */
function askColumns(
  names: readonly string[],
  sample: readonly (readonly string[])[],
  found: readonly number[],
  byPlace: readonly number[],
  questions: LayoutQuestion[],
): void {
  const fits = sample.filter((row) => {
    const [open, high, low, close] = byPlace.map((column) => readEither(row[column]));
    return barProblem(open!, high!, low!, close!, 0) === null;
  }).length;
  const isLikely = fits >= 0.9 * sample.length;
  if (names.length === 0 && isLikely) return;
  const quotes = names.filter(isTickName);
  const missing = PRICE_ROLES.filter((_role, k) => (found[k] ?? -1) < 0).join(", ");
  const text =
    quotes.length > 0
      ? `The columns ${quotes.join(", ")} are prices of quotes or trades, not of bars: ${missing} are missing.`
      : names.length > 0
        ? `The header names no ${missing}.${isLikely ? " By their numbers the columns after the time are open, high, low and close." : ""}`
        : `In ${sample.length - fits} of ${sample.length} lines the columns after the time can't be open, high, low and close.`;
  const [open, high, low, close] = byPlace;
  const asPlaced = { label: "Open, high, low, close in this order", layout: { open: open!, high: high!, low: low!, close: close! } };
  questions.push({ about: "columns", text, answers: quotes.length === 0 && isLikely ? [asPlaced] : [] });
}

function readEither(field: string | undefined): number {
  const value = readNumber(field ?? "", ".");
  return Number.isNaN(value) ? readNumber(field ?? "", ",") : value;
}

/** The volume where no head names it: one number behind the prices is it by custom, of several none is. */
function unnamedVolume(
  names: readonly string[],
  sample: readonly (readonly string[])[],
  used: readonly (number | null | undefined)[],
  questions: LayoutQuestion[],
): number | null {
  const row = sample[0]!;
  const close = used.at(-1)!;
  const free = row.flatMap((field, column) => (column > close && !used.includes(column) && isNumeric(field) ? [column] : []));
  // Case: a price adjusted for something lies near the close, where a volume never stays.
  const isNearPrice = (column: number): boolean =>
    sample.every((one) => Math.abs(readEither(one[column]) / readEither(one[close]) - 1) < 0.5) && sample.length > 2;
  const candidates = free.filter((column) => !isNearPrice(column));
  if (names.length > 0 || candidates.length === 0) return null;
  if (candidates.length === 1) return candidates[0]!;
  questions.push({
    about: "volume",
    text: `No header says which of the columns ${candidates.map((column) => column + 1).join(", ")} is the volume; spread and open interest look like it.`,
    answers: [
      ...candidates.map((column) => ({ label: `Column ${column + 1} is the volume`, layout: { volume: column } })),
      { label: "There is no volume", layout: { volume: null } },
    ],
  });
  return candidates[0]!;
}

/** A number's signs: which one parts the decimals, or only may. */
function signOf(field: string): { sure: DecimalSign } | { maybe: DecimalSign } | null {
  const plain = field.replace(/^[+-]/, "");
  const [points, commas] = [plain.split(".").length - 1, plain.split(",").length - 1];
  if (points + commas === 0) return null;
  if (points > 0 && commas > 0) return { sure: plain.lastIndexOf(".") > plain.lastIndexOf(",") ? "." : "," };
  const [own, other]: [DecimalSign, DecimalSign] = points > 0 ? [".", ","] : [",", "."];
  if (points + commas > 1) return { sure: other };
  return /^[1-9]\d{0,2}[.,]\d{3}$/.test(plain) ? { maybe: own } : { sure: own };
}

function guessDecimal(rows: readonly (readonly string[])[], roles: Roles, questions: LayoutQuestion[]): DecimalSign {
  const { open, high, low, close, volume } = roles;
  const sure = { ".": 0, ",": 0 };
  const maybe = new Map<DecimalSign, string>();
  for (const row of rows)
    for (const column of [open, high, low, close, volume]) {
      const sign = signOf(column === null ? "" : (row[column] ?? ""));
      if (sign && "sure" in sign) sure[sign.sure]++;
      else if (sign && !maybe.has(sign.maybe)) maybe.set(sign.maybe, row[column!]!);
    }
  if (sure["."] !== sure[","]) return sure["."] > sure[","] ? "." : ",";
  const [first] = maybe;
  if (!first) return ".";
  const readings = ([".", ","] as const).filter((decimal) => {
    const valid = rows.filter((row) => {
      const [o, h, l, c] = [open, high, low, close].map((column) => readNumber(row[column] ?? "", decimal));
      return barProblem(o!, h!, l!, c!, 0) === null;
    });
    return valid.length >= 0.9 * rows.length;
  });
  if (readings.length === 1) return readings[0]!;
  const [own, example] = first;
  const other = own === "." ? "," : ".";
  const [whole, rest] = example.split(own);
  questions.push({
    about: "decimal",
    text: `"${example}" can be ${whole} and ${rest} thousandths or ${whole}${rest} whole.`,
    answers: [
      { label: `${whole}.${rest}`, layout: { decimal: own } },
      { label: `${whole}${rest}`, layout: { decimal: other } },
    ],
  });
  return own;
}

function askDateOrder({ format, others, example, why }: DateGuess): LayoutQuestion | null {
  if (others.length === 0) return null;
  const words = { dmy: "day, month, year", mdy: "month, day, year", ymd: "year, month, day" } as const;
  return {
    about: "date-order",
    text: `"${example}" and every other date of the file can be read in more than one order.${why}`,
    answers: [format, ...others].map((one) => ({ label: words[one as keyof typeof words], layout: { dateFormat: one } })),
  };
}
