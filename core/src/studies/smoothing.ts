import { type ColumnValues, newColumn } from "./definition.ts";

/**
 * Exponential smoothing with a fixed weight, seeded by the simple mean of the first `length` values:
 * y[i] = alpha * x[i] + (1 - alpha) * y[i-1]. O(n); errors of one value fade with (1 - alpha)^k, so nothing drifts.
 */
export function smooth(source: ColumnValues, length: number, alpha: number): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  if (first >= n) return { values: out, first };
  const keep = 1 - alpha;
  let seed = 0;
  for (let k = source.first; k <= first; k++) seed += values[k]!;
  let y = seed / length;
  out[first] = y;
  // Two values at a time from the one before both: half as long a chain of steps that wait for one another. Which formula
  // a value has depends on its distance from the first alone, so a shorter series has the same values.
  const keepTwice = keep * keep;
  const alphaKept = alpha * keep;
  let i = first + 1;
  for (; i + 1 < n; i += 2) {
    const a = values[i]!;
    const b = values[i + 1]!;
    out[i] = alpha * a + keep * y;
    y = alphaKept * a + alpha * b + keepTwice * y;
    out[i + 1] = y;
  }
  if (i < n) out[i] = alpha * values[i]! + keep * y;
  return { values: out, first };
}

/** Exponential average of `length` values, weight 2 / (length + 1). */
export const exponentialAverage = (source: ColumnValues, length: number): ColumnValues => smooth(source, length, 2 / (length + 1));

/** Wilder's average of `length` values, weight 1 / length. */
export const wilderAverage = (source: ColumnValues, length: number): ColumnValues => smooth(source, length, 1 / length);
