/**
 * A model-based search: a Gaussian process stands in for the runs, and those settings are tried next of which the most
 * improvement is expected (Jones, Schonlau & Welch 1998). Several at a time: after each choice the model is told its own
 * guess, so that the next is looked for elsewhere (Ginsbourger, Le Riche & Carraro 2010, "kriging believer").
 */
import { Random } from "../random.ts";
import { normalCdf, normalDensity } from "../trust/normal.ts";
import { pointsAround } from "./moves.ts";
import { bestFirst, placesOf, type SearchSpace, type Tried } from "./space.ts";
import { spreadPoints } from "./spread.ts";
import { normalScores, Surrogate } from "./surrogate.ts";

/** Settings tried before there is a model, for each axis and at least. */
const FIRST_PER_AXIS = 6;
const LEAST_FIRST = 16;
/** Settings tried between two fits. */
const ROUND = 8;
/** The model knows at most so many: the best, and others spread over the rest. */
const MOST_KNOWN = 160;
/** Settings that are thought about for each choice: drawn at random, and those around the best. */
const DRAWN = 320;
const AROUND_BEST = 6;

/** Expected improvement over `best`. */
export function expectedImprovement(mean: number, deviation: number, best: number): number {
  if (deviation <= 0) return Math.max(0, mean - best);
  const z = (mean - best) / deviation;
  return (mean - best) * normalCdf(z) + deviation * normalDensity(z);
}

/** The settings to be tried next; none when the search is over. */
export function modelBased(space: SearchSpace, count: number, seed: number, tried: Tried): number[] {
  const left = count - tried.points.length;
  if (left <= 0) return [];
  const seen = new Set(tried.points);
  const { sizes, ordered } = space;
  const order = bestFirst(tried);
  if (order.length < LEAST_FIRST / 2) {
    const first = Math.max(LEAST_FIRST, FIRST_PER_AXIS * sizes.length);
    return spreadPoints(space, Math.min(left, first), seed + tried.points.length, seen);
  }
  const known = knownOf(order);
  const scores = normalScores(Float64Array.from(known, (i) => tried.scores[i]!));
  const axes = sizes.map((size, a) => ({ size, ordered: ordered[a]! }));
  const places = known.map((i) => placesOf(tried.points[i]!, sizes));
  const model = Surrogate.fit(axes, places, scores);
  const around = order.slice(0, AROUND_BEST).map((i) => tried.points[i]!);
  const prospects = new Map(
    [...candidatesOf(space, around, seen, seed + tried.points.length)].map((point) => [point, model.guess(placesOf(point, sizes))]),
  );
  // The highest of what the model believes of them: a single score may be luck, or more than its surroundings can carry.
  let best = places.reduce((most, place) => Math.max(most, model.guess(place).mean), Number.NEGATIVE_INFINITY);
  const chosen: number[] = [];
  while (chosen.length < Math.min(ROUND, left) && prospects.size > 0) {
    let [at, most, mean] = [-1, Number.NEGATIVE_INFINITY, 0];
    for (const [point, guess] of prospects) {
      model.renew(guess);
      const improvement = expectedImprovement(guess.mean, Surrogate.deviationOf(guess), best);
      if (improvement > most) [at, most, mean] = [point, improvement, guess.mean];
    }
    prospects.delete(at);
    chosen.push(at);
    model.add(placesOf(at, sizes), mean);
    best = Math.max(best, mean);
  }
  return chosen;
}

/** What the model is told of: all, or the better half of its room from the top and the rest spread over what is left. */
function knownOf(order: readonly number[]): number[] {
  if (order.length <= MOST_KNOWN) return [...order];
  const top = order.slice(0, MOST_KNOWN / 2);
  const rest = order.slice(MOST_KNOWN / 2);
  const step = rest.length / (MOST_KNOWN / 2);
  return [...top, ...Array.from({ length: MOST_KNOWN / 2 }, (_none, k) => rest[Math.floor(k * step)]!)];
}

function candidatesOf(space: SearchSpace, best: readonly number[], seen: ReadonlySet<number>, seed: number): Set<number> {
  const { sizes, admits } = space;
  const random = new Random(seed);
  const found = new Set(best.flatMap((point) => [...pointsAround(space, point, 1, seen), ...pointsAround(space, point, 2, seen)]));
  for (let k = 0; k < DRAWN; k++) {
    const point = sizes.reduce((number, size) => number * size + Math.floor(random.next() * size), 0);
    if (!seen.has(point) && admits(point)) found.add(point);
  }
  // Case: nearly all is tried. What is left is met by spreading.
  return found.size > 0 ? found : new Set(spreadPoints(space, ROUND, seed, seen));
}
