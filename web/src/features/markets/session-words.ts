/** Calendars as text, and back. */
import { minutesOfDay, type SessionCalendar } from "@plan-tester/core";

export const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** "Mon–Fri 07:00–20:00 Atlantic/Faroe"; with a break "Mon–Fri 09:00–12:00, 13:00–15:00 UTC". */
export function sessionWords({ weekly, zone, isAssumed }: Pick<SessionCalendar, "weekly" | "zone" | "isAssumed">): string {
  if (isAssumed) return "not known";
  const hoursOf = (day: number): string =>
    weekly.flatMap((session) => (session.day === day ? `${session.open}–${session.close}` : [])).join(", ");
  const days = [...new Set(weekly.map(({ day }) => day))];
  const hours = new Set(days.map(hoursOf));
  const consecutive = days.every((day, i) => i === 0 || day === (days[i - 1]! % 7) + 1);
  const dayWords =
    days.length > 1 && consecutive ? `${DAYS[days[0]! - 1]}–${DAYS[days.at(-1)! - 1]}` : days.map((day) => DAYS[day - 1]).join(", ");
  return `${dayWords} ${hours.size === 1 ? [...hours][0] : "at several hours"} ${zone}`;
}

/** "09:00", up to "24:00". */
export function isWallTime(text: string): boolean {
  try {
    minutesOfDay(text);
    return /^\d\d:\d\d$/.test(text);
  } catch {
    return false;
  }
}

const isDate = (text: string): boolean =>
  /^\d{4}-\d\d-\d\d$/.test(text) && !Number.isNaN(Date.parse(text)) && new Date(text).toISOString().startsWith(text);

export const datesText = (dates: readonly string[]): string => dates.join(" ");

/** Dates parted by spaces, commas or lines, each once, in order; null where one is none. */
export function datesIn(text: string): string[] | null {
  const dates = text.split(/[\s,;]+/).filter((part) => part !== "");
  return dates.every(isDate) ? [...new Set(dates)].sort() : null;
}

type EarlyCloses = SessionCalendar["earlyCloses"];

export const earlyText = (closes: EarlyCloses): string => closes.map(({ date, close }) => `${date} ${close}`).join(", ");

/** "2025-12-24 13:00", parted by commas or lines; null where one is none. */
export function earlyIn(text: string): EarlyCloses | null {
  const closes = text
    .split(/[,;\n]+/)
    .map((part) => part.trim())
    .filter((part) => part !== "")
    .map((part) => {
      const [date = "", close = ""] = part.split(/\s+/);
      return { date, close };
    });
  return closes.every(({ date, close }) => isDate(date) && isWallTime(close)) ? closes.sort((a, b) => a.date.localeCompare(b.date)) : null;
}

/** How long the longest day of a week is traded, minutes. */
export function sessionMinutes({ weekly }: Pick<SessionCalendar, "weekly">): number {
  const days = new Map<number, number>();
  for (const { day, open, close } of weekly) {
    const [from, to] = [minutesOfDay(open), minutesOfDay(close)];
    days.set(day, (days.get(day) ?? 0) + (to > from ? to - from : to + 1440 - from));
  }
  return Math.max(0, ...days.values());
}
