/**
 * Builds bars of a longer timeframe. Intraday bars are anchored at the session's open and never span two sessions (R1.3);
 * daily bars are one session each; weeks and months are whole sessions by their date. A stretch without source bars
 * makes no bar.
 */
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "./bars.ts";
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
  const n = source.length;
  let count = 0;
  for (let i = 0; i < n; i++) if (i === 0 || bucket[i] !== bucket[i - 1]) count++;
  const time = new Float64Array(count);
  const open = new Float64Array(count);
  const high = new Float64Array(count);
  const low = new Float64Array(count);
  const close = new Float64Array(count);
  const volume = new Float64Array(count);
  const spread = source.spread ? new Float64Array(count) : undefined;
  const closeTime = new Float64Array(count);
  const session = new Int32Array(count);
  const firstSource = new Int32Array(count + 1);
  let k = -1;
  for (let i = 0; i < n; i++) {
    if (i === 0 || bucket[i] !== bucket[i - 1]) {
      k++;
      firstSource[k] = i;
      time[k] = openTimeOf(source, frame, i, bucket[i]!);
      open[k] = source.open[i]!;
      high[k] = source.high[i]!;
      low[k] = source.low[i]!;
      if (spread) spread[k] = source.spread![i]!;
    } else {
      if (source.high[i]! > high[k]!) high[k] = source.high[i]!;
      if (source.low[i]! < low[k]!) low[k] = source.low[i]!;
      if (spread && source.spread![i]! > spread[k]!) spread[k] = source.spread![i]!;
    }
    close[k] = source.close[i]!;
    volume[k] = volume[k]! + source.volume[i]!;
    session[k] = source.session[i]!;
    closeTime[k] = closeTimeOf(source, frame, i, bucket[i]!);
  }
  firstSource[count] = n;
  return {
    series: { timeframe, length: count, time, open, high, low, close, volume, spread, closeTime, session, sessions: source.sessions },
    firstSource,
  };
}

/** A number for each source bar that is equal exactly within one target bar. */
function bucketsOf(source: BarSeries, frame: Timeframe): Float64Array {
  const { sessions, session, time, length } = source;
  const result = new Float64Array(length);
  if (frame.unit === "minutes") {
    const step = frame.count * MINUTE_MS;
    for (let i = 0; i < length; i++) {
      const s = session[i]!;
      result[i] = s * 4096 + Math.floor((time[i]! - sessions.openMs[s]!) / step);
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
  const s = source.session[i]!;
  return source.sessions.openMs[s]! + (bucket - s * 4096) * frame.count * MINUTE_MS;
}

function closeTimeOf(source: BarSeries, frame: Timeframe, i: number, bucket: number): number {
  const s = source.session[i]!;
  const sessionClose = source.sessions.closeMs[s]!;
  if (frame.unit !== "minutes") {
    // The last session of the day, week or month by the calendar, so that a bar is never taken for completed too soon.
    const { dates, closeMs } = source.sessions;
    let last = s;
    while (last + 1 < dates.length && bucketOfDate(dates[last + 1]!, last + 1, frame) === bucket) last++;
    return Math.max(closeMs[last]!, source.closeTime[i]!);
  }
  const plain = source.sessions.openMs[s]! + (bucket - s * 4096 + 1) * frame.count * MINUTE_MS;
  return source.time[i]! < sessionClose ? Math.min(plain, sessionClose) : plain;
}
