/**
 * Builds bars of a longer timeframe. Intraday bars are anchored at the session's open and never span two sessions (R1.3);
 * daily bars are one session each; weeks and months are whole sessions by their date. A stretch without source bars
 * makes no bar.
 */
import { PlanTesterError } from "../errors.ts";
import { assignParts, type BarSeries } from "./bars.ts";
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
    time[k] = openTimeOf(source, frame, first, bucket[first]!);
    open[k] = source.open[first]!;
    high[k] = top;
    low[k] = bottom;
    close[k] = source.close[last]!;
    volume[k] = sum;
    if (spread) spread[k] = widest(spreads!, first, end);
    session[k] = source.session[last]!;
    closeTime[k] = closeTimeOf(source, frame, last, bucket[last]!);
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
        const number = Math.floor((time[i]! - openMs[s]!) / step);
        bucket = s * 4096 + number;
        over = openMs[s]! + (number + 1) * step;
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
function bucketOfDate(date: string, index: number, frame: Timeframe): number {
  if (frame.unit === "weeks") return Math.floor((Date.parse(`${date}T00:00:00Z`) / DAY_MS + 3) / 7);
  if (frame.unit === "months") return Number(date.slice(0, 4)) * 12 + Number(date.slice(5, 7));
  return index;
}

function openTimeOf(source: BarSeries, frame: Timeframe, i: number, bucket: number): number {
  if (frame.unit !== "minutes") return source.time[i]!;
  const part = Math.floor(bucket / 4096);
  return source.sessions.parts.openMs[part]! + (bucket - part * 4096) * frame.count * MINUTE_MS;
}

function closeTimeOf(source: BarSeries, frame: Timeframe, i: number, bucket: number): number {
  const s = source.session[i]!;
  if (frame.unit !== "minutes") {
    // The last session of the day, week or month by the calendar, so that a bar is never taken for completed too soon.
    const { dates, closeMs } = source.sessions;
    let last = s;
    while (last + 1 < dates.length && bucketOfDate(dates[last + 1]!, last + 1, frame) === bucket) last++;
    return Math.max(closeMs[last]!, source.closeTime[i]!);
  }
  const { openMs, closeMs } = source.sessions.parts;
  const part = Math.floor(bucket / 4096);
  const plain = openMs[part]! + (bucket - part * 4096 + 1) * frame.count * MINUTE_MS;
  const partClose = closeMs[part]!;
  return source.time[i]! < partClose ? Math.min(plain, partClose) : plain;
}
