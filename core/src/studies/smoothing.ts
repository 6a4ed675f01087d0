import type { ColumnValues } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/**
 * Exponential smoothing with a fixed weight, seeded by the simple mean of the first `length` values:
 * y[i] = y[i-1] + alpha * (x[i] - y[i-1]). O(n); errors of one value fade with (1 - alpha)^k, so nothing drifts. Values that
 * stand still give themselves, to the last bit.
 */
export function smooth(source: ColumnValues, length: number, alpha: number): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + length - 1;
  const out = newColumn(n, first);
  if (first >= n) return { values: out, first };
  const start = values[source.first]!;
  let away = 0;
  for (let k = source.first; k <= first; k++) away += values[k]! - start;
  let y = start + away / length;
  out[first] = y;
  let i = first + 1;
  const from = startAt(i);
  if (from > i) {
    // On from the last whole pair.
    i = from - ((from - i) % 2);
    y = out[i - 1]!;
  }
  // Two values at a time from the one before both: half as long a chain of steps that wait for one another. Which formula
  // a value has depends on its distance from the first alone, so a shorter series has the same values.
  const alphaKept = alpha * (1 - alpha);
  for (; i + 1 < n; i += 2) {
    const a = values[i]!;
    const b = values[i + 1]!;
    out[i] = y + alpha * (a - y);
    y += alphaKept * (a - y) + alpha * (b - y);
    out[i + 1] = y;
  }
  if (i < n) out[i] = y + alpha * (values[i]! - y);
  return { values: out, first };
}

/** Exponential average of `length` values, weight 2 / (length + 1). */
export const exponentialAverage = (source: ColumnValues, length: number): ColumnValues => smooth(source, length, 2 / (length + 1));

/** Wilder's average of `length` values, weight 1 / length. */
export const wilderAverage = (source: ColumnValues, length: number): ColumnValues => smooth(source, length, 1 / length);
