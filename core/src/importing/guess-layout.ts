/**
 * Finds out how a file of bars is laid out from its first lines, and from later ones where days and months look alike. What
 * can be read in two ways is asked, never guessed.
 */
import { barProblem } from "../market/bars.ts";
import { columnsNamed } from "./column-names.ts";
import { guessDateFormat } from "./date-order.ts";
import type { BarLayout } from "./file-layout.ts";
import { guessDecimal } from "./guess-decimal.ts";
import { guessTicks } from "./guess-ticks.ts";
import { askDateOrder, type LayoutGuess, type LayoutQuestion } from "./layout-question.ts";
import { type DecimalSign, readNumber } from "./number-text.ts";
import { isNumeric, parseRows, type SplitText, splitText } from "./split-text.ts";
import { timeColumns } from "./time-columns.ts";

const PRICE_ROLES = ["open", "high", "low", "close"] as const;

/**
 * @param text the head of the file, whole lines
 * @param zone taken for times that name none
 * @param later lines from elsewhere in the file, which help where the head leaves a doubt
 * @throws PlanTesterError bad-input where no line holds a time and a price, or all lines one price a day
 */
export function guessLayout(text: string, zone: string, later = ""): LayoutGuess {
  const plain = text.replace(/^\ufeff/, "");
  const ticks = guessTicks(plain, zone, later);
  if (ticks) return ticks;
  const split = splitText(plain);
  const { delimiter, headerLines, names, sample } = split;
  const questions: LayoutQuestion[] = [];
  const roles = guessRoles(split, questions);
  const laterRows = later === "" ? [] : parseRows(later, delimiter).filter((row) => row.length >= sample[0]!.length);
  const all = [...sample, ...laterRows];
  const dates = guessDateFormat(all.map((row) => row[roles.time] ?? ""));
  const decimal = guessDecimal(all, [roles.open, roles.high, roles.low, roles.close, roles.volume], isBar, questions);
  const layout: BarLayout = {
    ...{ delimiter, headerLines, ...roles, dateFormat: dates.format, decimal, zone },
    spread: spreadOf(split, roles.close, decimal),
    stamp: /^(close time|end|end time)$/.test(names[roles.time] ?? "") ? "close" : "open",
  };
  const dateQuestion = askDateOrder(dates);
  if (dateQuestion) questions.push(dateQuestion);
  return { layout, questions, rows: split.rows };
}

/** With no volume among them. */
const isBar = ([open, high, low, close]: readonly number[]): boolean => barProblem(open!, high!, low!, close!, 0) === null;

type Roles = Pick<BarLayout, "time" | "clock" | "zoneColumn" | "open" | "high" | "low" | "close" | "volume">;

function guessRoles({ names, sample, headerLines }: SplitText, questions: LayoutQuestion[]): Roles {
  const row = sample[0]!;
  const { time, clock, zoneColumn, next } = timeColumns(names, row);
  const found = PRICE_ROLES.map((role) => columnsNamed(names, role).find((column) => column !== time && column !== clock) ?? -1);
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

/** Heads that name no open, high, low and close. */
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
  const missing = PRICE_ROLES.filter((_role, k) => (found[k] ?? -1) < 0).join(", ");
  const text =
    names.length > 0
      ? `The header names no ${missing}.${isLikely ? " By their numbers the columns after the time are open, high, low and close." : ""}`
      : `In ${sample.length - fits} of ${sample.length} lines the columns after the time can't be open, high, low and close.`;
  const [open, high, low, close] = byPlace;
  const asPlaced = { label: "Open, high, low, close in this order", layout: { open: open!, high: high!, low: low!, close: close! } };
  questions.push({ about: "columns", text, answers: isLikely ? [asPlaced] : [] });
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
