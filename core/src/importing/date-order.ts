/** Which form the dates of a file have, and whether day and month can be told apart. */
import { DAY_MS } from "../market/timeframe.ts";
import { type DateFormat, MONTHS, TimeReader } from "./time-text.ts";

export interface DateGuess {
  readonly format: DateFormat;
  /** Orders that fit every date as well. */
  readonly others: readonly DateFormat[];
  readonly example: string;
  /** What makes `format` the likelier one; begins with a space, empty where nothing does. */
  readonly why: string;
}

const encoder = new TextEncoder();
const MONTH_WORD = new RegExp(`(^|[\\s\\d./,-])(${MONTHS.join("|")})`, "i");

/** @param values the time column of some lines, in the file's order */
export function guessDateFormat(values: readonly string[]): DateGuess {
  const example = values.find((value) => /\d/.test(value)) ?? "";
  const only = (format: DateFormat): DateGuess => ({ format, others: [], example, why: "" });
  if (/^\d{9,10}(\.\d*)?$/.test(example)) return only("unix-s");
  if (/^\d{12,13}(\.\d*)?$/.test(example) && !isCompact(example)) return only("unix-ms");
  if (/^\d{15,16}(\.\d*)?$/.test(example)) return only("unix-us");
  if (/^\d{18,19}$/.test(example)) return only("unix-ns");
  if (/^[1-9]\d{4}(\.\d+)?$/.test(example)) return only("serial");
  if (/^\d{4}-?W\d{2}/i.test(example)) return only("week");
  if (MONTH_WORD.test(example)) return only("named");
  if (/^\d{8}(?!\d)/.test(example) || isCompact(example)) return only("compact");
  if (/^\d{4}-/.test(example)) return only("iso");
  if (/^\d{4}\D/.test(example)) return only("ymd");
  return orderOf(values, example);
}

/** 202503310715 and 20250331071500, which are no milliseconds. */
const isCompact = (text: string): boolean => /^(19|20)\d\d(0[1-9]|1[0-2])(0[1-9]|[12]\d|3[01])([01]\d|2[0-4])[0-5]\d([0-5]\d)?$/.test(text);

/** Orders of day, month and year that read the most dates; of those, the ones in which time goes one way. */
function orderOf(values: readonly string[], example: string): DateGuess {
  const hasShortYear = /^\d{1,2}\D\s*\d{1,2}\D\s*\d{2}(?!\d)/.test(example);
  const orders: DateFormat[] = hasShortYear ? ["dmy", "mdy", "ymd"] : ["dmy", "mdy"];
  const readings = orders.map((order) => {
    const reader = new TimeReader(order, "UTC");
    const times = values
      .map((value) => encoder.encode(value))
      .map((bytes) => reader.read(bytes, 0, bytes.length))
      .filter((at) => !Number.isNaN(at));
    const days = times.map((at) => Math.floor(at / DAY_MS));
    const steps = days.slice(1).map((day, i) => day - days[i]!);
    const [rises, falls] = [steps.filter((step) => step > 0).length, steps.filter((step) => step < 0).length];
    const far = steps.filter((step) => Math.abs(step) > 10).length;
    return { order, read: times.length, turns: Math.min(rises, falls), far, moves: rises + falls };
  });
  const most = Math.max(...readings.map(({ read }) => read));
  const fitting = readings.filter(({ read }) => read === most);
  const turns = Math.min(...fitting.map((reading) => reading.turns));
  // A few lines out of order may stand in any file; an order that turns back and forth is none.
  const inOrder = fitting.filter((reading) => reading.turns <= turns + 0.02 * reading.moves);
  const [best, ...others] = inOrder.sort((a, b) => a.far / (a.moves || 1) - b.far / (b.moves || 1));
  const isNearer = others.length > 0 && best!.moves > 0 && others.every(({ far }) => far > best!.far);
  const words = best!.order === "dmy" ? "the day first" : best!.order === "mdy" ? "the month first" : "the year first";
  return {
    format: best!.order,
    others: others.map(({ order }) => order),
    example,
    why: isNearer ? ` With ${words} the dates follow one another closely; otherwise they lie weeks apart.` : "",
  };
}
