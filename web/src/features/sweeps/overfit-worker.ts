/** Works out the probability of overfitting, and what the best is worth, beside the page. */
import {
  chanceVariance,
  type DaysNotSeen,
  daysNotSeen,
  deflatedSharpe,
  effectiveTrials,
  type Overfitting,
  overfitting,
  returnShape,
  type SuperiorAbility,
  seedFrom,
  superiorAbility,
} from "@plan-tester/core";
import { answerWith } from "../../lib/ask-worker.ts";

export interface DoubtQuestion {
  readonly returns: Float32Array;
  readonly settings: number;
  readonly blocks: number;
  readonly sessionsPerYear: number;
  /** What draws are made from: the sweep's id. */
  readonly seed: string;
}

export interface SweepDoubt extends Overfitting {
  /** Independent settings that all of them amount to. */
  readonly independent: number;
  /** Confidence that the best one's ratio is above 0 with so many independent trials (rough); null where it has none. */
  readonly deflated: number | null;
  readonly notSeen: Omit<DaysNotSeen, "days"> | null;
  readonly ability: SuperiorAbility | null;
  readonly years: number;
}

/** Above so many numbers the draws are fewer: they take a second for each million. */
const MANY = 1_500_000;
const FEWER_DRAWS = 199;

answerWith<DoubtQuestion, SweepDoubt>(({ returns, settings, blocks, sessionsPerYear, seed }) => {
  const independent = effectiveTrials(returns, settings);
  const days = returns.length / settings;
  let best: ReturnType<typeof returnShape> = null;
  for (let s = 0; s < settings; s++) {
    const shape = returnShape(returns.subarray(s * days, (s + 1) * days));
    if (shape && (!best || shape.sharpe > best.sharpe)) best = shape;
  }
  const deflated = best && deflatedSharpe(best, Math.max(1, independent), chanceVariance(days));
  const seen = daysNotSeen(returns, settings, sessionsPerYear);
  const notSeen = seen && { aYear: seen.aYear, ratio: seen.ratio, p: seen.p, chosen: seen.chosen };
  const ability = superiorAbility(returns, settings, seedFrom(`${seed} ability`), returns.length > MANY ? FEWER_DRAWS : undefined);
  return { ...overfitting(returns, settings, blocks), independent, deflated, notSeen, ability, years: days / sessionsPerYear };
});
