/** Works out the probability of overfitting beside the page. */
import { type Overfitting, overfitting } from "@plan-tester/core";

export interface OverfitQuestion {
  readonly returns: Float64Array;
  readonly settings: number;
  readonly blocks: number;
}

export type OverfitAnswer = { readonly found: Overfitting } | { readonly error: string };

self.onmessage = ({ data }: MessageEvent<OverfitQuestion>) => {
  let answer: OverfitAnswer;
  try {
    answer = { found: overfitting(data.returns, data.settings, data.blocks) };
  } catch (error) {
    answer = { error: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(answer);
};
