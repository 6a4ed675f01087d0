/** Prices that stick out and come back at once: more ranges of a bar than this market's own. */
import type { BarColumns } from "../market/bars.ts";
import { type Finding, stretchesOf } from "./finding.ts";
import { medianOf } from "./median.ts";
import type { Slots } from "./slots.ts";

/** Neighbours on each side, and the one by rank beyond which a price sticks out: two others may be wrong as well. */
const NEIGHBOURS = 4;
const RANK = 2;
/** Bars over which the usual range is taken. */
const BLOCK = 60;
/** A spike is so many ranges at least, and so many times what a few bars of the history stick out by. */
const LEAST_RANGES = 6;
const TIMES_USUAL = 3;
const USUAL_BARS = 40;
/** A bar of a smaller range than so many usual ones is no first bar of a spike. */
const LEAST_OWN_RANGE = 2;
/** Medians of a whole history are taken of every so many bars. */
const EVERY = 7;

/** Ranges of a bar that each bar sticks out by, above 0 for a high, below for a low. */
function excursions({ high, low, close }: BarColumns, slots: Slots | null, tickSize: number): Float64Array {
  const n = high.length;
  const range = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const before = i > 0 ? close[i - 1]! : close[i]!;
    // In parts of the price: a split does not make all bars before it large.
    range[i] = (Math.max(high[i]!, before) - Math.min(low[i]!, before)) / before;
  }
  const local = new Float64Array(Math.ceil(n / BLOCK));
  for (let b = 0; b < local.length; b++) local[b] = medianOf(range.subarray(b * BLOCK, Math.min(n, (b + 1) * BLOCK)));
  const byBucket = slots ? bucketMedians(range, slots) : null;
  const whole = medianOf(range.filter((_value, i) => i % EVERY === 0));
  const result = new Float64Array(n);
  const highs = new Float64Array(2 * NEIGHBOURS);
  const lows = new Float64Array(2 * NEIGHBOURS);
  for (let i = 0; i < n; i++) {
    const b = Math.floor(i / BLOCK);
    const near = Math.max(local[b]!, local[b - 1] ?? 0, local[b + 1] ?? 0);
    const slot = slots?.slotOf[i] ?? -1;
    const price = i > 0 ? close[i - 1]! : close[i]!;
    const usual = Math.max(near, byBucket && slot >= 0 ? byBucket[slots!.bucket[slot]!]! : 0, whole, tickSize / price);
    if (range[i]! < LEAST_OWN_RANGE * usual) continue;
    let count = 0;
    for (let j = Math.max(0, i - NEIGHBOURS); j <= Math.min(n - 1, i + NEIGHBOURS); j++) {
      if (j === i) continue;
      highs[count] = high[j]!;
      lows[count] = low[j]!;
      count++;
    }
    if (count <= 2 * RANK) continue;
    const up = high[i]! - ranked(highs, count, RANK, 1);
    const down = ranked(lows, count, RANK, -1) - low[i]!;
    if (up <= 0 && down <= 0) continue;
    result[i] = (up >= down ? up : -down) / price / usual;
  }
  return result;
}

export function spikesIn(columns: BarColumns, closeTime: Float64Array, slots: Slots | null, tickSize: number): Finding[] {
  const { time, high, low } = columns;
  const out = excursions(columns, slots, tickSize);
  const sorted = out
    .filter((value) => value !== 0)
    .map(Math.abs)
    .sort();
  const usual = sorted[sorted.length - 1 - USUAL_BARS] ?? 0;
  const limit = Math.max(LEAST_RANGES, TIMES_USUAL * usual);
  return stretchesOf(time.length, (i) => Math.abs(out[i]!) >= limit, NEIGHBOURS).map(({ first, last, bars }) => {
    let worst = first;
    for (let i = first; i <= last; i++) if (Math.abs(out[i]!) > Math.abs(out[worst]!)) worst = i;
    const isUp = out[worst]! > 0;
    const ranges = Math.abs(out[worst]!);
    return {
      kind: "spike",
      ...{ fromMs: time[first]!, toMs: closeTime[last]!, bars, size: ranges },
      text: `the ${isUp ? "high" : "low"} ${isUp ? high[worst] : low[worst]} sticks out by ${ranges.toFixed(0)} ranges of a bar, and price is back at once`,
    };
  });
}

/** The value of a rank, counted from the greatest (`sign` 1) or the least (-1). */
function ranked(values: Float64Array, count: number, rank: number, sign: 1 | -1): number {
  // A handful of values: each round takes the next one out.
  let [bound, ties] = [Number.POSITIVE_INFINITY, 0];
  for (let taken = 0; taken <= rank; ) {
    let best = Number.NEGATIVE_INFINITY;
    ties = 0;
    for (let k = 0; k < count; k++) {
      const value = sign * values[k]!;
      if (value >= bound || value < best) continue;
      ties = value === best ? ties + 1 : 1;
      best = value;
    }
    bound = best;
    taken += ties;
  }
  return sign * bound;
}

function bucketMedians(range: Float64Array, { bar, bucket, buckets }: Slots): Float64Array {
  const lists: number[][] = Array.from({ length: buckets }, () => []);
  for (let n = 0; n < bar.length; n += EVERY) if (bar[n]! >= 0) lists[bucket[n]!]!.push(range[bar[n]!]!);
  return Float64Array.from(lists, (list) => medianOf(Float64Array.from(list)));
}
