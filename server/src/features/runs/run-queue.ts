/** Runs in the background: one after the other, each kept under its name when it is done. */
import { randomUUID } from "node:crypto";
import type { BatchRequest, QueuedRun } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { EventStream } from "../../http/events.ts";
import type { RunService } from "./run-service.ts";

interface Job {
  shown: QueuedRun;
  readonly request: BatchRequest["runs"][number];
  readonly tag: string;
}

/** Finished jobs that are still shown. */
const MOST_FINISHED = 200;

const isOver = ({ shown }: Job): boolean => shown.state !== "waiting" && shown.state !== "running";

export class RunQueue {
  readonly #runs: RunService;
  readonly #events: EventStream;
  #jobs: Job[] = [];
  #working = false;

  constructor(runs: RunService, events: EventStream) {
    this.#runs = runs;
    this.#events = events;
  }

  list(): QueuedRun[] {
    return this.#jobs.map(({ shown }) => shown);
  }

  /** Takes on runs; they share the batch that is returned, and its name as a tag. */
  add({ name, runs }: BatchRequest): string {
    const batch = randomUUID().slice(0, 8);
    for (const { label, ...request } of runs)
      this.#jobs.push({
        tag: name.slice(0, 60),
        request: { ...request, label },
        shown: {
          id: randomUUID().slice(0, 13),
          batch,
          planId: request.planId,
          name: label,
          symbol: request.settings.symbol,
          state: "waiting",
          message: "",
          netProfit: null,
        },
      });
    const finished = this.#jobs.filter(isOver).length;
    let tooMany = Math.max(0, finished - MOST_FINISHED);
    this.#jobs = this.#jobs.filter((job) => !(isOver(job) && tooMany-- > 0));
    this.#tell();
    void this.#work();
    return batch;
  }

  /** @throws PlanTesterError not-found when it is over already. */
  stop(id: string): void {
    const job = this.#jobs.find(({ shown }) => shown.id === id);
    if (!job || isOver(job)) throw new PlanTesterError("not-found", "That run is not waiting and not under way.", { id });
    if (job.shown.state === "waiting") this.#set(job, { state: "stopped", message: "taken out of the queue" });
    else this.#runs.stop(id);
  }

  /** Forgets what is over; the runs stay kept. */
  clear(): void {
    this.#jobs = this.#jobs.filter((job) => !isOver(job));
    this.#tell();
  }

  #set(job: Job, change: Partial<QueuedRun>): void {
    job.shown = { ...job.shown, ...change };
    this.#tell();
  }

  #tell(): void {
    this.#events.send({ type: "queue", queue: this.list() });
  }

  async #work(): Promise<void> {
    if (this.#working) return;
    this.#working = true;
    for (;;) {
      const job = this.#jobs.find(({ shown }) => shown.state === "waiting");
      if (!job) break;
      await this.#run(job);
    }
    this.#working = false;
  }

  async #run(job: Job): Promise<void> {
    const { id, batch } = job.shown;
    const { label, ...request } = job.request;
    this.#set(job, { state: "running" });
    try {
      const { status, figures, failure } = (await this.#runs.run({ ...request, id })).head;
      await this.#runs.keep(id, { name: label, note: "", tags: [job.tag] }, batch);
      this.#set(job, {
        state: status === "partial" ? "stopped" : status === "failed" ? "failed" : "kept",
        netProfit: figures.netProfit,
        message: failure?.message ?? "",
      });
    } catch (error) {
      this.#set(job, { state: "failed", message: error instanceof Error ? error.message : String(error) });
    }
  }
}
