/** Time as a plan sees it: exchange wall time, sessions, and the bars on which timed actions are due. */
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

/**
 * Bars at whose open an action is due: the first of the session at or after its time; where none is left (an early close, or
 * a time inside the last bar), the session's last, which the calendar tells (R2.6). Depends on each bar and the calendar
 * alone, never on later bars.
 */
export function clockHits(bars: BarSeries, action: ClockAction): Int32Array {
  const hits: number[] = [];
  const { session, sessions, time, closeTime, length } = bars;
  let done = -1;
  let known = -1;
  let due = Number.NaN;
  for (let i = 1; i < length; i++) {
    const s = session[i]!;
    if (done === s) continue;
    if (known !== s) {
      known = s;
      due = dueTimeIn(bars, s, action);
    }
    if (Number.isNaN(due)) done = s;
    else if (time[i]! >= due || closeTime[i]! >= sessions.closeMs[s]!) {
      hits.push(i);
      done = s;
    }
  }
  return toInt32(hits);
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
