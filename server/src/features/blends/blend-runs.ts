/** Runs of blends: the plans of kept runs on one account, with the sizes that were asked for. */
import { type BlendRunRequest, type RunHead, withUnits } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { type BlendRequest, blendPlans, type ProcessPool } from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { RunRequests } from "../runs/run-requests.ts";
import type { RunService } from "../runs/run-service.ts";

export interface BlendRunParts {
  readonly runs: RunService;
  readonly requests: RunRequests;
  readonly pool: ProcessPool;
  readonly events: EventStream;
  readonly journal: Journal;
  readonly background: Background;
}

const blendWords = (name: string, cash: number, units: number | null, others: number): string =>
  `blend${name ? ` "${name}"` : ""}: ${units === null ? "as it ran" : `${units} units`} on an account of ${cash}, with ${others} other ${others === 1 ? "plan" : "plans"}`;

export class BlendRuns {
  readonly #parts: BlendRunParts;
  readonly #running = new Map<string, AbortController>();

  constructor(parts: BlendRunParts) {
    this.#parts = parts;
  }

  /** Runs to the end, or to the stop. @returns packed columns, in pieces */
  async run({ id, name = "", cash, limits = null, members }: BlendRunRequest): Promise<readonly Uint8Array[]> {
    if (this.#running.has(id)) throw new PlanTesterError("conflict", "A run with this id is running.", { id });
    const control = new AbortController();
    this.#running.set(id, control);
    try {
      const { pool, events, runs, journal, background } = this.#parts;
      const heads: RunHead[] = [];
      for (const { runId } of members) heads.push(await runs.head(runId));
      for (const { planId, settings } of heads) await journal.refuseReserved(planId, settings.to);
      const request: BlendRequest = {
        cash,
        limits,
        members: await Promise.all(members.map((member, m) => this.#member(member, heads[m]!))),
      };
      const pieces = await pool.use((process) =>
        blendPlans(process, request, {
          onProgress: (done, total) => events.send({ type: "blend-progress", id, done, total }),
          signal: control.signal,
        }),
      );
      background.run("a blend was not noted in the journal", { blend: id }, async () => {
        for (const [m, head] of heads.entries()) await journal.blended(head, blendWords(name, cash, members[m]!.units, heads.length - 1));
      });
      return pieces;
    } finally {
      this.#running.delete(id);
    }
  }

  stop(id: string): void {
    const control = this.#running.get(id);
    if (!control) throw new PlanTesterError("not-found", `The blend run "${id}" is not running: it may just have ended.`, { id });
    control.abort();
  }

  async #member({ runId, units, rate }: BlendRunRequest["members"][0], head: RunHead): Promise<BlendRequest["members"][0]> {
    const { request } = await this.#parts.requests.of({ ...head, settings: withUnits(head.settings, units) });
    return { ...request, runId, name: head.title, rate };
  }
}
