/** Works out the probability of overfitting, and what the best is worth, beside the page. */
import { chanceVariance, deflatedSharpe, effectiveTrials, type Overfitting, overfitting, returnShape } from "@plan-tester/core";
import { answerWith } from "../../lib/ask-worker.ts";

export interface OverfitQuestion {
  readonly returns: Float32Array;
  readonly settings: number;
  readonly blocks: number;
}

export interface SweepDoubt extends Overfitting {
  /** Independent settings that all of them amount to. */
  readonly independent: number;
  /** Confidence that the best one's ratio is above 0 with so many independent trials (rough); null where it has none. */
  readonly deflated: number | null;
}

answerWith<OverfitQuestion, SweepDoubt>(({ returns, settings, blocks }) => {
  const independent = effectiveTrials(returns, settings);
  const days = returns.length / settings;
  let best: ReturnType<typeof returnShape> = null;
  for (let s = 0; s < settings; s++) {
    const shape = returnShape(returns.subarray(s * days, (s + 1) * days));
    if (shape && (!best || shape.sharpe > best.sharpe)) best = shape;
  }
  const deflated = best && deflatedSharpe(best, Math.max(1, independent), chanceVariance(days));
  return { ...overfitting(returns, settings, blocks), independent, deflated };
});
