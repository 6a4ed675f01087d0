/** The ways to search a space of settings. Each is a function of what was tried so far, so that a search can be left and taken up. */
import { coarseToFine } from "./coarse-to-fine.ts";
import { evolve } from "./evolution.ts";
import { modelBased } from "./model-based.ts";
import type { SearchSpace, Tried } from "./space.ts";
import { spreadPoints } from "./spread.ts";

export const SEARCH_METHODS = ["spread", "coarse to fine", "evolution", "model"] as const;
export type SearchMethod = (typeof SEARCH_METHODS)[number];

/** Up to `count` settings by a method; the same seed and the same scores give the same search. */
export interface Search {
  readonly method: SearchMethod;
  readonly count: number;
  readonly seed: number;
}

type Next = (space: SearchSpace, count: number, seed: number, tried: Tried) => number[];

const NEXT: Readonly<Record<SearchMethod, Next>> = {
  spread: (space, count, seed, { points }) => (points.length > 0 ? [] : spreadPoints(space, count, seed)),
  "coarse to fine": coarseToFine,
  evolution: evolve,
  model: modelBased,
};

/**
 * Points to be tried next, none of them tried before; none when the search is over. To be asked when all that it gave
 * before has been tried.
 */
export const nextPoints = (space: SearchSpace, { method, count, seed }: Search, tried: Tried): number[] =>
  NEXT[method](space, count, seed, tried);
