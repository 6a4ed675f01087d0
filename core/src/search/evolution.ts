/**
 * An evolutionary search on a lattice: the best settings so far are crossed and changed a little, generation after
 * generation (Eiben & Smith 2015, chapters 3 to 5). No setting is tried twice.
 */
import { Random } from "../random.ts";
import { bestFirst, placesOf, pointAt, type SearchSpace, type Tried } from "./space.ts";
import { spreadPoints } from "./spread.ts";

const SMALLEST = 16;
const LARGEST = 64;
/** Of the trials, a generation has this share. */
const SHARE = 0.05;
const TOURNAMENT = 3;
/** Tries at a child that is new and admitted, each with larger changes than the last. */
const TRIES = 24;

/** The next generation; none when the search is over. */
export function evolve(space: SearchSpace, count: number, seed: number, tried: Tried): number[] {
  const left = count - tried.points.length;
  if (left <= 0) return [];
  const size = Math.max(SMALLEST, Math.min(LARGEST, Math.round(count * SHARE)));
  const seen = new Set(tried.points);
  const parents = bestFirst(tried).slice(0, size);
  if (parents.length < 2) return spreadPoints(space, Math.min(left, 2 * size), seed + tried.points.length, seen);
  const random = new Random((seed * 2_654_435_761 + tried.points.length) >>> 0);
  const born: number[] = [];
  for (let k = 0; k < Math.min(size, left); k++) {
    const child = breed(space, () => tried.points[parents[tournament(parents.length, random)]!]!, seen, random);
    if (child === null) continue;
    seen.add(child);
    born.push(child);
  }
  // Case: what the best can reach is used up. New ground, or the end.
  return born.length > 0 ? born : spreadPoints(space, Math.min(left, size), seed + tried.points.length, seen);
}

/** The best of some drawn at random: parents stand in the order of their merit. */
function tournament(parents: number, random: Random): number {
  let best = parents;
  for (let k = 0; k < TOURNAMENT; k++) best = Math.min(best, Math.floor(random.next() * parents));
  return best;
}

/** A new point from two parents; null where none was found. */
function breed(space: SearchSpace, parent: () => number, seen: ReadonlySet<number>, random: Random): number | null {
  const { sizes, ordered, admits } = space;
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const [mother, father] = [placesOf(parent(), sizes), placesOf(parent(), sizes)];
    const child = mother.map((place, a) => (random.next() < 0.5 ? place : father[a]!));
    const rate = Math.min(1, (1 + attempt / 4) / sizes.length);
    for (let a = 0; a < sizes.length; a++) if (random.next() < rate) child[a] = changed(child[a]!, sizes[a]!, ordered[a]!, attempt, random);
    const point = pointAt(child, sizes);
    if (!seen.has(point) && admits(point)) return point;
  }
  return null;
}

/** Another place on an axis: near where order means something, any where it does not. */
function changed(place: number, size: number, isOrdered: boolean, attempt: number, random: Random): number {
  if (size === 1) return place;
  if (!isOrdered) return (place + 1 + Math.floor(random.next() * (size - 1))) % size;
  const reach = Math.max(1, size / 12) * (1 + attempt / 6);
  const step = Math.max(1, Math.round(Math.abs(random.normal()) * reach));
  const moved = random.next() < 0.5 ? place - step : place + step;
  // Reflected at the ends, so that they are not tried more than their share.
  const inside = moved < 0 ? -moved : moved >= size ? 2 * (size - 1) - moved : moved;
  return Math.max(0, Math.min(size - 1, inside));
}
