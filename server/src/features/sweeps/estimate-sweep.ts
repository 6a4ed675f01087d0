/** How many variants a sweep has, how long it will take and how much memory, measured on a few of them. */
import { NO_VARIANT, type SweepEstimate } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { type ProcessPool, type SweepBatch, sweepPlan } from "@plan-tester/runner";
import type { SweepCarrier } from "./sweep-carrier.ts";
import { SweepJob, type SweepTask } from "./sweep-job.ts";
import type { VariantPlace } from "./sweep-work.ts";

/** Variants tried of each market. */
const TRIED = 4;

export async function estimateSweep(task: SweepTask, pool: ProcessPool, carrier: SweepCarrier): Promise<SweepEstimate> {
  const { space, work } = task;
  const job = new SweepJob(task, carrier);
  // Of a search that grows, points spread over its lattice stand for those it will ask for.
  const points = job.points.length > 0 ? job.points : space.points({ method: "spread", count: 8 * TRIED, seed: 1 });
  if (points.length === 0) throw new PlanTesterError("bad-input", NO_VARIANT, {});
  const places = points.map((point) => work.placeOf(space.variantAt(point)!));
  let [seconds, bars] = [0, 0];
  for (const [market, { stretches, settings }] of work.markets.entries()) {
    bars += stretches.flat().reduce((sum, { data }) => sum + data.series.length, 0);
    const here = places.filter((place) => place.market === market);
    const step = Math.max(1, Math.floor(here.length / TRIED));
    const some = here.filter((_place, i) => i % step === 0).slice(0, TRIED);
    if (some.length === 0) continue;
    const batchOf = (tried: readonly VariantPlace[]): SweepBatch => ({
      ...{ source: work.source, stretches, settings },
      variants: tried.map(({ inputs }) => inputs),
      kits: work.variesKit ? tried.map(({ kit }) => kit) : null,
    });
    await pool.use(async (process) => {
      // The first alone sends the bars and computes what all share.
      await sweepPlan(process, batchOf(some.slice(0, 1)));
      const began = performance.now();
      const { memoryBytes } = await sweepPlan(process, batchOf(some));
      seconds += ((performance.now() - began) / 1000 / some.length) * (here.length / points.length) * job.total;
      job.processBytes = Math.max(job.processBytes, memoryBytes);
    });
  }
  const { total: variants, memoryBytes } = job;
  return { variants, bars, seconds: seconds / carrier.lanes, processes: carrier.lanes, memoryBytes };
}
