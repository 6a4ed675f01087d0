/** Whether an instrument trades at a time, until when, and why not. */
import { isoDate, layOutSessions, type SessionCalendar, utcToWall } from "./calendar.ts";
import { DAY_MS } from "./timeframe.ts";

export type ClosedWhy = "holiday" | "weekend" | "break" | "out of hours";

export interface TradingAt {
  readonly isOpen: boolean;
  /** When it closes, or opens next; null where it does not within three weeks. */
  readonly untilMs: number | null;
  /** null while it is open. */
  readonly why: ClosedWhy | null;
  /** What the holiday is called; "" where it has no name, and of any other day. */
  readonly name: string;
}

/** What a special day is called; "" where it has no name. */
export const nameOfDay = ({ names = [] }: Pick<SessionCalendar, "names">, date: string): string =>
  names.find((named) => named.date === date)?.name ?? "";

const AHEAD_MS = 21 * DAY_MS;

export function tradingAt(calendar: SessionCalendar, ms: number): TradingAt {
  const { parts, openMs, closeMs } = layOutSessions(calendar, ms - 2 * DAY_MS, ms + AHEAD_MS);
  const at = parts.openMs.findLastIndex((open) => open <= ms);
  if (at >= 0 && ms < parts.closeMs[at]!) return { isOpen: true, untilMs: parts.closeMs[at]!, why: null, name: "" };
  const next = parts.openMs.find((open) => open > ms) ?? null;
  if (openMs.some((open, s) => open <= ms && ms < closeMs[s]!)) return { isOpen: false, untilMs: next, why: "break", name: "" };
  const wall = utcToWall(calendar.zone, ms);
  const date = isoDate(Math.floor(wall / DAY_MS) * DAY_MS);
  const why = whyClosed(calendar, wall, date);
  return { isOpen: false, untilMs: next, why, name: why === "holiday" ? nameOfDay(calendar, date) : "" };
}

function whyClosed({ weekly, holidays }: SessionCalendar, wall: number, date: string): ClosedWhy {
  if (holidays.includes(date)) return "holiday";
  const day = ((new Date(wall).getUTCDay() + 6) % 7) + 1;
  return weekly.some((session) => session.day === day) ? "out of hours" : "weekend";
}

/** Why no session has this date; null where one has. */
export function whyNoSession(calendar: SessionCalendar, date: string): ClosedWhy | null {
  const noon = Date.parse(`${date}T12:00:00Z`);
  const { dates } = layOutSessions(calendar, noon - 3 * DAY_MS, noon + 3 * DAY_MS);
  if (dates.includes(date)) return null;
  return calendar.holidays.includes(date) ? "holiday" : "weekend";
}

export interface ClosedDays {
  /** First and last day without a session, yyyy-mm-dd. */
  readonly from: string;
  readonly to: string;
  /** The holidays among them, each with its name, or "". */
  readonly holidays: readonly { readonly date: string; readonly name: string }[];
}

/** The days without a session ahead of a session's date, up to three weeks back; null where the day before it has one. */
export function closedBefore(calendar: SessionCalendar, date: string): ClosedDays | null {
  const day = Date.parse(`${date}T00:00:00Z`);
  const { dates } = layOutSessions(calendar, day - AHEAD_MS, day + DAY_MS);
  const last = dates.findLast((before) => before < date);
  if (last === undefined) return null;
  const closed: string[] = [];
  for (let ms = Date.parse(`${last}T00:00:00Z`) + DAY_MS; ms < day; ms += DAY_MS) closed.push(isoDate(ms));
  if (closed.length === 0) return null;
  const holidays = closed.filter((one) => calendar.holidays.includes(one)).map((one) => ({ date: one, name: nameOfDay(calendar, one) }));
  return { from: closed[0]!, to: closed.at(-1)!, holidays };
}

export type DayKind = "session" | "early close" | "holiday" | "closed";

export interface DayOfYear {
  readonly date: string;
  readonly kind: DayKind;
  /** Of a holiday or an early close, where it has one. */
  readonly name: string;
}

/** What each day of a year is, by its date. */
export function yearOf(calendar: SessionCalendar, year: number): readonly DayOfYear[] {
  const [first, after] = [Date.UTC(year, 0, 1), Date.UTC(year + 1, 0, 1)];
  const { dates } = layOutSessions(calendar, first - 3 * DAY_MS, after + 3 * DAY_MS);
  const [sessions, holidays] = [new Set(dates), new Set(calendar.holidays)];
  const early = new Set(calendar.earlyCloses.map(({ date }) => date));
  return Array.from({ length: (after - first) / DAY_MS }, (_none, k) => {
    const date = isoDate(first + k * DAY_MS);
    const kind = !sessions.has(date) ? (holidays.has(date) ? "holiday" : "closed") : early.has(date) ? "early close" : "session";
    return { date, kind, name: nameOfDay(calendar, date) };
  });
}
