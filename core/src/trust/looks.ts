/** What looking at held-out history costs: each setting that is tried on it is another chance for luck. */
import { MOST_P } from "./verdict.ts";

export interface LookCost {
  /** How likely at least one of so many independent looks at nothing comes to p <= 5 %. */
  readonly luckOnce: number;
  /** The p that each has to reach, so that all of them together are wrong in 5 of 100 cases (Sidak 1967). */
  readonly level: number;
}

/** @param looks at least 1 */
export const lookCost = (looks: number): LookCost => ({
  luckOnce: 1 - (1 - MOST_P) ** looks,
  level: 1 - (1 - MOST_P) ** (1 / looks),
});
