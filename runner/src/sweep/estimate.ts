/** How many variants a sweep has, how long it will take and how much memory, measured on a few of them. */
import { NO_VARIANT, type SweepEstimate } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { ProcessPool } from "../parent/pool.ts";
import { type SweepBatch, sweepPlan } from "../run-plan.ts";
import type { SweepExecutor } from "./executor.ts";
import { bytesOf, firstPoints, type SweepTask, sizesOf } from "./job.ts";
import type { SweepMarket, VariantPlace } from "./work.ts";

/** Variants tried of each market, and markets that are tried. */
const TRIED = 4;
const MOST_MARKETS = 6;
/** Points that stand for all in how they share out over the markets. */
const MOST_POINTS = 2000;

export async function estimateSweep(task: SweepTask, pool: ProcessPool, executor: SweepExecutor): Promise<SweepEstimate> {
  const { space, work } = task;
  const known = firstPoints(task);
  const sizes = sizesOf(task, known);
  // Of a search that grows, points spread over its lattice stand for those it will ask for.
  const every = Math.ceil(known.length / MOST_POINTS);
  const points = sizes.isGrowing
    ? space.points({ method: "spread", count: 8 * TRIED, seed: 1 })
    : known.filter((_point, i) => i % every === 0);
  if (points.length === 0) throw new PlanTesterError("bad-input", NO_VARIANT, {});
  const places = points.map((point) => work.placeOf(space.variantAt(point)!));
  const barsOf = ({ stretches }: SweepMarket): number => stretches.flat().reduce((sum, { data }) => sum + data.series.length, 0);
  const bars = work.markets.reduce((sum, market) => sum + barsOf(market), 0);
  // Variant-bars in all, and the time that some of them took.
  let [wanted, tried, seconds, processBytes] = [0, 0, 0, 0];
  const step = Math.ceil(work.markets.length / MOST_MARKETS);
  for (const [number, market] of work.markets.entries()) {
    const here = places.filter((place) => place.market === number);
    wanted += barsOf(market) * (here.length / points.length) * sizes.total;
    if (number % step !== 0 || here.length === 0) continue;
    const { stretches, settings } = market;
    const some = here.filter((_place, i) => i % Math.max(1, Math.floor(here.length / TRIED)) === 0).slice(0, TRIED);
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
      seconds += (performance.now() - began) / 1000;
      tried += barsOf(market) * some.length;
      processBytes = Math.max(processBytes, memoryBytes);
    });
  }
  seconds *= wanted / tried;
  return {
    variants: sizes.total,
    bars,
    seconds: seconds / executor.threads,
    processes: executor.threads,
    memoryBytes: executor.threads * processBytes + bytesOf(sizes),
  };
}
