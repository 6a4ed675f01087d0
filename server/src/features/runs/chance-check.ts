/**
 * Would chance have found it: a single run of a plan on markets without memory. Where its setting may have been chosen by a
 * sweep, only the sweep's own luck test counts, and this one is refused.
 */
import type { ChanceAnswer, RunHead } from "@plan-tester/contract";
import { PlanTesterError, SWEEP_FIGURES, seedFrom } from "@plan-tester/core";
import { type ProcessPool, sweepPlan } from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { RunRequests } from "./run-requests.ts";

const MARKETS = 99;
const SHARPE = SWEEP_FIGURES.indexOf("sharpe");
const TELL_MS = 200;

export interface ChanceParts {
  readonly requests: RunRequests;
  /** Over all cores. */
  readonly pool: ProcessPool;
  readonly events: EventStream;
  readonly journal: Journal;
}

export class ChanceChecks {
  readonly #parts: ChanceParts;
  /** Under way, by run. */
  readonly #checking = new Map<string, { isStopped: boolean }>();

  constructor(parts: ChanceParts) {
    this.#parts = parts;
  }

  /** @throws PlanTesterError conflict for what a sweep may have chosen, for a run without a Sharpe ratio, and while it is checked already */
  async check(run: RunHead): Promise<ChanceAnswer> {
    const { id, source, inputs, settings } = run;
    const { requests, pool, events } = this.#parts;
    if (this.#checking.has(id)) throw new PlanTesterError("conflict", "This run is being held against chance already.", { id });
    await this.#refuseChosen(run);
    const { sharpe: best } = run.figures;
    if (best === null)
      throw new PlanTesterError("conflict", "This run has no Sharpe ratio: it is too short, or never moved. There is nothing to compare.", {
        id,
      });
    // Refuses what no single run of a plan made.
    await requests.of(run);
    const checking = { isStopped: false };
    this.#checking.set(id, checking);
    const ratios: number[] = [];
    let [next, told] = [0, 0];
    const work = async (): Promise<void> => {
      while (next < MARKETS && !checking.isStopped) {
        const { request } = await requests.for({ source, inputs, settings }, settings, seedFrom(`${run.fingerprint} chance ${next++}`));
        const { figures } = await pool.use((process) =>
          sweepPlan(process, { source, variants: [inputs], stretches: [request.feeds], settings: request.settings }),
        );
        // Case: it did not trade there.
        ratios.push(Number.isFinite(figures[SHARPE]!) ? figures[SHARPE]! : 0);
        if (performance.now() - told < TELL_MS) continue;
        told = performance.now();
        events.send({ type: "chance-progress", id, done: ratios.length, total: MARKETS });
      }
    };
    try {
      await Promise.all(Array.from({ length: pool.size }, work));
    } finally {
      this.#checking.delete(id);
    }
    // In no order: which process ended first is no fact of the run.
    return { best, ratios: ratios.sort((a, b) => a - b), isStopped: checking.isStopped };
  }

  /** What is done is the answer. @throws PlanTesterError not-found */
  stop(id: string): void {
    const checking = this.#checking.get(id);
    if (!checking)
      throw new PlanTesterError("not-found", "The check of that run against chance is not running: it may just have ended.", { id });
    checking.isStopped = true;
  }

  async #refuseChosen({ planId, settings: { symbol, from, to } }: RunHead): Promise<void> {
    const { stretches } = await this.#parts.journal.context(planId);
    const choosing = stretches.filter((used) => used.kind !== "run" && used.symbol === symbol && used.from <= to && used.to >= from);
    const chosen = choosing.find(({ kind }) => kind === "sweep") ?? choosing[0];
    if (chosen)
      throw new PlanTesterError(
        "conflict",
        `${chosen.kind === "sweep" ? "A sweep" : "A walk-forward"} of this plan has compared ${chosen.variants} variants on ${symbol} from ${chosen.from} to ${chosen.to}, so this setting may have been chosen there. ${chosen.kind === "sweep" ? "Only the sweep's own luck test counts: open the sweep, tab Trust." : "A walk-forward has no luck test: sweep the same inputs over this period, and make that of the sweep."}`,
        {},
      );
  }
}
