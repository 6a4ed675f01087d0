/** Time as a plan sees it: exchange wall time, sessions, and the bars on which timed actions are due. */

import type { FinerBars } from "../engine/feed.ts";
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { minutesOfDay, wallMinuteIn, wallTimeIn } from "../market/calendar.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import type { Cursor } from "./cursor.ts";
import type { Handler } from "./schedule.ts";
import { toInt32 } from "./study-store.ts";

/** Something done each session: at an exchange time, or so many minutes after the open or before the close; on one weekday or on all. */
export interface ClockAction {
  readonly by: "clock" | "after open" | "before close";
  readonly minutes: number;
  /** 0 Sunday to 6 Saturday of the session date; null for every session. */
  readonly weekday: number | null;
  /** Only in the last session ahead of a weekend. */
  readonly lastOfWeek?: boolean;
  readonly handler: Handler;
}

/** An action's time, as a log line names it. */
export function clockText({ by, minutes }: ClockAction): string {
  if (by === "before close") return `${minutes} minutes before the close`;
  if (by === "after open") return `${minutes} minutes after the open`;
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

/** Whether the next session belongs to another week, by the calendar; of the last session that is laid out, whether it is a Friday's or later. */
function isLastOfWeek({ sessions }: BarSeries, session: number): boolean {
  const next = sessions.dates[session + 1];
  const own = Date.parse(`${sessions.dates[session]}T00:00:00Z`);
  const weekday = (new Date(own).getUTCDay() + 6) % 7;
  if (next === undefined) return weekday >= 4;
  return (Date.parse(`${next}T00:00:00Z`) - own) / DAY_MS > 6 - weekday;
}

export const WEEKDAYS = ["sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"] as const;

export function weekdayOf(name: unknown): number {
  const index = WEEKDAYS.indexOf(String(name).toLowerCase() as (typeof WEEKDAYS)[number]);
  if (index < 0)
    throw new PlanTesterError("plan-error", `on.weekly() takes a weekday such as "monday" first; it got ${JSON.stringify(name)}.`);
  return index;
}

/** UTC time at which an action is due in a session; NaN where it is not, also on a day with an early close. */
export function dueTimeIn(bars: BarSeries, session: number, action: ClockAction): number {
  const { sessions } = bars;
  if (action.weekday !== null && new Date(`${sessions.dates[session]}T00:00:00Z`).getUTCDay() !== action.weekday) return Number.NaN;
  if (action.lastOfWeek && !isLastOfWeek(bars, session)) return Number.NaN;
  const [open, close] = [sessions.openMs[session]!, sessions.closeMs[session]!];
  if (action.by === "before close") return Math.max(open, close - action.minutes * MINUTE_MS);
  const at = action.by === "clock" ? wallTimeIn(sessions, session, action.minutes) : open + action.minutes * MINUTE_MS;
  return at < sessions.regularCloseMs[session]! ? at : Number.NaN;
}

/** Where an action is due: at the open of bars, and at that of finer bars which open inside one. */
export interface ClockHits {
  readonly bars: Int32Array;
  readonly fine: Int32Array;
  /** Bars at whose open it is made up for, since the session ahead had no bar left when it was due. */
  readonly late: Int32Array;
}

/** What an action is at an open: due, made up for since the session ahead ended unforeseen, or neither. */
export type Due = "now" | "late" | null;

/** When one action is due, as opens come one by one (R2.6). Depends on each bar and the calendar alone, never on later bars. */
export class ClockDue {
  readonly #action: ClockAction;
  #session = -1;
  #due = Number.NaN;
  #isDone = true;

  constructor(action: ClockAction) {
    this.#action = action;
  }

  /** Whether the session's action is done, or there is none. */
  get isDone(): boolean {
    return this.#isDone;
  }

  /** A bar opens, or the first finer bar in it. */
  atBar(bars: BarSeries, session: number, openMs: number, closeMs: number): Due {
    if (session === this.#session) return this.atOpen(bars, openMs, closeMs);
    const isMissed = !this.#isDone;
    this.#session = session;
    this.#due = dueTimeIn(bars, session, this.#action);
    this.#isDone = Number.isNaN(this.#due);
    const now = this.atOpen(bars, openMs, closeMs);
    return isMissed ? "late" : now;
  }

  /** The first open of the session's minutes at which it may be due; Infinity where it is done. */
  earliestMs({ sessions }: BarSeries): number {
    // What has no open of its own comes with the session's last.
    return this.#isDone ? Number.POSITIVE_INFINITY : Math.min(this.#due, sessions.closeMs[this.#session]! - MINUTE_MS);
  }

  /** A finer bar opens inside a bar. */
  atOpen({ sessions }: BarSeries, openMs: number, closeMs: number): Due {
    if (this.#isDone || !(openMs >= this.#due || closeMs >= sessions.closeMs[this.#session]!)) return null;
    this.#isDone = true;
    return "now";
  }
}

/**
 * Opens at which an action is due, those of finer bars where there are any inside a bar: the first of the session at or after
 * its time; where none is left (an early close, or a time inside the last bar), the session's last, which the calendar tells
 * (R2.6). A session whose bars end unforeseen is made up for at the next open.
 */
export function clockHits(bars: BarSeries, action: ClockAction, finer: FinerBars | null = null): ClockHits {
  const hits: number[] = [];
  const fineHits: number[] = [];
  const late: number[] = [];
  const { session, time, closeTime, length } = bars;
  const due = new ClockDue(action);
  let known = -1;
  for (let i = 1; i < length; i++) {
    if (session[i] === known && due.isDone) continue;
    known = session[i]!;
    const from = finer ? finer.first[i]! : 0;
    const to = finer ? finer.first[i + 1]! : 0;
    const fine = from < to ? finer!.series : null;
    const hit = fine ? due.atBar(bars, known, fine.time[from]!, fine.closeTime[from]!) : due.atBar(bars, known, time[i]!, closeTime[i]!);
    if (hit === "late") late.push(i);
    if (hit) hits.push(i);
    if (fine) for (let j = from + 1; j < to && !due.isDone; j++) if (due.atOpen(bars, fine.time[j]!, fine.closeTime[j]!)) fineHits.push(j);
  }
  return { bars: toInt32(hits), fine: toInt32(fineHits), late: toInt32(late) };
}

/** Bars that open a session; the first bar of the data is not one, since its session may have begun before. */
export function sessionStarts(bars: BarSeries): Int32Array {
  const hits: number[] = [];
  for (let i = 1; i < bars.length; i++) if (bars.session[i] !== bars.session[i - 1]) hits.push(i);
  return toInt32(hits);
}

/** Bars that close at their session's scheduled close. */
export function sessionEnds(bars: BarSeries): Int32Array {
  const hits: number[] = [];
  for (let i = 0; i < bars.length; i++) if (bars.closeTime[i]! >= bars.sessions.closeMs[bars.session[i]!]!) hits.push(i);
  return toInt32(hits);
}

/** What a plan may ask of the time. */
export class ClockView {
  readonly #bars: () => BarSeries;
  readonly #cursor: Cursor;
  readonly #cached = new Map<string, number>();

  constructor(bars: () => BarSeries, cursor: Cursor) {
    this.#bars = bars;
    this.#cursor = cursor;
  }

  #minutesOf(wallTime: string): number {
    let value = this.#cached.get(wallTime);
    if (value === undefined) {
      value = minutesOfDay(wallTime);
      this.#cached.set(wallTime, value);
    }
    return value;
  }

  get timeMs(): number {
    return this.#cursor.timeMs;
  }

  /** Exchange wall time of now, in minutes after local midnight. */
  get minutes(): number {
    return wallMinuteIn(this.#bars().sessions, this.#cursor.session, this.#cursor.timeMs);
  }

  get sessionDate(): string {
    return this.#bars().sessions.dates[this.#cursor.session]!;
  }

  /** Weekday of the session's date, "monday" to "sunday". */
  get weekday(): string {
    return WEEKDAYS[new Date(`${this.sessionDate}T00:00:00Z`).getUTCDay()]!;
  }

  before(wallTime: string): boolean {
    return this.minutes < this.#minutesOf(wallTime);
  }

  atOrAfter(wallTime: string): boolean {
    return this.minutes >= this.#minutesOf(wallTime);
  }

  between(from: string, to: string): boolean {
    const [start, end, minute] = [this.#minutesOf(from), this.#minutesOf(to), this.minutes];
    return start <= end ? minute >= start && minute < end : minute >= start || minute < end;
  }
}
