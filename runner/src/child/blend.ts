/** Several plans on one account, in the plan process: each in a compartment of its own, all moved by one clock. */
import { type BlendedMember, type BlendRunMeta, packColumns } from "@plan-tester/contract";
import { BlendRun, MemberFailure, type Order, PlanTesterError, type RunResult, resolveInputs, specsOf } from "@plan-tester/core";
import type { BlendMessage, Send } from "../protocol.ts";
import { sendInParts } from "./report.ts";
import { beAlive, breathe, failureOf, loaded, nextStep, sendError, sendProgress, takeStop } from "./run.ts";
import { currentLine, guard, type LoadedPlan, loadPlan } from "./sandbox.ts";

/** Parts of the time that a blend covers: progress is told in them. */
const PARTS = 1_000_000;
const FIRST_PART = 200;

export async function blend(message: BlendMessage, send: Send): Promise<void> {
  const started = performance.now();
  const { id, cash, limits, members } = message;
  beAlive(id, send);
  const plans: LoadedPlan[] = [];
  let run: BlendRun;
  try {
    const options = members.map(({ source, inputs: given, feeds, settings, rate }) => {
      guard.restart();
      const plan = loadPlan(source);
      plans.push(plan);
      const declared = plan.instantiate();
      const inputs = resolveInputs(specsOf(declared.inputs), given);
      return { plan: declared, freshPlan: plan.instantiate, inputs, feeds: feeds.map(loaded), settings, sourceLine: currentLine, rate };
    });
    run = new BlendRun({ cash, ruin: "stop", limits, members: options });
  } catch (error) {
    // Whose it is: the last that was begun.
    const named = members[plans.length - 1]?.name;
    return sendError(
      error instanceof PlanTesterError && named ? new PlanTesterError(error.code, `${named}: ${error.message}`, error.details) : error,
      plans.at(-1) ?? null,
      id,
      send,
    );
  }
  const { fromMs, toMs } = run.span;
  let failure: MemberFailure | null = null;
  let [part, step] = [0, FIRST_PART];
  while (!run.isOver && !failure) {
    const before = performance.now();
    guard.restart();
    part = Math.min(PARTS, part + step);
    try {
      run.advance(part === PARTS ? Number.POSITIVE_INFINITY : fromMs + ((toMs - fromMs) * part) / PARTS);
    } catch (error) {
      if (!(error instanceof MemberFailure)) throw error;
      failure = error;
    }
    step = nextStep(step, performance.now() - before);
    sendProgress(id, part, PARTS, send);
    await breathe();
    if (takeStop(id)) break;
  }
  const failed = failure && {
    member: failure.member,
    failure: failureOf(failure.cause, plans[failure.member]!, run.members[failure.member]!.barNow, failure.at),
  };
  const results = run.results(failed);
  const meta: BlendRunMeta = {
    members: results.map((result, m) => memberOf(result, members[m]!.runId)),
    ruinMs: Number.isNaN(run.pool.ruinMs) ? null : run.pool.ruinMs,
    limitHits: run.pool.limits?.hits ?? [],
    elapsedMs: performance.now() - started,
  };
  const columns = results.flatMap(({ equity }, m) => [
    { name: `equity${m}`, values: equity },
    { name: `time${m}`, values: run.members[m]!.closeTime.subarray(0, equity.length) },
  ]);
  await sendInParts(id, "columns", packColumns(meta, columns), send);
  void send({ type: "blended", id });
}

function memberOf({ status, failure, trades, figures, orders }: RunResult, runId: string): BlendedMember {
  return {
    ...{ runId, status, failure, netProfit: figures.netProfit },
    trades: trades.map(({ symbol, side, quantity, entryTime, entryTag, exitTime, reason, net }) => ({
      ...{ symbol, side, quantity, entryTime, entryTag },
      ...{ exitTime, reason, net },
    })),
    refused: refusals(orders),
  };
}

/** Refused orders by their reason, its numbers left out, the most frequent first. */
function refusals(orders: readonly Order[]): BlendedMember["refused"] {
  const counts = new Map<string, number>();
  for (const { state, note } of orders) {
    if (state !== "refused") continue;
    const reason = note.replace(/ \(R[\d.]+\)$/, "").replace(/[\d.,]+/g, "…");
    counts.set(reason, (counts.get(reason) ?? 0) + 1);
  }
  return [...counts].map(([reason, count]) => ({ reason, orders: count })).sort((a, b) => b.orders - a.orders);
}
