/** From what is asked of a sweep to what can be carried out: its inputs, its lattice and its bars, all checked. */
import { aimOf, type SweepRequest, sweepSpace, withSettings } from "@plan-tester/contract";
import { type InputSpec, PlanTesterError } from "@plan-tester/core";
import { describePlan, instrumentsOf, type ProcessPool, type SweepTask } from "@plan-tester/runner";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import { gatherWork, instrumentsVaried } from "./gather-work.ts";

export interface PreparedSweep {
  /** Inputs of the plan, and what else of the run varies. */
  readonly specs: readonly InputSpec[];
  readonly title: string;
  readonly task: SweepTask;
}

interface Parts {
  readonly markets: MarketService;
  readonly interactive: ProcessPool;
  readonly journal: Journal;
}

/**
 * @param surrogate seed of markets without memory, on which it is to be done instead
 * @param atMs with the bars and facts of that time: one that goes on does so on what it began on
 * @throws PlanTesterError when stretches overlap or are reserved, the plan or a condition can't be read, or bars are missing.
 */
export async function prepareSweep(
  { markets, interactive, journal }: Parts,
  request: SweepRequest,
  surrogate: number | null = null,
  atMs?: number,
): Promise<PreparedSweep> {
  const { settings, outOfSample, source, ranges, search, aim } = request;
  const { from, to } = settings;
  if (outOfSample && outOfSample.from <= to && outOfSample.to >= from)
    throw new PlanTesterError(
      "bad-input",
      `The out-of-sample period (${outOfSample.from} to ${outOfSample.to}) overlaps the in-sample period (${from} to ${to}). Move it after ${to}.`,
      {},
    );
  const { inputs, title } = await interactive.use((process) => describePlan(process, source));
  await journal.refuseReserved(request.planId, outOfSample && outOfSample.to > to ? outOfSample.to : to);
  const specs = withSettings(inputs, settings, request);
  const space = sweepSpace(specs, request.inputs, request);
  const named = await interactive.use((process) => instrumentsOf(process, source, request.inputs));
  const stretches = [{ from, to }, ...(outOfSample ? [outOfSample] : [])];
  const work = await gatherWork(
    markets,
    { ...request, linked: space.linked },
    stretches,
    [...named, ...instrumentsVaried(ranges, specs)],
    surrogate,
    atMs,
  );
  return { specs, title, task: { space, search, aim: aimOf(aim), work, keepsDaily: true } };
}
