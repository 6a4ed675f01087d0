/** Works out the probability of overfitting beside the page. */
import { type Overfitting, overfitting } from "@plan-tester/core";
import { answerWith } from "../../lib/ask-worker.ts";

export interface OverfitQuestion {
  readonly returns: Float32Array;
  readonly settings: number;
  readonly blocks: number;
}

answerWith<OverfitQuestion, Overfitting>(({ returns, settings, blocks }) => overfitting(returns, settings, blocks));
