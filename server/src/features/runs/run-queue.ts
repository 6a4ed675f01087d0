/** Runs in the background: one after the other, each kept under its name when it is done. They go on after a restart. */
import { randomUUID } from "node:crypto";
import type { BatchRequest, QueuedRun } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Background } from "../../background.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import type { QueueJob, QueueRepository } from "./queue-repository.ts";
import type { RunService } from "./run-service.ts";

/** Finished jobs that are still shown. */
const MOST_FINISHED = 200;

const isOver = ({ shown }: QueueJob): boolean => shown.state !== "waiting" && shown.state !== "running";

export class RunQueue {
  readonly #runs: RunService;
  readonly #repository: QueueRepository;
  readonly #events: EventStream;
  readonly #background: Background;
  #jobs: QueueJob[] = [];
  #working: Promise<void> | null = null;
  #isClosing = false;

  constructor(runs: RunService, repository: QueueRepository, events: EventStream, background: Background) {
    this.#runs = runs;
    this.#repository = repository;
    this.#events = events;
    this.#background = background;
  }

  /** Goes on with what waited or was under way when the last server ended. */
  async resume(): Promise<void> {
    this.#jobs = await this.#repository.list();
    // Case: it was kept, and the server ended before that was noted here.
    for (const job of this.#jobs)
      if (!isOver(job) && (await this.#runs.isKept(job.shown.id)))
        await this.#set(job, { state: "kept", netProfit: (await this.#runs.head(job.shown.id)).figures.netProfit });
    this.#work();
  }

  list(): QueuedRun[] {
    return this.#jobs.map(({ shown }) => shown);
  }

  /** Takes on runs and writes them down; they share the batch that is returned, and its name as a tag. */
  async add({ name, runs }: BatchRequest): Promise<string> {
    const batch = randomUUID().slice(0, 8);
    const jobs = runs.map((request): QueueJob => {
      const { planId, label, settings } = request;
      const shown = { planId, name: label, symbol: settings.symbol, state: "waiting", message: "", netProfit: null } as const;
      return { tag: name.slice(0, 60), request, shown: { id: randomUUID().slice(0, 13), batch, ...shown } };
    });
    await this.#repository.add(jobs);
    this.#jobs.push(...jobs);
    const finished = this.#jobs.filter(isOver);
    await this.#forget(finished.slice(0, Math.max(0, finished.length - MOST_FINISHED)));
    this.#work();
    return batch;
  }

  /** @throws PlanTesterError not-found when it is over already. */
  async stop(id: string): Promise<void> {
    const job = this.#jobs.find(({ shown }) => shown.id === id);
    if (!job || isOver(job)) throw new PlanTesterError("not-found", "That run is neither waiting nor running.", { id });
    if (job.shown.state === "waiting") await this.#set(job, { state: "stopped", message: "taken out of the queue" });
    else this.#runs.stop(id);
  }

  /** Forgets what is over; the runs stay kept. */
  async clear(): Promise<void> {
    await this.#forget(this.#jobs.filter(isOver));
  }

  /** Takes up nothing more. What is under way is begun again by the next server. */
  close(): void {
    this.#isClosing = true;
  }

  /** Settles when nothing is under way any more. */
  async ended(): Promise<void> {
    await this.#working;
  }

  async #forget(jobs: readonly QueueJob[]): Promise<void> {
    await this.#repository.remove(jobs.map(({ shown }) => shown.id));
    this.#jobs = this.#jobs.filter((job) => !jobs.includes(job));
    this.#tell();
  }

  /** Changes what is shown. What can't be written down is done all the same: after a restart it is only done again. */
  async #set(job: QueueJob, change: Partial<QueuedRun>): Promise<void> {
    job.shown = { ...job.shown, ...change };
    this.#tell();
    if (job.shown.state === "running") return;
    await this.#repository
      .save(job)
      .catch((error: unknown) => this.#background.report("the state of a run in the queue was not saved", { run: job.shown.id }, error));
  }

  #tell(): void {
    this.#events.send({ type: "queue", queue: this.list() });
  }

  #work(): void {
    this.#working ??= this.#workOff().finally(() => {
      this.#working = null;
    });
  }

  async #workOff(): Promise<void> {
    while (!this.#isClosing) {
      const job = this.#jobs.find(({ shown }) => shown.state === "waiting" || shown.state === "running");
      if (!job) return;
      await this.#run(job);
    }
  }

  async #run(job: QueueJob): Promise<void> {
    const { id, batch } = job.shown;
    const { label, ...request } = job.request;
    await this.#set(job, { state: "running" });
    if (this.#isClosing) return;
    try {
      const { status, figures, failure } = (await this.#runs.run({ ...request, id })).head;
      await this.#runs.keep(id, { name: label, note: "", tags: [job.tag] }, batch);
      await this.#set(job, {
        state: status === "partial" ? "stopped" : status === "failed" ? "failed" : "kept",
        netProfit: figures.netProfit,
        message: failure?.message ?? "",
      });
    } catch (error) {
      if (this.#isClosing) return;
      this.#background.report("a run in the background failed", { run: id }, error);
      await this.#set(job, { state: "failed", message: messageOf(error) });
    }
  }
}
