/**
 * Session calendars (R1.3): when an instrument trades, in its exchange's own wall time, with daylight saving, sessions
 * that cross midnight, holidays and early closes. A calendar is plain data; a session table is the calendar laid out
 * over a stretch of real time.
 */
import { PlanTesterError } from "../errors.ts";
import { DAY_MS, MINUTE_MS } from "./timeframe.ts";
import { zoneOffset } from "./zone-offset.ts";

/** One weekly session. `day` is the ISO day on which it opens (1 Monday .. 7 Sunday); a close at or before the open is on the next day. */
export interface WeeklySession {
  readonly day: number;
  readonly open: string;
  readonly close: string;
}

export interface SessionCalendar {
  /** IANA zone of the exchange. */
  readonly zone: string;
  readonly weekly: readonly WeeklySession[];
  /** Session dates without trading, yyyy-mm-dd. */
  readonly holidays: readonly string[];
  /** Sessions that close early, by session date and wall time. */
  readonly earlyCloses: readonly { readonly date: string; readonly close: string }[];
  readonly sessionsPerYear: number;
  /** What holidays and early closes are called, where they have names. */
  readonly names?: readonly { readonly date: string; readonly name: string }[];
  /** Nobody has said when it trades: what depends on the sessions is counted from the data where it can be. */
  readonly isAssumed?: boolean;
}

/** Around the clock, every day: for data whose sessions are not known. */
export const ALWAYS_OPEN: SessionCalendar = Object.freeze({
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "00:00", close: "24:00" })),
  holidays: [],
  earlyCloses: [],
  sessionsPerYear: 365,
  isAssumed: true,
});

/**
 * Sessions in time order, as columns. A session's date is the local date on which it closes, or opens when it does not cross
 * midnight. What trades on one date is one session; a break cuts it into parts (R1.3).
 */
export interface SessionTable {
  readonly zone: string;
  readonly dates: readonly string[];
  readonly openMs: Float64Array;
  readonly closeMs: Float64Array;
  /** When the session would close but for an early close. */
  readonly regularCloseMs: Float64Array;
  /** Minutes after local midnight at which the session opens. */
  readonly openMinute: Int32Array;
  /** 1 where clocks are changed between the session's open and its close. */
  readonly clocksChange: Uint8Array;
  readonly parts: SessionParts;
}

/** Uninterrupted stretches of trading, in time order: without breaks one for each session. */
export interface SessionParts {
  readonly openMs: Float64Array;
  readonly closeMs: Float64Array;
}

/**
 * Minutes after midnight of a wall time "HH:MM" (24:00 allowed).
 * @throws PlanTesterError bad-calendar when the text is not a wall time.
 */
export function minutesOfDay(wallTime: string): number {
  const match = /^(\d{1,2}):(\d{2})$/.exec(wallTime);
  const minutes = match ? Number(match[1]) * 60 + Number(match[2]) : Number.NaN;
  if (!match || Number(match[2]) > 59 || minutes > 1440)
    throw new PlanTesterError("bad-calendar", `"${wallTime}" is not a time of day. Write it as HH:MM, from 00:00 to 24:00.`, { wallTime });
  return minutes;
}

/** "HH:MM" of a number of minutes after midnight (taken modulo a day). */
export function wallTimeOf(minutes: number): string {
  const inDay = ((minutes % 1440) + 1440) % 1440;
  return `${String(Math.floor(inDay / 60)).padStart(2, "0")}:${String(inDay % 60).padStart(2, "0")}`;
}

/** UTC milliseconds of a local date (as UTC midnight ms) and minutes after local midnight. A time in a daylight-saving gap moves forward. */
export function wallToUtc(zone: string, dateMs: number, minutes: number): number {
  const naive = dateMs + minutes * MINUTE_MS;
  const first = naive - zoneOffset(zone, naive) * MINUTE_MS;
  const second = naive - zoneOffset(zone, first) * MINUTE_MS;
  return second;
}

/** Local wall-clock milliseconds (as if UTC) of a UTC time in a zone. */
export function utcToWall(zone: string, utcMs: number): number {
  return utcMs + zoneOffset(zone, utcMs) * MINUTE_MS;
}

export function isoDate(dateMs: number): string {
  return new Date(dateMs).toISOString().slice(0, 10);
}

/**
 * Lays a calendar out over real time: every session that closes after `fromMs` and opens before `toMs`.
 * @throws PlanTesterError bad-calendar when the zone is unknown or no weekly session is given.
 */
export function layOutSessions(calendar: SessionCalendar, fromMs: number, toMs: number): SessionTable {
  checkCalendar(calendar);
  const holidays = new Set(calendar.holidays);
  const early = new Map(calendar.earlyCloses.map((entry) => [entry.date, minutesOfDay(entry.close)]));
  const byDay = new Map<number, { open: number; close: number }[]>();
  for (const session of calendar.weekly) {
    const open = minutesOfDay(session.open);
    const close = minutesOfDay(session.close);
    const list = byDay.get(session.day) ?? [];
    list.push({ open, close: close <= open ? close + 1440 : close });
    byDay.set(
      session.day,
      list.sort((a, b) => a.open - b.open),
    );
  }
  const dates: string[] = [];
  const openMs: number[] = [];
  const closeMs: number[] = [];
  const regularCloseMs: number[] = [];
  const openMinute: number[] = [];
  const parts = { openMs: [] as number[], closeMs: [] as number[] };
  const firstDay = Math.floor(fromMs / DAY_MS) * DAY_MS - 2 * DAY_MS;
  for (let day = firstDay; day < toMs + 2 * DAY_MS; day += DAY_MS) {
    const isoDay = ((new Date(day).getUTCDay() + 6) % 7) + 1;
    for (const { open, close } of byDay.get(isoDay) ?? []) {
      const date = isoDate(close > 1440 ? day + DAY_MS : day);
      if (holidays.has(date)) continue;
      const earlyMinute = early.get(date);
      const closing = earlyMinute === undefined ? close : close > 1440 ? earlyMinute + 1440 : Math.min(close, earlyMinute);
      const opens = wallToUtc(calendar.zone, day, open);
      const closes = wallToUtc(calendar.zone, day, closing);
      if (closes <= fromMs || opens >= toMs || closes <= opens) continue;
      parts.openMs.push(opens);
      parts.closeMs.push(closes);
      const regular = wallToUtc(calendar.zone, day, close);
      // Case: the second part of a date, after a break.
      if (dates.length > 0 && dates[dates.length - 1] === date) {
        closeMs[closeMs.length - 1] = closes;
        regularCloseMs[regularCloseMs.length - 1] = regular;
        continue;
      }
      dates.push(date);
      openMs.push(opens);
      closeMs.push(closes);
      regularCloseMs.push(regular);
      openMinute.push(open);
    }
  }
  const { zone } = calendar;
  const offsetAt = (ms: number): number => zoneOffset(zone, ms);
  return {
    zone,
    dates,
    openMs: Float64Array.from(openMs),
    closeMs: Float64Array.from(closeMs),
    regularCloseMs: Float64Array.from(regularCloseMs),
    openMinute: Int32Array.from(openMinute),
    clocksChange: Uint8Array.from(openMs, (ms, s) => (offsetAt(ms) === offsetAt(closeMs[s]!) ? 0 : 1)),
    parts: { openMs: Float64Array.from(parts.openMs), closeMs: Float64Array.from(parts.closeMs) },
  };
}

/** Wall-clock minutes after midnight of a time in, or after, a session (R2.6). Exact on days on which clocks are changed too. */
export function wallMinuteIn({ zone, openMs, closeMs, openMinute, clocksChange }: SessionTable, session: number, ms: number): number {
  const open = openMs[session]!;
  if (clocksChange[session] === 0 && ms >= open && ms <= closeMs[session]!)
    return (openMinute[session]! + Math.floor((ms - open) / MINUTE_MS)) % 1440;
  return Math.floor((((utcToWall(zone, ms) % DAY_MS) + DAY_MS) % DAY_MS) / MINUTE_MS);
}

/** UTC time at which a wall-clock time comes in a session: on the local day on which it opens, or the next where it is earlier than the open. */
export function wallTimeIn({ zone, openMs, openMinute }: SessionTable, session: number, minutes: number): number {
  const day = Math.floor(utcToWall(zone, openMs[session]!) / DAY_MS) * DAY_MS;
  return wallToUtc(zone, day, minutes < openMinute[session]! ? minutes + 1440 : minutes);
}

function checkCalendar(calendar: SessionCalendar): void {
  if (calendar.weekly.length === 0)
    throw new PlanTesterError("bad-calendar", "The calendar has no weekly session. Give at least one day with open and close.", {});
  if (Number.isNaN(zoneOffset(calendar.zone, 0)))
    throw new PlanTesterError("bad-calendar", `"${calendar.zone}" is not a known time zone. Use an IANA name such as Atlantic/Faroe.`, {
      zone: calendar.zone,
    });
}
