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
}

const AHEAD_MS = 21 * DAY_MS;

export function tradingAt(calendar: SessionCalendar, ms: number): TradingAt {
  const { parts, openMs, closeMs } = layOutSessions(calendar, ms - 2 * DAY_MS, ms + AHEAD_MS);
  const at = parts.openMs.findLastIndex((open) => open <= ms);
  if (at >= 0 && ms < parts.closeMs[at]!) return { isOpen: true, untilMs: parts.closeMs[at]!, why: null };
  const next = parts.openMs.find((open) => open > ms) ?? null;
  const isBreak = openMs.some((open, s) => open <= ms && ms < closeMs[s]!);
  return { isOpen: false, untilMs: next, why: isBreak ? "break" : whyClosed(calendar, ms) };
}

function whyClosed({ zone, weekly, holidays }: SessionCalendar, ms: number): ClosedWhy {
  const wall = utcToWall(zone, ms);
  const date = isoDate(Math.floor(wall / DAY_MS) * DAY_MS);
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

export type DayKind = "session" | "early close" | "holiday" | "closed";

/** What each day of a year is, by its date. */
export function yearOf(calendar: SessionCalendar, year: number): readonly { readonly date: string; readonly kind: DayKind }[] {
  const [first, after] = [Date.UTC(year, 0, 1), Date.UTC(year + 1, 0, 1)];
  const { dates } = layOutSessions(calendar, first - 3 * DAY_MS, after + 3 * DAY_MS);
  const [sessions, holidays] = [new Set(dates), new Set(calendar.holidays)];
  const early = new Set(calendar.earlyCloses.map(({ date }) => date));
  return Array.from({ length: (after - first) / DAY_MS }, (_none, k) => {
    const date = isoDate(first + k * DAY_MS);
    const kind = !sessions.has(date) ? (holidays.has(date) ? "holiday" : "closed") : early.has(date) ? "early close" : "session";
    return { date, kind };
  });
}
