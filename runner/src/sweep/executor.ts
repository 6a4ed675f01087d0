/** Who runs the batches of a sweep. */
import type { ProcessPool } from "../parent/pool.ts";
import { type SweepAnswer, type SweepBatch, sweepPlan } from "../run-plan.ts";

export interface SweepExecutor {
  /** How many batches may be under way at once. */
  readonly threads: number;
  /** @throws PlanTesterError unavailable when nobody is there to run anything. */
  ready(): Promise<void>;
  /** @throws when the batch was lost on the way, e.g. because a plan ended its process. */
  execute(batch: SweepBatch): Promise<SweepAnswer>;
  close(): Promise<void>;
}

/** Carries batches to plan processes of this machine. */
export const embeddedExecutor = (pool: ProcessPool): SweepExecutor => ({
  threads: pool.size,
  ready: async () => undefined,
  execute: (batch) => pool.use((process) => sweepPlan(process, batch)),
  // The pool is its owner's to close.
  close: async () => undefined,
});
