import { randomUUID } from "node:crypto";
import {
  NO_VARIANT,
  type SweepDetail,
  type SweepEstimate,
  type SweepRequest,
  type SweepStatus,
  type SweepSummary,
} from "@plan-tester/contract";
import { PlanTesterError, SWEEP_FIGURES } from "@plan-tester/core";
import { estimateSweep, type ProcessPool, type SweepExecutor, SweepJob, type SweepTask } from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { Bin } from "../../db/bin.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import { rowsToCompare } from "./independent.ts";
import { type PreparedSweep, prepareSweep } from "./prepare-sweep.ts";
import type { StoredSweep, SweepRepository } from "./sweep-repository.ts";

/** A sweep is written down at least so far apart, and for at most a tenth of the time: one of many variants is long. */
const SAVE_MS = 1000;
const SAVE_SHARE = 10;
const TELL_MS = 150;

interface Running {
  readonly job: SweepJob;
  detail: SweepDetail;
  readonly finished: Promise<void>;
  /** Its variants are done; what is left is to write it down. */
  isEnding: boolean;
  /** What its state is when it is stopped before its end. */
  endsAs: "stopped" | "paused" | "running";
}

export class SweepService {
  readonly #markets: MarketService;
  readonly #sweeps: SweepRepository;
  /** For what the user waits for, for measuring, and for the sweep itself. */
  readonly #interactive: ProcessPool;
  readonly #pool: ProcessPool;
  readonly #executor: SweepExecutor;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #thread: WorkThread;
  readonly #background: Background;
  readonly #bin: Bin;
  readonly #running = new Map<string, Running>();
  #isClosing = false;

  constructor(parts: {
    readonly markets: MarketService;
    readonly sweeps: SweepRepository;
    readonly interactive: ProcessPool;
    readonly pool: ProcessPool;
    readonly executor: SweepExecutor;
    readonly events: EventStream;
    readonly journal: Journal;
    readonly thread: WorkThread;
    readonly background: Background;
    readonly bin: Bin;
  }) {
    this.#markets = parts.markets;
    this.#sweeps = parts.sweeps;
    this.#interactive = parts.interactive;
    this.#pool = parts.pool;
    this.#executor = parts.executor;
    this.#events = parts.events;
    this.#journal = parts.journal;
    this.#thread = parts.thread;
    this.#background = parts.background;
    this.#bin = parts.bin;
  }

  #prepare(request: SweepRequest, surrogate: number | null = null, atMs?: number): Promise<PreparedSweep> {
    return prepareSweep({ markets: this.#markets, interactive: this.#interactive, journal: this.#journal }, request, surrogate, atMs);
  }

  /** What a sweep would be on markets without memory, by the seed of their coins. */
  async surrogateTask(request: SweepRequest, seed: number, atMs: number): Promise<SweepTask> {
    return (await this.#prepare(request, seed, atMs)).task;
  }

  /** Count, duration and memory, measured on a few variants of each market. */
  async estimate(request: SweepRequest): Promise<SweepEstimate> {
    return estimateSweep((await this.#prepare(request)).task, this.#pool, this.#executor);
  }

  async start(request: SweepRequest): Promise<SweepSummary> {
    await this.#executor.ready();
    const { specs, title, task } = await this.#prepare(request);
    const { source, ...rest } = request;
    const job = new SweepJob(task, this.#executor);
    if (job.total === 0) throw new PlanTesterError("bad-input", NO_VARIANT, {});
    const detail: SweepDetail = {
      id: randomUUID().slice(0, 8),
      planId: request.planId,
      planTitle: title,
      status: "running",
      request: rest,
      variants: job.total,
      done: 0,
      failed: 0,
      createdMs: Date.now(),
      elapsedMs: 0,
      error: "",
      source,
      inputSpecs: specs,
      failures: [],
      figures: SWEEP_FIGURES,
    };
    await this.#sweeps.save(detail, job);
    await this.#journal.swept(detail, task.work.symbols);
    this.#begin(detail, job);
    return summaryOf(detail);
  }

  /**
   * Goes on with a sweep that was paused, from its last finished batch.
   * @throws PlanTesterError conflict when it is not paused.
   */
  async resume(id: string): Promise<void> {
    const stored = await this.get(id);
    if (stored.detail.status !== "paused")
      throw new PlanTesterError("conflict", `The sweep is ${stored.detail.status}, not paused.`, { id });
    await this.#takeUp(stored);
  }

  /** Goes on with every sweep that the end of the server cut off. */
  async resumeUnfinished(): Promise<void> {
    for (const id of await this.#sweeps.unfinished()) {
      const stored = await this.#sweeps.find(id);
      if (!stored || this.#running.has(id)) continue;
      try {
        await this.#takeUp(stored);
      } catch (error) {
        // Case: its bars or its plan can't be had any more.
        await this.#sweeps.save({ ...stored.detail, status: "failed", error: messageOf(error) }, stored);
      }
    }
  }

  async #takeUp({ detail, ...state }: StoredSweep): Promise<void> {
    const { task } = await this.#prepare({ ...detail.request, source: detail.source }, null, detail.createdMs);
    const running: SweepDetail = { ...detail, status: "running", error: "" };
    const job = new SweepJob(task, this.#executor, state);
    // Written down at once: what ends the server now must find it under way.
    await this.#sweeps.save(running, job);
    this.#begin(running, job);
  }

  #begin(detail: SweepDetail, job: SweepJob): void {
    const running: Running = { job, detail, finished: Promise.resolve(), isEnding: false, endsAs: "running" };
    this.#running.set(detail.id, running);
    Object.assign(running, { finished: this.#carryOut(running) });
  }

  async #carryOut(running: Running): Promise<void> {
    const { job } = running;
    const began = performance.now();
    const { elapsedMs } = running.detail;
    const doneBefore = job.done;
    let [told, saveAt, isSaving, isTroubled] = [0, performance.now() + SAVE_MS, false, false];
    const update = (status: SweepStatus, error = ""): void => {
      running.detail = {
        ...running.detail,
        status,
        error,
        variants: job.total,
        done: job.done,
        failed: job.failures.length,
        failures: job.failures.filter(({ message }) => message !== ""),
        elapsedMs: Math.round(elapsedMs + performance.now() - began),
      };
    };
    const onProgress = (): void => {
      const now = performance.now();
      update("running");
      if (now - told > TELL_MS) {
        told = now;
        const perSecond = (job.done - doneBefore) / ((now - began) / 1000);
        const { id, variants } = running.detail;
        this.#events.send({
          type: "sweep-progress",
          id,
          done: job.done,
          variants,
          perSecond,
          secondsLeft: (variants - job.done) / perSecond,
          memoryBytes: job.memoryBytes,
        });
      }
      if (now > saveAt && !isSaving && !this.#isClosing) {
        isSaving = true;
        void this.#sweeps
          .save(running.detail, job)
          .then(() => {
            isTroubled = false;
          })
          .catch((error: unknown) => {
            // What can't be written now is written later; said once until it works again.
            if (!isTroubled) this.#background.report("the progress of a sweep was not saved", { sweep: running.detail.id }, error);
            isTroubled = true;
          })
          .finally(() => {
            isSaving = false;
            saveAt = performance.now() + Math.max(SAVE_MS, SAVE_SHARE * (performance.now() - now));
          });
      }
    };
    try {
      await job.run(onProgress);
      update(job.stopped && job.done < job.total ? running.endsAs : "complete");
    } catch (error) {
      update("failed", messageOf(error));
    }
    // What comes in while processes are being ended is not the plan's doing.
    if (this.#isClosing) return;
    running.isEnding = true;
    await this.#writeEnd(running);
    this.#running.delete(running.detail.id);
    this.#events.send({ type: "sweep-done", id: running.detail.id, status: running.detail.status });
  }

  /** Until it is written down it is shown as under way, with all of its variants done. */
  async #writeEnd(running: Running): Promise<void> {
    const { job } = running;
    const ended = running.detail;
    const { id, status } = ended;
    running.detail = { ...ended, status: "running" };
    const write = async (): Promise<void> => {
      const rows = rowsToCompare(job, job.rowWidth);
      const independent = rows && (await this.#thread.independent(rows));
      for (const [symbol, variants] of job.trials()) await this.#journal.ended(id, { status, variants, independent }, symbol);
      await this.#sweeps.save(ended, job);
    };
    if (await this.#background.insist("a sweep that is done was not saved", { sweep: id }, write)) running.detail = ended;
  }

  async list(): Promise<SweepSummary[]> {
    return (await this.#sweeps.list()).map((stored) => {
      const running = this.#running.get(stored.id);
      return running ? summaryOf(running.detail) : stored;
    });
  }

  async get(id: string): Promise<StoredSweep> {
    const running = this.#running.get(id);
    if (running) {
      const { points, figures, daily, dailyStride, failures } = running.job;
      return { detail: running.detail, points, figures, daily, dailyStride, failures };
    }
    const stored = await this.#sweeps.find(id);
    if (!stored) throw new PlanTesterError("not-found", `There is no sweep "${id}".`, { id });
    return stored;
  }

  /** Ends it for good, or leaves it so that it can go on; what is done stays either way. */
  async stop(id: string, endsAs: "stopped" | "paused" = "stopped"): Promise<void> {
    const running = this.#running.get(id);
    if (!running) throw new PlanTesterError("not-found", "That sweep is not running: it may just have ended.", { id });
    running.endsAs = endsAs;
    running.job.stop();
    await running.finished;
  }

  /** The server is closing: what is under way is written down, and goes on when the server comes back. */
  async close(): Promise<void> {
    this.#isClosing = true;
    const left = [...this.#running.values()];
    for (const { job } of left) job.stop();
    await Promise.all(
      left.map(({ job, detail, isEnding, finished }) =>
        isEnding
          ? finished
          : this.#sweeps
              .save({ ...detail, status: "running", done: job.done }, job)
              .catch((error: unknown) => this.#background.report("the progress of a sweep was not saved", { sweep: detail.id }, error)),
      ),
    );
  }

  /** Waits for a sweep to end: for seeding and tests. */
  async finished(id: string): Promise<void> {
    await this.#running.get(id)?.finished;
  }

  async delete(id: string): Promise<void> {
    if (this.#running.has(id)) throw new PlanTesterError("conflict", "The sweep is running. Stop it first.", { id });
    await this.#bin.put("sweep", id);
  }
}

/** What lists show of it. */
const summaryOf = ({
  source: _source,
  inputSpecs: _specs,
  failures: _failures,
  figures: _figures,
  ...summary
}: SweepDetail): SweepSummary => summary;
