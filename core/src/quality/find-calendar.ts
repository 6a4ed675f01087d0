/** The sessions that bars themselves show: when they come week by week, in the zone in which that is sharpest. */
import type { BarColumns } from "../market/bars.ts";
import { layOutSessions, type SessionCalendar, utcToWall, type WeeklySession, wallTimeOf } from "../market/calendar.ts";
import { DAY_MS, MINUTE_MS, nominalMs } from "../market/timeframe.ts";
import { slotsOf } from "./slots.ts";

/** How well a calendar fits bars. */
export interface CalendarFit {
  /** Part of the bars that lie inside its sessions, and part of the bars it lets one expect that are there. */
  readonly inside: number;
  readonly present: number;
}

export interface FoundCalendar extends CalendarFit {
  readonly calendar: SessionCalendar;
}

const WEEK_MINUTES = 7 * 1440;
/** Minutes that are looked at together. */
const CELL_MINUTES = 5;
/** A stretch is traded where it was so in this part of the weeks. */
const TRADED_SHARE = 0.4;
/** Pauses up to this are none. */
const LEAST_BREAK_MINUTES = 15;
const LEAST_WEEKS = 2;
/** A session ends early by so much at least, and so many do at the same time of the day. */
const LEAST_EARLY_MS = 30 * MINUTE_MS;
const LEAST_ALIKE = 2;
/** Of less than a year holidays can't be counted: so many are usual on the days of the week that are traded. */
const USUAL_HOLIDAYS = 8;
const WEEKS_A_YEAR = 365.25 / 7;
/** A session without a bar is a holiday unless more than this part of them is. */
const MOST_HOLIDAYS = 0.2;

/**
 * @param timeframe of minutes
 * @param zones to choose from, the likeliest first
 * @returns null where there is too little to tell from: less than two weeks, or bars longer than an hour
 */
export function findCalendar({ time, ...prices }: BarColumns, timeframe: string, zones: readonly string[]): FoundCalendar | null {
  const stepMs = nominalMs(timeframe);
  const n = time.length;
  if (n < 100 || stepMs > 60 * MINUTE_MS || time[n - 1]! - time[0]! < LEAST_WEEKS * 7 * DAY_MS) return null;
  let best: { readonly shares: Float64Array; readonly zone: string; readonly sharpness: number } | null = null;
  for (const zone of new Set(zones)) {
    const shares = weeklyShares(time, stepMs, zone);
    let sharpness = 0;
    for (const share of shares) sharpness += Math.abs(share - 0.5);
    // The likelier zone, where another is no better: one without daylight saving in it looks like its neighbours.
    if (!best || sharpness > best.sharpness * 1.0001) best = { shares, zone, sharpness };
  }
  const weekly = sessionsOf(best!.shares);
  if (weekly.length === 0) return null;
  const plain: SessionCalendar = { zone: best!.zone, weekly, holidays: [], earlyCloses: [], sessionsPerYear: 252 };
  const columns = { time, ...prices };
  const calendar = { ...plain, ...daysOf(columns, timeframe, plain) };
  return { calendar, ...calendarFit(columns, timeframe, calendar) };
}

/** @param timeframe of minutes @param columns at least one bar */
export function calendarFit(columns: BarColumns, timeframe: string, calendar: SessionCalendar): CalendarFit {
  const { time } = columns;
  const slots = slotsOf(columns, timeframe, layOutSessions(calendar, time[0]!, time[time.length - 1]! + 1));
  if (!slots) return { inside: 0, present: 0 };
  const inside = slots.slotOf.reduce((count, slot) => count + (slot >= 0 ? 1 : 0), 0);
  const present = slots.bar.reduce((count, bar) => count + (bar >= 0 ? 1 : 0), 0);
  return { inside: inside / time.length, present: slots.bar.length > 0 ? present / slots.bar.length : 0 };
}

/** In which part of the weeks each stretch of the week has a bar. */
function weeklyShares(time: Float64Array, stepMs: number, zone: string): Float64Array {
  const cells = WEEK_MINUTES / CELL_MINUTES;
  const counts = new Float64Array(cells);
  const seen = new Int32Array(cells).fill(-1);
  const wide = Math.max(1, Math.round(stepMs / MINUTE_MS / CELL_MINUTES));
  // An offset holds for an hour at least: it is not asked for each bar.
  let [offset, hour] = [0, -1];
  let [firstWeek, lastWeek] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const t of time) {
    const h = Math.floor(t / 3_600_000);
    if (h !== hour) {
      hour = h;
      offset = utcToWall(zone, t) - t;
    }
    // 1970 began on a Thursday: weeks from Monday.
    const minute = Math.floor((t + offset) / MINUTE_MS) + 3 * 1440;
    const week = Math.floor(minute / WEEK_MINUTES);
    firstWeek = Math.min(firstWeek, week);
    lastWeek = Math.max(lastWeek, week);
    const first = Math.floor((minute - week * WEEK_MINUTES) / CELL_MINUTES);
    for (let cell = first; cell < Math.min(cells, first + wide); cell++) {
      if (seen[cell] === week) continue;
      seen[cell] = week;
      counts[cell]!++;
    }
  }
  const weeks = Math.max(1, lastWeek - firstWeek + 1);
  return counts.map((count) => count / weeks);
}

/** Weekly sessions of what is traded; a stretch longer than a day is cut where the week opens. */
function sessionsOf(shares: Float64Array): WeeklySession[] {
  const cells = shares.length;
  const isTraded = Uint8Array.from(shares, (share) => (share >= TRADED_SHARE ? 1 : 0));
  if (isTraded.every((one) => one === 1)) return [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "00:00", close: "24:00" }));
  const start = isTraded.findIndex((one, cell) => one === 1 && isTraded[(cell + cells - 1) % cells] === 0);
  if (start < 0) return [];
  const stretches: { from: number; to: number }[] = [];
  for (let k = 0; k < cells; k++) {
    if (isTraded[(start + k) % cells] === 0) continue;
    const from = start + k;
    while (k < cells && isTraded[(start + k) % cells] === 1) k++;
    const last = stretches.at(-1);
    if (last && (from - last.to) * CELL_MINUTES <= LEAST_BREAK_MINUTES) last.to = start + k;
    else stretches.push({ from, to: start + k });
  }
  const day = 1440 / CELL_MINUTES;
  return stretches
    .flatMap(({ from, to }) => {
      const parts: WeeklySession[] = [];
      for (let at = from; at < to; at += day) {
        const opens = (at % cells) * CELL_MINUTES;
        const closes = Math.min(to, at + day) * CELL_MINUTES;
        const close = wallTimeOf(closes);
        parts.push({ day: Math.floor(opens / 1440) + 1, open: wallTimeOf(opens), close: close === "00:00" ? "24:00" : close });
      }
      return parts;
    })
    .sort((a, b) => a.day - b.day || a.open.localeCompare(b.open));
}

/** Sessions in which nothing was traded at all, those that end early, and how many there are in a year. */
function daysOf(
  columns: BarColumns,
  timeframe: string,
  plain: SessionCalendar,
): Pick<SessionCalendar, "holidays" | "earlyCloses" | "sessionsPerYear"> {
  const { time } = columns;
  const [firstMs, lastMs] = [time[0]!, time[time.length - 1]!];
  const sessions = layOutSessions(plain, firstMs, lastMs + 1);
  const { bar, session, closeTime } = slotsOf(columns, timeframe, sessions)!;
  const traded = new Uint8Array(sessions.dates.length);
  const lastClose = new Float64Array(sessions.dates.length);
  for (let n = 0; n < bar.length; n++) {
    if (bar[n]! < 0) continue;
    traded[session[n]!] = 1;
    lastClose[session[n]!] = closeTime[n]!;
  }
  // One that breaks off alone was halted; several that end at one time of the day were to.
  const ends = new Map<string, string[]>();
  for (let s = 0; s + 1 < sessions.dates.length; s++) {
    if (traded[s] === 0 || sessions.closeMs[s]! - lastClose[s]! < LEAST_EARLY_MS) continue;
    const close = wallTimeOf(Math.floor(utcToWall(plain.zone, lastClose[s]!) / MINUTE_MS));
    ends.set(close, [...(ends.get(close) ?? []), sessions.dates[s]!]);
  }
  const earlyCloses = [...ends]
    .filter(([, dates]) => dates.length >= LEAST_ALIKE)
    .flatMap(([close, dates]) => dates.map((date) => ({ date, close })))
    .sort((a, b) => a.date.localeCompare(b.date));
  const empty = sessions.dates.filter((_date, s) => traded[s] === 0);
  const holidays = empty.length <= MOST_HOLIDAYS * sessions.dates.length ? empty : [];
  const years = (lastMs - firstMs) / (365.25 * DAY_MS);
  const perWeek = new Set(plain.weekly.map(({ day }) => day)).size;
  const counted =
    years >= 1 ? (sessions.dates.length - holidays.length) / years : perWeek * WEEKS_A_YEAR - (perWeek === 7 ? 0 : USUAL_HOLIDAYS);
  return { holidays, earlyCloses, sessionsPerYear: Math.round(counted) };
}
