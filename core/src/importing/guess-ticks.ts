/** Finds out how a file of ticks is laid out: by its heads, or where no line has as many numbers as a bar. */
import { PlanTesterError } from "../errors.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { columnsNamed, columnsOfSize, type TickRole } from "./column-names.ts";
import { guessDateFormat } from "./date-order.ts";
import type { TickLayout } from "./file-layout.ts";
import { guessDecimal } from "./guess-decimal.ts";
import { askDateOrder, type LayoutGuess, type LayoutQuestion } from "./layout-question.ts";
import { isNumeric, parseRows, type SplitText, splitTicks } from "./split-text.ts";
import { timeColumns } from "./time-columns.ts";
import { TimeReader } from "./time-text.ts";

type Prices = Pick<TickLayout, TickRole | "volume">;

/**
 * @param later as of `guessLayout`
 * @returns null where the file is none of ticks
 * @throws PlanTesterError bad-input where each line has one price and a date alone
 */
export function guessTicks(text: string, zone: string, later: string): LayoutGuess | null {
  const split = splitTicks(text);
  if (!split) return null;
  const { delimiter, headerLines, names, sample } = split;
  const questions: LayoutQuestion[] = [];
  const { time, clock, zoneColumn, next } = timeColumns(names, sample[0]!);
  const prices = pricesByName(names, [time, clock, zoneColumn]) ?? pricesByPlace(split, next, questions);
  if (!prices) return null;
  const laterRows = later === "" ? [] : parseRows(later, delimiter).filter((row) => row.length >= sample[0]!.length);
  const all = [...sample, ...laterRows];
  const dates = guessDateFormat(all.map((row) => row[time] ?? ""));
  const { price, bid, ask, volume } = prices;
  const decimal = guessDecimal(all, [price, bid, ask, volume], (numbers) => numbers.every((one) => one >= 0), questions);
  const layout: TickLayout = {
    ...{ kind: "ticks", delimiter, headerLines, time, clock, zoneColumn, ...prices },
    ...{ dateFormat: dates.format, decimal, zone, stamp: "open" },
  };
  if (!hasTimesOfDay(layout, all)) {
    if (names.length === 0) return null;
    throw new PlanTesterError(
      "bad-input",
      "Each line has one price, and a date without a time of day. Bars of a day need open, high, low and close; ticks need the time of each.",
      {},
    );
  }
  const dateQuestion = askDateOrder(dates);
  if (dateQuestion) questions.push(dateQuestion);
  return { layout, questions, rows: split.rows };
}

function pricesByName(names: readonly string[], used: readonly (number | null)[]): Prices | null {
  const free = (columns: readonly number[]): number | null => columns.find((column) => !used.includes(column)) ?? null;
  const [price, bid, ask] = (["price", "bid", "ask"] as const).map((role) => free(columnsNamed(names, role)));
  if (price === null && bid === null && ask === null) return null;
  return { price: price!, bid: bid!, ask: ask!, volume: free(columnsOfSize(names)) };
}

/** Without heads: one number is the price; of two the second is a size or the ask, which only the owner knows. */
function pricesByPlace({ sample, names }: SplitText, next: number, questions: LayoutQuestion[]): Prices | null {
  const row = sample[0]!;
  const numbers = row.flatMap((field, column) => (column >= next && isNumeric(field) ? [column] : []));
  if (names.length > 0 || numbers.length === 0 || numbers.length > 3) return null;
  const [first, second = null, third = null] = numbers;
  const traded: Prices = { price: first!, bid: null, ask: null, volume: second };
  const quoted: Prices = { price: null, bid: first!, ask: second, volume: third };
  if (second === null) return traded;
  const isQuote = sample.every((one) => {
    const [bid, ask] = [Number(one[first!]), Number(one[second])];
    return ask >= bid && ask < bid * 1.05;
  });
  const answers = [
    { label: "Bid and ask", layout: quoted },
    { label: third === null ? "The price and its size" : "The price, its size, and something else", layout: traded },
  ];
  questions.push({
    about: "columns",
    text: `No header says what the columns ${numbers.map((column) => column + 1).join(" and ")} are.`,
    answers: isQuote ? answers : answers.reverse(),
  });
  return isQuote ? quoted : traded;
}

function hasTimesOfDay({ dateFormat, time, clock }: TickLayout, rows: readonly (readonly string[])[]): boolean {
  if (clock !== null) return true;
  const reader = new TimeReader(dateFormat, "UTC");
  return rows.some((row) => {
    const bytes = new TextEncoder().encode(row[time] ?? "");
    const at = reader.read(bytes, 0, bytes.length);
    return !Number.isNaN(at) && at % DAY_MS !== 0;
  });
}
