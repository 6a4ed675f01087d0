/** Plain sample statistics. Each is undefined (null) rather than NaN where it has no value. */
import { isStill } from "../still.ts";

export function mean(values: ArrayLike<number>): number | null {
  if (values.length === 0) return null;
  const n = values.length;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += values[i]!;
  return sum / n;
}

/** Sample standard deviation, divisor n - 1; null under two values. */
export function sampleDeviation(values: ArrayLike<number>): number | null {
  const m = mean(values);
  if (m === null || values.length < 2) return null;
  const n = values.length;
  let squares = 0;
  for (let i = 0; i < n; i++) squares += (values[i]! - m) ** 2;
  return Math.sqrt(squares / (n - 1));
}

/** Whether a spread (deviation, range) of some values is nothing but rounding. */
export function isNoise(spread: number, values: ArrayLike<number>): boolean {
  let size = 0;
  for (let i = 0; i < values.length; i++) size = Math.max(size, Math.abs(values[i]!));
  return isStill(spread, size);
}

/** Quantile with linear interpolation between order statistics (Hyndman & Fan 1996, type 7). `sorted` is ascending. */
export function quantile(sorted: ArrayLike<number>, q: number): number | null {
  if (sorted.length === 0) return null;
  const at = (sorted.length - 1) * q;
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low]! + (at - low) * (sorted[high]! - sorted[low]!);
}

/** a / b, or null where b is 0 or either is missing. */
export function ratio(a: number | null, b: number | null): number | null {
  return a === null || b === null || b === 0 ? null : a / b;
}
