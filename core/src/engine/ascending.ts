/** Looking things up in ascending columns, such as times. All indices are in bars. */

/** Index of the first of `n` values that is at or after `at`; `n` when none is. */
export function firstAtOrAfter(values: Float64Array, at: number, n: number): number {
  return between(values, at, 0, n);
}

/** The same from `from` on, in growing steps: for what is mostly near. */
export function firstFrom(values: Float64Array, at: number, from: number, n: number): number {
  let low = from;
  let step = 1;
  while (low + step < n && values[low + step - 1]! < at) {
    low += step;
    step *= 2;
  }
  return between(values, at, low, Math.min(n, low + step));
}

/** The first value after `at`, from `from` on. */
export function firstAfter(values: Float64Array, at: number, from: number, n: number): number {
  let i = firstFrom(values, at, from, n);
  while (i < n && values[i]! <= at) i++;
  return i;
}

function between(values: Float64Array, at: number, from: number, to: number): number {
  let low = from;
  let high = to;
  while (low < high) {
    const mid = (low + high) >>> 1;
    if (values[mid]! < at) low = mid + 1;
    else high = mid;
  }
  return low;
}
