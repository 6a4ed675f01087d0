/** Calendars as text, and back. */
import { minutesOfDay, nameOfDay, type SessionCalendar } from "@plan-tester/core";

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

export type DayNames = NonNullable<SessionCalendar["names"]>;

/** "2026-05-04 Gull Monday", a line for each; dates alone in one line where none has a name. */
export function datesText(dates: readonly string[], names: DayNames = []): string {
  const isNamed = dates.some((date) => nameOfDay({ names }, date) !== "");
  return isNamed ? dates.map((date) => `${date} ${nameOfDay({ names }, date)}`.trim()).join("\n") : dates.join(" ");
}

export interface NamedDates {
  readonly dates: readonly string[];
  readonly names: DayNames;
}

/** Lines of a date with its name, or of dates parted by spaces, commas or semicolons; each once, in order; null where one is none. */
export function datesIn(text: string): NamedDates | null {
  const names = new Map<string, string>();
  for (const line of text.split("\n")) {
    const [, date, name] = /^\s*(\d{4}-\d\d-\d\d)\s+(?!\d{4}-)(.*\S)/.exec(line) ?? [];
    if (date && name) names.set(date, name);
    else for (const part of line.split(/[\s,;]+/)) if (part !== "") names.set(part, names.get(part) ?? "");
  }
  const dates = [...names.keys()].sort();
  return dates.every(isDate) && areShort(names) ? { dates, names: namesOf(names) } : null;
}

/** As long as a calendar takes them. */
const MOST_LETTERS = 60;
const areShort = (names: ReadonlyMap<string, string>): boolean => [...names.values()].every(({ length }) => length <= MOST_LETTERS);
const namesOf = (names: ReadonlyMap<string, string>): DayNames =>
  [...names].filter(([, name]) => name !== "").map(([date, name]) => ({ date, name }));

type EarlyCloses = SessionCalendar["earlyCloses"];

export const earlyText = (closes: EarlyCloses, names: DayNames = []): string =>
  closes.map(({ date, close }) => `${date} ${close} ${nameOfDay({ names }, date)}`.trim()).join("\n");

/** "2025-12-24 13:00 Midwinter Eve", parted by commas or lines; null where one is none. */
export function earlyIn(text: string): { readonly closes: EarlyCloses; readonly names: DayNames } | null {
  const names = new Map<string, string>();
  const closes = text
    .split(/\n|[,;](?=\s*\d{4}-)/)
    .map((part) => part.trim())
    .filter((part) => part !== "")
    .map((part) => {
      const [, date = "", close = "", name = ""] = /^(\S*)\s*(\S*)\s*(.*)$/.exec(part)!;
      names.set(date, name);
      return { date, close };
    });
  if (!closes.every(({ date, close }) => isDate(date) && isWallTime(close)) || !areShort(names)) return null;
  return { closes: closes.sort((a, b) => a.date.localeCompare(b.date)), names: namesOf(names) };
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
