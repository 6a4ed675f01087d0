/** The space of a search: a lattice whose points are numbered, the last axis moving fastest. */

export interface SearchSpace {
  /** How many values each axis has. */
  readonly sizes: readonly number[];
  /** Whether the order of an axis's values means something; of names, such as instruments, it does not. */
  readonly ordered: readonly boolean[];
  /** Whether a point meets the conditions between inputs. */
  readonly admits: (point: number) => boolean;
}

/** What a search has come to: points in the order of their trial, and how well each did. More is better; NaN did not count. */
export interface Tried {
  readonly points: readonly number[];
  readonly scores: ArrayLike<number>;
}

/** How many points a lattice has. */
export const pointsIn = (sizes: readonly number[]): number => sizes.reduce((count, size) => count * size, 1);

/** The place of a point on each axis, written into `out`. */
export function placesOf(point: number, sizes: readonly number[], out: number[] = []): number[] {
  let rest = point;
  for (let a = sizes.length - 1; a >= 0; a--) {
    out[a] = rest % sizes[a]!;
    rest = Math.floor(rest / sizes[a]!);
  }
  return out;
}

/** The number of a point from its place on each axis. */
export function pointAt(places: ArrayLike<number>, sizes: readonly number[]): number {
  let point = 0;
  for (let a = 0; a < sizes.length; a++) point = point * sizes[a]! + places[a]!;
  return point;
}

/** Indexes of what was tried, the best first; what did not count is left out. Equal scores stay in the order of their trial. */
export function bestFirst({ points, scores }: Tried): number[] {
  return points
    .map((_point, i) => i)
    .filter((i) => !Number.isNaN(scores[i]!))
    .sort((a, b) => scores[b]! - scores[a]! || a - b);
}
