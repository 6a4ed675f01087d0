/** Dates of sessions, as the user writes them: the order of day and month is never guessed. */
import { addDays, addMonths, format, isValid, parse } from "date-fns";

const FORMS = ["yyyy-MM-dd", "d MMM yyyy", "d MMMM yyyy"];
const ISO = FORMS[0]!;
/** Before it, a year is still being typed. */
const FIRST_YEAR = 1900;

/** "2025-03-03" of "3 Mar 2025", "3 March 2025" or the same; null for what is none of these, or no day at all. */
export function readDate(text: string): string | null {
  const given = text.trim().replace(/\bsept\b/i, "Sep");
  for (const form of FORMS) {
    const date = parse(given, form, new Date(2000, 0, 1));
    // Of "2025-03-1" the other digit may still come.
    const isWhole = form !== ISO || given.length === ISO.length;
    if (isWhole && isValid(date) && date.getFullYear() >= FIRST_YEAR) return format(date, ISO);
  }
  return null;
}

export const dayOf = (date: string): Date => parse(date, ISO, new Date(2000, 0, 1));
export const dateOf = (day: Date): string => format(day, ISO);
export const shifted = (date: string, by: { readonly days?: number; readonly months?: number }): string =>
  dateOf(addMonths(addDays(dayOf(date), by.days ?? 0), by.months ?? 0));
