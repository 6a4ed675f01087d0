/**
 * Bars as columns. A bar covers [time, closeTime) and is known only at closeTime (R1.1). Every consumer may rely on
 * what `barProblem` checks (R1.2); nothing past the border checks it again.
 */
import { PlanTesterError } from "../errors.ts";
import { layOutSessions, type SessionCalendar, type SessionParts, type SessionTable } from "./calendar.ts";
import { MINUTE_MS, parseTimeframe } from "./timeframe.ts";

/** Columns of equal length; times in UTC milliseconds, prices in price units, spread in price units where the data has one. */
export interface BarColumns {
  readonly time: Float64Array;
  readonly open: Float64Array;
  readonly high: Float64Array;
  readonly low: Float64Array;
  readonly close: Float64Array;
  readonly volume: Float64Array;
  readonly spread?: Float64Array | undefined;
}

/** Bars of one timeframe, with the close time and the session of each. */
export interface BarSeries extends BarColumns {
  readonly timeframe: string;
  readonly length: number;
  readonly closeTime: Float64Array;
  /** Index into `sessions` of the session each bar belongs to. */
  readonly session: Int32Array;
  readonly sessions: SessionTable;
}

/** Names of the columns, as they are stored and written; the spread only where the data has one. */
export const BAR_COLUMNS = ["time", "open", "high", "low", "close", "volume", "spread"] as const;
export const PRICE_FIELDS = ["open", "high", "low", "close", "volume"] as const;

/** What is wrong with one bar by R1.2, or null. */
export function barProblem(open: number, high: number, low: number, close: number, volume: number): string | null {
  if (!Number.isFinite(open + high + low + close + volume)) return "a price or the volume is not a finite number";
  if (low <= 0) return `the low ${low} is not above 0`;
  if (low > open || low > close) return `the low ${low} is above the ${low > open ? `open ${open}` : `close ${close}`}`;
  if (high < open || high < close) return `the high ${high} is below the ${high < open ? `open ${open}` : `close ${close}`}`;
  if (volume < 0) return `the volume ${volume} is negative`;
  return null;
}

/**
 * Checks every bar by R1.2.
 * @throws PlanTesterError bad-bars naming the first bar that is wrong.
 */
export function checkBars(columns: BarColumns): void {
  const { time, open, high, low, close, volume } = columns;
  for (let i = 0; i < time.length; i++) {
    const problem = barProblem(open[i]!, high[i]!, low[i]!, close[i]!, volume[i]!);
    if (problem) throw new PlanTesterError("bad-bars", `Bar ${i + 1} is not valid: ${problem}.`, { barIndex: i });
    if (i > 0 && !(time[i]! > time[i - 1]!))
      throw new PlanTesterError(
        "bad-bars",
        `Bar ${i + 1} opens at or before the bar ahead of it. Sort the bars by time and drop duplicates.`,
        {
          barIndex: i,
        },
      );
  }
}

/** Session index of every time: the session that holds it, else the last that opened before it, else the first. */
export const assignSessions = (time: Float64Array, sessions: SessionTable): Int32Array => assignTo(time, sessions.openMs);

function assignTo(time: Float64Array, openMs: Float64Array): Int32Array {
  const result = new Int32Array(time.length);
  let s = 0;
  for (let i = 0; i < time.length; i++) {
    const t = time[i]!;
    while (s + 1 < openMs.length && openMs[s + 1]! <= t) s++;
    result[i] = s;
  }
  return result;
}

/** The part of a session that holds each time, by the same rule. */
export const assignParts = (time: Float64Array, parts: SessionParts): Int32Array => assignTo(time, parts.openMs);

/**
 * A bar series of raw columns: sessions laid out and assigned, close times set (open + timeframe, capped at the
 * session's close; session, week and month bars close with their last session).
 */
export function makeSeries(columns: BarColumns, timeframe: string, calendar: SessionCalendar): BarSeries {
  const { time } = columns;
  const n = time.length;
  const first = n > 0 ? time[0]! : 0;
  const last = n > 0 ? time[n - 1]! : 0;
  // Past the data too: which session is the last of its week or month is known beforehand.
  const sessions = layOutSessions(calendar, first, last + SESSIONS_AHEAD_MS);
  if (sessions.dates.length === 0)
    throw new PlanTesterError(
      "bad-calendar",
      "No session of the calendar covers these bars. Check the zone, the weekly sessions and the holidays.",
      {},
    );
  const session = assignSessions(time, sessions);
  return { ...columns, timeframe, length: n, closeTime: closeTimes(time, session, sessions, timeframe), session, sessions };
}

function closeTimes(time: Float64Array, session: Int32Array, sessions: SessionTable, timeframe: string): Float64Array {
  const frame = parseTimeframe(timeframe);
  const result = new Float64Array(time.length);
  const step = frame.count * MINUTE_MS;
  const { parts } = sessions;
  // Bars of minutes never span a break; longer ones close with their session.
  const part = frame.unit === "minutes" ? assignParts(time, parts) : session;
  const closes = frame.unit === "minutes" ? parts.closeMs : sessions.closeMs;
  for (let i = 0; i < time.length; i++) {
    const sessionClose = closes[part[i]!]!;
    const next = i + 1 < time.length ? time[i + 1]! : Number.POSITIVE_INFINITY;
    const plain = frame.unit === "minutes" ? time[i]! + step : Math.max(sessionClose, time[i]! + 1);
    const capped = time[i]! < sessionClose ? Math.min(plain, sessionClose) : plain;
    result[i] = Math.min(capped, next);
  }
  return result;
}

/** The stretch [start, endExclusive) of columns, sharing their memory. */
export function sliceColumns(columns: BarColumns, start: number, endExclusive: number): BarColumns {
  const cut = (column: Float64Array): Float64Array => column.subarray(start, endExclusive);
  return {
    time: cut(columns.time),
    open: cut(columns.open),
    high: cut(columns.high),
    low: cut(columns.low),
    close: cut(columns.close),
    volume: cut(columns.volume),
    spread: columns.spread && cut(columns.spread),
  };
}

/** Columns one after the other, in memory of their own. Where only one of them has spreads, those of the other are 0: as before. */
export function joinBars(first: BarColumns, then: BarColumns): BarColumns {
  const [before, after] = [first.time.length, then.time.length];
  const join = (a: Float64Array | undefined, b: Float64Array | undefined): Float64Array => {
    const joined = new Float64Array(before + after);
    if (a) joined.set(a);
    if (b) joined.set(b, before);
    return joined;
  };
  return {
    time: join(first.time, then.time),
    open: join(first.open, then.open),
    high: join(first.high, then.high),
    low: join(first.low, then.low),
    close: join(first.close, then.close),
    volume: join(first.volume, then.volume),
    spread: first.spread || then.spread ? join(first.spread, then.spread) : undefined,
  };
}

/** The stretch [start, endExclusive) of a series, sharing its memory. */
export function sliceSeries(series: BarSeries, start: number, endExclusive: number): BarSeries {
  return {
    ...series,
    ...sliceColumns(series, start, endExclusive),
    closeTime: series.closeTime.subarray(start, endExclusive),
    session: series.session.subarray(start, endExclusive),
    length: endExclusive - start,
  };
}

const SESSIONS_AHEAD_MS = 40 * 86_400_000;

/** Index of the first time at or after `ms`. */
export function lowerBound(times: Float64Array, ms: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (times[middle]! < ms) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The bars that open in [fromMs, toMs). */
export function sliceByTime(series: BarSeries, fromMs: number | null, toMs: number | null): BarSeries {
  const start = fromMs === null ? 0 : lowerBound(series.time, fromMs);
  const end = toMs === null ? series.length : lowerBound(series.time, toMs);
  return sliceSeries(series, start, Math.max(start, end));
}

/** A series with the time columns of a known one where they are equal: instruments with the same hours need them once. */
export function shareTimes(series: BarSeries, known: Iterable<BarSeries>): BarSeries {
  for (const other of known)
    if (other.length === series.length && isEqual(other.time, series.time) && isEqual(other.closeTime, series.closeTime))
      return { ...series, time: other.time, closeTime: other.closeTime };
  return series;
}

function isEqual(a: Float64Array, b: Float64Array): boolean {
  const n = a.length;
  for (let i = 0; i < n; i++) if (a[i] !== b[i]) return false;
  return true;
}
