/**
 * Coarse to fine: every so many steps of the lattice first, then the surroundings of the best at half the stride, and so
 * on down to single steps. A pattern search (Hooke & Jeeves 1961) from many places at once.
 */
import { pointsAround } from "./moves.ts";
import { bestFirst, placesOf, pointAt, pointsIn, type SearchSpace, type Tried } from "./space.ts";
import { spreadPoints } from "./spread.ts";

/** The coarse lattice takes at most this share of the trials. */
const COARSE_SHARE = 0.4;
/** Only the best so many are looked around. */
const MOST_KEPT = 12;
/** Rounds that each stride has room for. */
const ROUNDS = 2;

const countAt = (size: number, stride: number): number => Math.floor((size - 1) / stride) + 1;

function coarseSizes({ sizes, ordered }: SearchSpace, stride: number): number[] {
  return sizes.map((size, a) => (ordered[a] ? countAt(size, stride) : size));
}

/** The least power of two as stride at which the coarse lattice has few enough points. */
function firstStride(space: SearchSpace, count: number): number {
  const longest = Math.max(...space.sizes);
  let stride = 1;
  while (stride * 2 < longest && pointsIn(coarseSizes(space, stride)) > count * COARSE_SHARE) stride *= 2;
  return stride;
}

/** Half the first stride, and so on down to single steps. */
function stridesBelow(first: number): number[] {
  const strides: number[] = [];
  for (let stride = Math.max(1, first >> 1); stride >= 1; stride >>= 1) strides.push(stride);
  return strides;
}

/** The points to be tried next; none when the search is over. */
export function coarseToFine(space: SearchSpace, count: number, seed: number, tried: Tried): number[] {
  const left = count - tried.points.length;
  if (left <= 0) return [];
  const { sizes, ordered, admits } = space;
  const first = firstStride(space, count);
  if (tried.points.length === 0) {
    const coarse = coarseSizes(space, first);
    const whole: SearchSpace = {
      sizes: coarse,
      ordered,
      admits: (point) => admits(finePoint(point)),
    };
    const finePoint = (point: number): number => pointAt(strided(point), sizes);
    const strided = (point: number): number[] =>
      // In the middle of what the stride leaves over, rather than at its edge.
      placesOf(point, coarse).map((place, a) => {
        if (!ordered[a]) return place;
        const over = sizes[a]! - 1 - (coarse[a]! - 1) * first;
        return place * first + Math.floor(over / 2);
      });
    const most = Math.max(1, Math.ceil(count * COARSE_SHARE));
    if (pointsIn(coarse) > most) return spreadPoints(whole, most, seed).map(finePoint);
    return Array.from({ length: pointsIn(coarse) }, (_none, point) => point)
      .filter(whole.admits)
      .map(finePoint)
      .slice(0, left);
  }
  const seen = new Set(tried.points);
  const strides = stridesBelow(first);
  // Each stride has an equal part of what is left after the coarse lattice.
  const coarseCount = Math.min(count * COARSE_SHARE, pointsIn(coarseSizes(space, first)));
  const share = Math.max(1, (count - coarseCount) / strides.length);
  const stage = Math.max(0, Math.min(strides.length - 1, Math.floor((tried.points.length - coarseCount) / share)));
  const order = bestFirst(tried);
  for (const stride of strides.slice(stage)) {
    const next = new Set<number>();
    for (const i of order.slice(0, MOST_KEPT)) {
      for (const point of pointsAround(space, tried.points[i]!, stride, seen)) next.add(point);
      if (next.size >= share / ROUNDS) break;
    }
    if (next.size > 0) return [...next].slice(0, left);
  }
  return [];
}
