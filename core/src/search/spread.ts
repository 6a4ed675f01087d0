/** Points spread evenly over a lattice: low-discrepancy sampling (Halton 1960), each point once. */
import { pointsIn, type SearchSpace } from "./space.ts";

const PRIMES = [2, 3, 5, 7, 11, 13, 17, 19];

/** The radical inverse of a number in a base, in [0, 1). */
function halton(n: number, base: number): number {
  let [value, share] = [0, 1 / base];
  for (let rest = n; rest > 0; rest = Math.floor(rest / base)) {
    value += (rest % base) * share;
    share /= base;
  }
  return value;
}

/**
 * Up to `count` points that the space admits, other than those in `seen`.
 * @param seed where in the sequence it begins; the same seed gives the same points.
 */
export function spreadPoints({ sizes, admits }: SearchSpace, count: number, seed: number, seen: ReadonlySet<number> = new Set()): number[] {
  const found = new Set<number>();
  // Beyond so many tries the points that are left are too few to be met by chance.
  const tries = Math.min(pointsIn(sizes), count) * 8 + 1000;
  for (let k = 0; k < tries && found.size < count; k++) {
    const at = 1 + seed * 7919 + k;
    const point = sizes.reduce((number, size, a) => number * size + Math.floor(halton(at, PRIMES[a]!) * size), 0);
    if (!found.has(point) && !seen.has(point) && admits(point)) found.add(point);
  }
  return [...found];
}
