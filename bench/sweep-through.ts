/** The variants of a sweep through threads of a plan process, shared out as the server's sweeps share them. */
import { type EngineSettings, type InputValues, SWEEP_FIGURES } from "@plan-tester/core";
import { type PlanProcess, sweepPlan } from "@plan-tester/runner";
import { CROSS_SOURCE } from "./cross-loop.ts";

export type Feeds = Parameters<typeof sweepPlan>[1]["stretches"][number];

const LEAST_BATCH = 4;

/**
 * @param most variants of a batch; towards the end they become fewer, so that no thread waits long for another.
 * @returns the figures of all variants, in their order.
 */
export async function sweepThrough(
  threads: readonly PlanProcess[],
  variants: readonly InputValues[],
  feeds: Feeds,
  settings: EngineSettings,
  most: number,
): Promise<Float64Array> {
  const figures = new Float64Array(variants.length * SWEEP_FIGURES.length);
  let next = 0;
  const work = async (thread: PlanProcess): Promise<void> => {
    while (next < variants.length) {
      const start = next;
      next += Math.min(most, Math.max(LEAST_BATCH, Math.ceil((variants.length - start) / (2 * threads.length))));
      const answer = await sweepPlan(thread, { source: CROSS_SOURCE, variants: variants.slice(start, next), stretches: [feeds], settings });
      if (answer.failures[0]) throw new Error(answer.failures[0].message);
      figures.set(answer.figures, start * SWEEP_FIGURES.length);
    }
  };
  await Promise.all(threads.map(work));
  return figures;
}
