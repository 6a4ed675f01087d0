/**
 * Where a minute lies among the bars of a timeframe, as the calendar has it: for bars that come one by one. Sessions are
 * laid out ahead as time goes on; their numbers stay.
 */
import type { BarColumns } from "./bars.ts";
import { layOutSessions, type SessionCalendar, type SessionTable } from "./calendar.ts";
import { bucketOfDate, bucketOfTime, closeTimeOf, openTimeOf } from "./resample.ts";
import { DAY_MS, MINUTE_MS, parseTimeframe, type Timeframe } from "./timeframe.ts";

/** A bar of one minute, as a feed brings it; `spread` in price units, 0 where the feed has none. */
export interface MinuteBar {
  readonly time: number;
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number;
  readonly spread: number;
}

export function minuteOf({ time, open, high, low, close, volume, spread }: BarColumns, i: number): MinuteBar {
  return { time: time[i]!, open: open[i]!, high: high[i]!, low: low[i]!, close: close[i]!, volume: volume[i]!, spread: spread?.[i] ?? 0 };
}

/** A bar of the timeframe without its prices. */
export interface BarPlace {
  readonly bucket: number;
  readonly time: number;
  readonly closeTime: number;
  readonly session: number;
}

/** Sessions are laid out so far ahead, and again when fewer days than the second are left. */
const AHEAD_MS = 400 * DAY_MS;
const LEFT_MS = 60 * DAY_MS;

export class BarFrame {
  readonly #frame: Timeframe;
  readonly #calendar: SessionCalendar;
  readonly #fromMs: number;
  #sessions: SessionTable;
  #laidOutMs: number;
  #session = 0;
  #part = 0;

  /** @param fromMs open time of the first session */
  constructor(calendar: SessionCalendar, timeframe: string, fromMs: number, nowMs: number) {
    this.#frame = parseTimeframe(timeframe);
    this.#calendar = calendar;
    this.#fromMs = fromMs;
    this.#laidOutMs = nowMs + AHEAD_MS;
    this.#sessions = layOutSessions(calendar, fromMs, this.#laidOutMs);
  }

  get sessions(): SessionTable {
    return this.#sessions;
  }

  /** The session that a time is in, else the last that opened before it. Times may not go back by much. */
  sessionOf(time: number): number {
    this.#reach(time);
    const { openMs } = this.#sessions;
    this.#session = lastAtOrBefore(openMs, time, this.#session);
    return this.#session;
  }

  #partOf(time: number): number {
    this.#part = lastAtOrBefore(this.#sessions.parts.openMs, time, this.#part);
    return this.#part;
  }

  #reach(time: number): void {
    if (time + LEFT_MS < this.#laidOutMs) return;
    this.#laidOutMs = time + AHEAD_MS;
    this.#sessions = layOutSessions(this.#calendar, this.#fromMs, this.#laidOutMs);
  }

  /** Close time of a minute: the next minute, or the session's close. */
  minuteClose(time: number): number {
    this.#reach(time);
    const close = this.#sessions.parts.closeMs[this.#partOf(time)]!;
    return time < close ? Math.min(time + MINUTE_MS, close) : time + MINUTE_MS;
  }

  /** The bar that a source bar lies in. */
  placeOf(source: { readonly time: number; readonly closeTime: number; readonly session: number }): BarPlace {
    const { time, session } = source;
    this.#reach(time);
    const sessions = this.#sessions;
    const frame = this.#frame;
    const bucket =
      frame.unit === "minutes"
        ? bucketOfTime(sessions.parts, frame, this.#partOf(time), time)
        : bucketOfDate(sessions.dates[session]!, session, frame);
    return { bucket, time: openTimeOf(sessions, frame, time, bucket), closeTime: closeTimeOf(sessions, frame, bucket, source), session };
  }

  /** The bar that a minute lies in. */
  placeOfMinute(time: number): BarPlace {
    const session = this.sessionOf(time);
    return this.placeOf({ time, closeTime: this.minuteClose(time), session });
  }

  /** The first minute that can open at or after a time, by the calendar. */
  nextMinute(time: number): number {
    this.#reach(time);
    const { openMs, closeMs } = this.#sessions.parts;
    const part = this.#partOf(time);
    if (time < openMs[part]!) return openMs[part]!;
    return time < closeMs[part]! ? time : (openMs[part + 1] ?? time);
  }
}

/** Index of the last value at or before `x`, 0 where there is none, looked for near a guess. */
function lastAtOrBefore(values: Float64Array, x: number, guess: number): number {
  let i = Math.min(guess, values.length - 1);
  while (i > 0 && values[i]! > x) i--;
  while (i + 1 < values.length && values[i + 1]! <= x) i++;
  return i;
}
