/** Who runs the batches of a sweep. */
import { type ProcessPool, type SweepAnswer, type SweepBatch, sweepPlan } from "@plan-tester/runner";

export interface SweepCarrier {
  /** How many batches may be under way at once. */
  readonly lanes: number;
  /** @throws when the batch was lost on the way, e.g. because a plan ended its process. */
  carry(batch: SweepBatch): Promise<SweepAnswer>;
}

/** Carries batches to plan processes of this machine. */
export const embeddedCarrier = (pool: ProcessPool): SweepCarrier => ({
  lanes: pool.size,
  carry: (batch) => pool.use((process) => sweepPlan(process, batch)),
});
