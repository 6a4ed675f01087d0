/** Periods that move with the data, in words: "last 3 months" is other days once a new one has come. */

export const MOVING_UNITS = ["weeks", "months", "years"] as const;
export type MovingUnit = (typeof MOVING_UNITS)[number];

/** The words of the sentence that are moving periods. */
export const MOVING_PERIOD = "^(all|to the end|year to date|last [1-9][0-9]{0,2} (weeks|months|years))$";

/** Days that bars are there of, both included, and what of them is held out. */
export interface Coverage {
  readonly firstDate: string;
  readonly lastDate: string;
  /** First day that is kept unseen; "" for none. */
  readonly reservedFrom: string;
}

export interface Days {
  readonly from: string;
  readonly to: string;
}

const isoOf = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
const DAY_MS = 86_400_000;
const msOf = (date: string): number => Date.parse(`${date}T00:00:00Z`);

/** The same day so many months before; the last one of a month that is too short. */
function monthsBefore(date: string, months: number): string {
  const [year, month, day] = date.split("-").map(Number) as [number, number, number];
  const last = new Date(Date.UTC(year, month - months, 0)).getUTCDate();
  return isoOf(Date.UTC(year, month - 1 - months, Math.min(day, last)));
}

function firstOf(words: string, from: string, to: string, { firstDate }: Coverage): string {
  if (words === "all") return firstDate;
  if (words === "to the end") return from;
  if (words === "year to date") return `${to.slice(0, 4)}-01-01`;
  const [, count, unit] = words.split(" ") as [string, string, MovingUnit];
  const before =
    unit === "weeks" ? isoOf(msOf(to) - 7 * DAY_MS * Number(count)) : monthsBefore(to, Number(count) * (unit === "years" ? 12 : 1));
  return isoOf(msOf(before) + DAY_MS);
}

/**
 * The days that a moving period is now; it ends with the data, or ahead of what is held out.
 * @param words as `MOVING_PERIOD` has them @param from the first day, for "to the end"
 */
export function daysOf(words: string, from: string, coverage: Coverage): Days {
  const { firstDate, lastDate, reservedFrom } = coverage;
  const to = reservedFrom && reservedFrom <= lastDate ? isoOf(msOf(reservedFrom) - DAY_MS) : lastDate;
  // Where all is held out, or the first day lies behind the last, that is refused where it is run.
  const [, later] = [firstOf(words, from, to, coverage), firstDate].sort();
  return { from: later!, to };
}
