/**
 * The members of a blend on one clock: what each has made at every close of any of them, so that a fall inside a day counts.
 * All of it is in proportion to size: what a blend of other sizes made is a weighted sum of these columns.
 */
import { firstAfter } from "../engine/ascending.ts";
import { utcToWall, wallToUtc } from "../market/calendar.ts";
import { DAY_MS } from "../market/timeframe.ts";

/** Money of the blend for one of a member's account: always the same, or the last known at a time. */
export type Rate = number | { readonly time: Float64Array; readonly value: Float64Array };

export interface MemberCurve {
  /** Times of the closes, ascending; as many as values of equity. */
  readonly time: Float64Array;
  readonly equity: Float64Array;
  /** Equity ahead of the first close. */
  readonly cash: number;
  readonly rate: Rate;
}

export interface BlendCurves {
  /** Every close of any member, ascending, each once. */
  readonly time: Float64Array;
  /** Of each member: what its run has made by then, money of the blend. 0 before its first close, unchanged after its last. */
  readonly profits: readonly Float64Array[];
  /** The last close of each calendar day in a zone on which anything closed. */
  readonly dayEnds: Int32Array;
  /** Those days' dates as UTC midnights, milliseconds. */
  readonly days: Float64Array;
  /** Of each member: its first and last day. */
  readonly alive: readonly { readonly from: number; readonly to: number }[];
}

/**
 * @param zone in which days are counted
 * Profits made abroad count at the rate of the close at which they appear.
 */
export function blendCurves(members: readonly MemberCurve[], zone: string): BlendCurves {
  const time = unionOf(members.map((member) => member.time));
  const { dayEnds, days } = daysOf(time, zone);
  return {
    ...{ time, dayEnds, days },
    profits: members.map((member) => profitAt(member, time)),
    alive: members.map(({ time: own, equity }) => {
      const last = equity.length - 1;
      return last < 0 ? { from: 0, to: -1 } : { from: dayOf(own[0]!, time, dayEnds), to: dayOf(own[last]!, time, dayEnds) };
    }),
  };
}

/** The number of the day of a time that is one of the closes. */
function dayOf(ms: number, time: Float64Array, dayEnds: Int32Array): number {
  const at = firstAfter(time, ms, 0, time.length) - 1;
  let d = 0;
  while (d < dayEnds.length - 1 && dayEnds[d]! < at) d++;
  return d;
}

function unionOf(times: readonly Float64Array[]): Float64Array {
  const all = new Float64Array(times.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const one of times) {
    all.set(one, at);
    at += one.length;
  }
  all.sort();
  let n = 0;
  for (let i = 0; i < all.length; i++) if (i === 0 || all[i] !== all[i - 1]) all[n++] = all[i]!;
  return all.slice(0, n);
}

function daysOf(time: Float64Array, zone: string): { readonly dayEnds: Int32Array; readonly days: Float64Array } {
  const [ends, days]: [number[], number[]] = [[], []];
  let [nextMs, day] = [Number.NEGATIVE_INFINITY, 0];
  for (let i = 0; i < time.length; i++) {
    // A close at midnight belongs to the day that ends then.
    if (time[i]! > nextMs) {
      day = Math.floor((utcToWall(zone, time[i]!) - 1) / DAY_MS) * DAY_MS;
      nextMs = wallToUtc(zone, day + DAY_MS, 0);
      ends.push(i);
      days.push(day);
    }
    ends[ends.length - 1] = i;
  }
  return { dayEnds: Int32Array.from(ends), days: Float64Array.from(days) };
}

function profitAt({ time: own, equity, cash, rate }: MemberCurve, time: Float64Array): Float64Array {
  const profit = new Float64Array(time.length);
  let [at, made, before] = [0, 0, cash];
  for (let i = 0; i < time.length; i++) {
    if (at < equity.length && own[at]! <= time[i]!) {
      const money = typeof rate === "number" ? rate : rateAt(rate, time[i]!);
      // Case: one rate. No sum of changes, so that nothing is lost to rounding.
      made = typeof rate === "number" ? (equity[at]! - cash) * rate : made + (equity[at]! - before) * money;
      before = equity[at]!;
      at++;
    }
    profit[i] = made;
  }
  return profit;
}

/** The last known rate; ahead of the first it is the first. */
function rateAt({ time, value }: Exclude<Rate, number>, ms: number): number {
  return value[Math.max(0, firstAfter(time, ms, 0, time.length) - 1)] ?? 1;
}

/** What a blend has made at each close. @param factors times the size of its run, for each member */
export function jointProfit({ time, profits }: Pick<BlendCurves, "time" | "profits">, factors: readonly number[]): Float64Array {
  const joint = new Float64Array(time.length);
  profits.forEach((profit, k) => {
    const factor = factors[k]!;
    if (factor === 0) return;
    for (let i = 0; i < joint.length; i++) joint[i]! += factor * profit[i]!;
  });
  return joint;
}

/** Of each member what it made on each day, at the size of its run. */
export function dailyProfits({ profits, dayEnds }: Pick<BlendCurves, "profits" | "dayEnds">): Float64Array[] {
  return profits.map((profit) => {
    const daily = new Float64Array(dayEnds.length);
    let before = 0;
    for (let d = 0; d < daily.length; d++) {
      daily[d] = profit[dayEnds[d]!]! - before;
      before = profit[dayEnds[d]!]!;
    }
    return daily;
  });
}

/** The days [from, to) of a blend as one of its own: each member begins at nothing. */
export function blendPart(curves: BlendCurves, from: number, to: number): BlendCurves {
  const { time, profits, dayEnds, days, alive } = curves;
  const first = from === 0 ? 0 : dayEnds[from - 1]! + 1;
  const end = to === 0 ? 0 : dayEnds[to - 1]! + 1;
  const place = (day: number): number => Math.min(Math.max(day, from), to) - from;
  return {
    time: time.subarray(first, end),
    profits: profits.map((profit) => {
      const before = first === 0 ? 0 : profit[first - 1]!;
      return profit.slice(first, end).map((value) => value - before);
    }),
    dayEnds: dayEnds.slice(from, to).map((i) => i - first),
    days: days.subarray(from, to),
    alive: alive.map(({ from: a, to: b }) => ({ from: place(a), to: Math.min(place(b), to - from - 1) })),
  };
}

/** What stood at a member's closes (a position's value, its margin) on the clock of the blend: 0 before the first and after the last. */
export function heldAt(
  { time: own, values }: { readonly time: Float64Array; readonly values: Float64Array },
  time: Float64Array,
): Float64Array {
  const held = new Float64Array(time.length);
  const last = values.length - 1;
  let at = -1;
  for (let i = 0; i < time.length; i++) {
    if (at < last && own[at + 1]! <= time[i]!) at++;
    held[i] = at < 0 || (at === last && time[i]! > own[last]!) ? 0 : values[at]!;
  }
  return held;
}
