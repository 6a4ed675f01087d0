/** Moves on a lattice: the points around one, some steps away. */
import { placesOf, pointAt, type SearchSpace } from "./space.ts";

/** Above so many axes only one is moved at a time: all together would be too many. */
const MOST_TOGETHER = 3;

/**
 * Points one stride away on some axes, on each other value of an axis without order. Those that the space does not
 * admit, and those in `seen`, are left out.
 */
export function pointsAround(space: SearchSpace, point: number, stride: number, seen: ReadonlySet<number>): number[] {
  const { sizes, ordered, admits } = space;
  const here = placesOf(point, sizes);
  const choices = sizes.map((size, a) => {
    const at = here[a]!;
    if (!ordered[a]) return Array.from({ length: size }, (_none, k) => (at + k) % size);
    return [at, Math.max(0, at - stride), Math.min(size - 1, at + stride)].filter((place, i, all) => all.indexOf(place) === i);
  });
  const moved: number[][] =
    sizes.length <= MOST_TOGETHER
      ? choices.reduce<number[][]>((made, places) => made.flatMap((before) => places.map((place) => [...before, place])), [[]])
      : choices.flatMap((places, a) => places.slice(1).map((place) => here.map((at, b) => (b === a ? place : at))));
  return moved.map((places) => pointAt(places, sizes)).filter((other) => other !== point && !seen.has(other) && admits(other));
}
