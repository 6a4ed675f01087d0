/**
 * Builds bars of a longer timeframe. Intraday bars are anchored at the session's open and never span two sessions (R1.3);
 * daily bars are one session each; weeks and months are whole sessions by their date. A stretch without source bars
 * makes no bar.
 */
import { PlanTesterError } from "../errors.ts";
import { assignParts, type BarSeries } from "./bars.ts";
import type { SessionParts, SessionTable } from "./calendar.ts";
import { DAY_MS, MINUTE_MS, nominalMs, parseTimeframe, type Timeframe } from "./timeframe.ts";

export interface Resampled {
  readonly series: BarSeries;
  /** For bar i the source bars are [firstSource[i], firstSource[i + 1]); length is bars + 1. */
  readonly firstSource: Int32Array;
}

/**
 * Resamples `source` to `timeframe`. O(n), one pass.
 * @throws PlanTesterError bad-timeframe when the timeframe is finer than the source.
 */
export function resample(source: BarSeries, timeframe: string): Resampled {
  const frame = parseTimeframe(timeframe);
  if (nominalMs(timeframe) < nominalMs(source.timeframe))
    throw new PlanTesterError(
      "bad-timeframe",
      `Bars of ${timeframe} can't be built from bars of ${source.timeframe}: choose ${source.timeframe} or longer.`,
      {
        timeframe,
        source: source.timeframe,
      },
    );
  const bucket = bucketsOf(source, frame);
  const firstSource = firstsOf(bucket);
  const count = firstSource.length - 1;
  const time = new Float64Array(count);
  const open = new Float64Array(count);
  const high = new Float64Array(count);
  const low = new Float64Array(count);
  const close = new Float64Array(count);
  const volume = new Float64Array(count);
  const spread = source.spread ? new Float64Array(count) : undefined;
  const closeTime = new Float64Array(count);
  const session = new Int32Array(count);
  const { high: highs, low: lows, volume: volumes, spread: spreads } = source;
  for (let k = 0; k < count; k++) {
    const first = firstSource[k]!;
    const end = firstSource[k + 1]!;
    const last = end - 1;
    let top = highs[first]!;
    let bottom = lows[first]!;
    let sum = 0;
    for (let i = first; i < end; i++) {
      if (highs[i]! > top) top = highs[i]!;
      if (lows[i]! < bottom) bottom = lows[i]!;
      sum += volumes[i]!;
    }
    time[k] = openTimeOf(source.sessions, frame, source.time[first]!, bucket[first]!);
    open[k] = source.open[first]!;
    high[k] = top;
    low[k] = bottom;
    close[k] = source.close[last]!;
    volume[k] = sum;
    if (spread) spread[k] = widest(spreads!, first, end);
    session[k] = source.session[last]!;
    closeTime[k] = closeTimeOf(source.sessions, frame, bucket[last]!, {
      time: source.time[last]!,
      closeTime: source.closeTime[last]!,
      session: source.session[last]!,
    });
  }
  return {
    series: { timeframe, length: count, time, open, high, low, close, volume, spread, closeTime, session, sessions: source.sessions },
    firstSource,
  };
}

/** Where each bucket begins, and the end of the last. */
function firstsOf(bucket: Float64Array): Int32Array {
  const n = bucket.length;
  const firsts = new Int32Array(n + 1);
  let count = 0;
  for (let i = 0; i < n; i++) if (i === 0 || bucket[i] !== bucket[i - 1]) firsts[count++] = i;
  firsts[count] = n;
  return firsts.slice(0, count + 1);
}

function widest(spreads: Float64Array, from: number, to: number): number {
  let most = spreads[from]!;
  for (let i = from + 1; i < to; i++) if (spreads[i]! > most) most = spreads[i]!;
  return most;
}

/** A number for each source bar that is equal exactly within one target bar. */
function bucketsOf(source: BarSeries, frame: Timeframe): Float64Array {
  const { sessions, session, time, length } = source;
  const result = new Float64Array(length);
  if (frame.unit === "minutes") {
    const step = frame.count * MINUTE_MS;
    const { openMs } = sessions.parts;
    const part = assignParts(time, sessions.parts);
    let bucket = 0;
    let current = -1;
    // When the bucket of now is over; bars come in order of time.
    let over = Number.NEGATIVE_INFINITY;
    for (let i = 0; i < length; i++) {
      const s = part[i]!;
      if (s !== current || time[i]! >= over) {
        current = s;
        bucket = bucketOfTime(sessions.parts, frame, s, time[i]!);
        over = openMs[s]! + (bucket - s * BUCKETS_PER_PART + 1) * step;
      }
      result[i] = bucket;
    }
    return result;
  }
  const ofSession = sessions.dates.map((date, index) => bucketOfDate(date, index, frame));
  for (let i = 0; i < length; i++) result[i] = ofSession[session[i]!]!;
  return result;
}

/** A number that is equal for the sessions of one day, week or month. */
export function bucketOfDate(date: string, index: number, frame: Timeframe): number {
  if (frame.unit === "weeks") return Math.floor((Date.parse(`${date}T00:00:00Z`) / DAY_MS + 3) / 7);
  if (frame.unit === "months") return Number(date.slice(0, 4)) * 12 + Number(date.slice(5, 7));
  return index;
}

/** Buckets of minutes are numbered within their part of a session. */
const BUCKETS_PER_PART = 4096;

/** The bucket of minutes that a time in a part of a session lies in. */
export const bucketOfTime = (parts: SessionParts, frame: Timeframe, part: number, time: number): number =>
  part * BUCKETS_PER_PART + Math.floor((time - parts.openMs[part]!) / (frame.count * MINUTE_MS));

/** Open time of a bar. @param time open time of the first source bar in it */
export function openTimeOf({ parts }: SessionTable, frame: Timeframe, time: number, bucket: number): number {
  if (frame.unit !== "minutes") return time;
  const part = Math.floor(bucket / BUCKETS_PER_PART);
  return parts.openMs[part]! + (bucket - part * BUCKETS_PER_PART) * frame.count * MINUTE_MS;
}

/** Close time of a bar. @param last the last source bar in it */
export function closeTimeOf(
  sessions: SessionTable,
  frame: Timeframe,
  bucket: number,
  last: { readonly time: number; readonly closeTime: number; readonly session: number },
): number {
  if (frame.unit !== "minutes") {
    // The last session of the day, week or month by the calendar, so that a bar is never taken for completed too soon.
    const { dates, closeMs } = sessions;
    let s = last.session;
    while (s + 1 < dates.length && bucketOfDate(dates[s + 1]!, s + 1, frame) === bucket) s++;
    return Math.max(closeMs[s]!, last.closeTime);
  }
  const { openMs, closeMs } = sessions.parts;
  const part = Math.floor(bucket / BUCKETS_PER_PART);
  const plain = openMs[part]! + (bucket - part * BUCKETS_PER_PART + 1) * frame.count * MINUTE_MS;
  const partClose = closeMs[part]!;
  return last.time < partClose ? Math.min(plain, partClose) : plain;
}
