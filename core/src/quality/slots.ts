/** The bars that a calendar lets one expect, one slot each, and which of them are there. */
import type { BarColumns } from "../market/bars.ts";
import type { SessionTable } from "../market/calendar.ts";
import { MINUTE_MS, parseTimeframe } from "../market/timeframe.ts";

/** Minutes of a session that are judged alike: a market is thin at some of them. */
const BUCKET_MINUTES = 30;

export interface Slots {
  /** Milliseconds of one slot; NaN where each is a session. */
  readonly stepMs: number;
  /** When each opens. */
  readonly time: Float64Array;
  readonly closeTime: Float64Array;
  /** Index into the sessions. */
  readonly session: Int32Array;
  /** Which half hour of its session each lies in. */
  readonly bucket: Uint16Array;
  readonly buckets: number;
  /** The bar that is there, or -1. */
  readonly bar: Int32Array;
  /** Of each bar its slot; -1 for one outside every session. */
  readonly slotOf: Int32Array;
}

/**
 * @param timeframe of minutes, or "1d"
 * @returns null for weeks and months, whose bars nobody has to expect one by one
 */
export function slotsOf({ time }: BarColumns, timeframe: string, { parts, openMs, closeMs }: SessionTable): Slots | null {
  const frame = parseTimeframe(timeframe);
  if (frame.unit !== "minutes" && frame.unit !== "sessions") return null;
  const stepMs = frame.unit === "minutes" ? frame.count * MINUTE_MS : Number.NaN;
  const bySession = frame.unit === "sessions";
  const [opens, closes] = bySession ? [openMs, closeMs] : [parts.openMs, parts.closeMs];
  const firstMs = time[0] ?? 0;
  const lastMs = time[time.length - 1] ?? 0;
  let count = 0;
  for (let p = 0; p < opens.length; p++) count += bySession ? 1 : Math.ceil((closes[p]! - opens[p]!) / stepMs);
  const slots = {
    time: new Float64Array(count),
    closeTime: new Float64Array(count),
    session: new Int32Array(count),
    bucket: new Uint16Array(count),
    bar: new Int32Array(count).fill(-1),
  };
  const slotOf = new Int32Array(time.length).fill(-1);
  let [n, i, s, buckets] = [0, 0, 0, 1];
  for (let p = 0; p < opens.length; p++) {
    while (s + 1 < openMs.length && openMs[s + 1]! <= opens[p]!) s++;
    const step = bySession ? closes[p]! - opens[p]! : stepMs;
    for (let t = opens[p]!; t < closes[p]!; t += step) {
      const end = Math.min(closes[p]!, t + step);
      while (i < time.length && time[i]! < t) i++;
      // What lies ahead of the first bar and behind the last is no part of the data.
      if (end <= firstMs || t > lastMs) continue;
      slots.time[n] = t;
      slots.closeTime[n] = end;
      slots.session[n] = s;
      const bucket = bySession ? 0 : Math.floor((t - openMs[s]!) / (BUCKET_MINUTES * MINUTE_MS));
      slots.bucket[n] = bucket;
      buckets = Math.max(buckets, bucket + 1);
      for (let isFirst = true; i < time.length && time[i]! < end; i++, isFirst = false) {
        if (isFirst) slots.bar[n] = i;
        slotOf[i] = n;
      }
      n++;
    }
  }
  return {
    ...{ stepMs, buckets, slotOf },
    time: slots.time.subarray(0, n),
    closeTime: slots.closeTime.subarray(0, n),
    session: slots.session.subarray(0, n),
    bucket: slots.bucket.subarray(0, n),
    bar: slots.bar.subarray(0, n),
  };
}

/** How often something is so, by the half hour of the session; never quite never. */
export function sharesBy(slots: Slots, counts: (slot: number) => boolean, isSo: (slot: number) => boolean): Float64Array {
  const [all, so] = [new Float64Array(slots.buckets), new Float64Array(slots.buckets)];
  for (let n = 0; n < slots.time.length; n++) {
    if (!counts(n)) continue;
    const b = slots.bucket[n]!;
    all[b] = all[b]! + 1;
    if (isSo(n)) so[b] = so[b]! + 1;
  }
  return all.map((count, b) => (so[b]! + 0.5) / (count + 1));
}
