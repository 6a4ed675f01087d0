/**
 * Days that the choice had not seen: of twelve blocks of days two are left out in each of 66 ways, and the setting that was
 * best on the other ten is followed on the two. Every day is so followed by eleven choices that knew nothing of it.
 *
 * Calibrated on settings that are alike, as those of one sweep are (correlation of 0.8 and more: luck is believed in 4 to 6 of
 * 100 worlds at 5 %). Settings that have nothing in common are believed too often, in 11 to 16 of 100.
 */
import { mean } from "../figures/statistics.ts";
import { studentTail } from "./student.ts";

export interface EarnedOnDays {
  /** Mean daily return, times the sessions of a year. */
  readonly aYear: number;
  /** Annual Sharpe ratio. */
  readonly ratio: number;
  /** How likely days that earn nothing come to as much: one-sided t, T - 1 degrees. */
  readonly p: number;
}

/** What was earned on days that the choice had not seen. */
export interface DaysNotSeen extends EarnedOnDays {
  /** How many different settings were chosen. */
  readonly chosen: number;
  /** Return of each day. */
  readonly days: Float64Array;
}

const BLOCKS = 12;
/** Fewer days than this tell nothing. */
export const LEAST_DAYS = 60;

/**
 * @param returns one row a setting, one column a session, as in `overfitting`.
 * null for fewer than 60 days, no setting, or days without variation. Cost: settings times (days + 66 times 12).
 */
export function daysNotSeen(returns: Float64Array | Float32Array, settings: number, sessionsPerYear: number): DaysNotSeen | null {
  const T = settings > 0 ? returns.length / settings : 0;
  if (T < LEAST_DAYS) return null;
  const from = Array.from({ length: BLOCKS + 1 }, (_none, b) => Math.floor((b * T) / BLOCKS));
  const sums = new Float64Array(settings * BLOCKS);
  const squares = new Float64Array(settings * BLOCKS);
  for (let s = 0; s < settings; s++)
    for (let b = 0; b < BLOCKS; b++)
      for (let t = from[b]!; t < from[b + 1]!; t++) {
        const value = returns[s * T + t]!;
        sums[s * BLOCKS + b]! += value;
        squares[s * BLOCKS + b]! += value * value;
      }
  const [sum, square] = [new Float64Array(settings), new Float64Array(settings)];
  for (let s = 0; s < settings; s++)
    for (let b = 0; b < BLOCKS; b++) {
      sum[s]! += sums[s * BLOCKS + b]!;
      square[s]! += squares[s * BLOCKS + b]!;
    }
  const days = new Float64Array(T);
  const chosen = new Set<number>();
  for (let one = 0; one < BLOCKS; one++)
    for (let other = one + 1; other < BLOCKS; other++) {
      const count = T - (from[one + 1]! - from[one]!) - (from[other + 1]! - from[other]!);
      let [best, most] = [-1, Number.NEGATIVE_INFINITY];
      for (let s = 0; s < settings; s++) {
        const at = s * BLOCKS;
        const ratio = ratioOf(sum[s]! - sums[at + one]! - sums[at + other]!, square[s]! - squares[at + one]! - squares[at + other]!, count);
        if (ratio > most) [best, most] = [s, ratio];
      }
      if (best < 0) continue;
      chosen.add(best);
      for (const b of [one, other]) for (let t = from[b]!; t < from[b + 1]!; t++) days[t]! += returns[best * T + t]! / (BLOCKS - 1);
    }
  const earned = chosen.size === 0 ? null : earnedOn(days, sessionsPerYear);
  return earned && { ...earned, chosen: chosen.size, days };
}

/** The test of some days' returns, such as those of a walk-forward's windows put one after the other. null for fewer than 60, and where they don't vary. */
export function earnedOn(days: ArrayLike<number>, sessionsPerYear: number): EarnedOnDays | null {
  const T = days.length;
  if (T < LEAST_DAYS) return null;
  const middle = mean(days)!;
  let variance = 0;
  for (let t = 0; t < T; t++) variance += (days[t]! - middle) ** 2 / (T - 1);
  if (!(variance > 0)) return null;
  const perDay = middle / Math.sqrt(variance);
  return {
    aYear: middle * sessionsPerYear,
    ratio: perDay * Math.sqrt(sessionsPerYear),
    p: studentTail(perDay * Math.sqrt(T), T - 1),
  };
}

/** Of one period; -Infinity for what never moved: it is no choice. */
function ratioOf(sum: number, square: number, count: number): number {
  const variance = (square - (sum * sum) / count) / (count - 1);
  return variance > 1e-18 ? sum / count / Math.sqrt(variance) : Number.NEGATIVE_INFINITY;
}
