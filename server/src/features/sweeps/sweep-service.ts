import { randomUUID } from "node:crypto";
import {
  engineSettings,
  type SweepDetail,
  type SweepEstimate,
  type SweepRequest,
  type SweepStatus,
  type SweepSummary,
  variantsOf,
} from "@plan-tester/contract";
import { type InputSpec, PlanTesterError, SWEEP_FIGURES } from "@plan-tester/core";
import { describePlan, instrumentsOf, type ProcessPool, sweepPlan } from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import { SweepJob, type SweepWork } from "./sweep-job.ts";
import type { StoredSweep, SweepRepository } from "./sweep-repository.ts";

/** A sweep is written down at least so far apart, and for at most a tenth of the time: one of many variants is long. */
const SAVE_MS = 1000;
const SAVE_SHARE = 10;
const TELL_MS = 150;
const TRIAL_VARIANTS = 4;

interface Running {
  readonly job: SweepJob;
  detail: SweepDetail;
  readonly finished: Promise<void>;
  /** What its state is when it is stopped before its end. */
  endsAs: "stopped" | "paused" | "running";
}

export class SweepService {
  readonly #markets: MarketService;
  readonly #sweeps: SweepRepository;
  /** For what the user waits for, and for the sweep itself. */
  readonly #front: ProcessPool;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #running = new Map<string, Running>();
  #isClosing = false;

  constructor(
    markets: MarketService,
    sweeps: SweepRepository,
    front: ProcessPool,
    pool: ProcessPool,
    events: EventStream,
    journal: Journal,
  ) {
    this.#journal = journal;
    this.#markets = markets;
    this.#sweeps = sweeps;
    this.#front = front;
    this.#pool = pool;
    this.#events = events;
  }

  async #prepare(
    request: SweepRequest,
  ): Promise<{ specs: readonly InputSpec[]; title: string; variants: ReturnType<typeof variantsOf>; work: SweepWork }> {
    const { settings, outOfSample, source } = request;
    const { from, to } = settings;
    if (outOfSample && outOfSample.from <= to && outOfSample.to >= from)
      throw new PlanTesterError(
        "bad-input",
        `The out-of-sample stretch (${outOfSample.from} to ${outOfSample.to}) overlaps the in-sample stretch (${from} to ${to}). Move it after ${to}.`,
        {},
      );
    const { inputs: specs, title } = await this.#front.use((process) => describePlan(process, source));
    await this.#journal.refuseReserved(request.planId, outOfSample && outOfSample.to > to ? outOfSample.to : to);
    const variants = variantsOf(specs, request.inputs, request);
    const further = await this.#front.use((process) => instrumentsOf(process, source, request.inputs));
    const inSample = await this.#markets.feeds(settings, from, to, further);
    const stretches = [inSample.feeds];
    if (outOfSample) stretches.push((await this.#markets.feeds(settings, outOfSample.from, outOfSample.to, further)).feeds);
    for (const feeds of stretches)
      if (feeds.some(({ data }) => data.series.length === 0))
        throw new PlanTesterError("bad-input", "One of the stretches holds no bars. Choose dates inside the history.", {});
    return { specs, title, variants, work: { source, stretches, settings: engineSettings(settings, inSample.feeds[0]!.instrument) } };
  }

  /** Count and duration, measured on a few variants. */
  async estimate(request: SweepRequest): Promise<SweepEstimate> {
    const { variants, work } = await this.#prepare(request);
    const count = variants.length;
    const step = Math.max(1, Math.floor(variants.length / TRIAL_VARIANTS));
    const trial = variants.filter((_variant, i) => i % step === 0).slice(0, TRIAL_VARIANTS);
    const seconds = await this.#pool.use(async (process) => {
      await sweepPlan(process, { ...work, variants: trial.slice(0, 1) });
      const began = performance.now();
      await sweepPlan(process, { ...work, variants: trial });
      return (performance.now() - began) / 1000;
    });
    const bars = work.stretches.reduce((sum, feeds) => sum + feeds.reduce((bars, { data }) => bars + data.series.length, 0), 0);
    return { variants: count, bars, seconds: (seconds / trial.length) * (count / this.#pool.size), processes: this.#pool.size };
  }

  async start(request: SweepRequest): Promise<SweepSummary> {
    const { specs, title, variants, work } = await this.#prepare(request);
    const { source, ...rest } = request;
    const detail: SweepDetail = {
      id: randomUUID().slice(0, 8),
      planId: request.planId,
      planTitle: title,
      status: "running",
      request: rest,
      variants: variants.length,
      done: 0,
      failed: 0,
      createdMs: Date.now(),
      elapsedMs: 0,
      error: "",
      source,
      inputSpecs: specs,
      failures: [],
      figures: SWEEP_FIGURES,
      dailyStride: 0,
    };
    const job = new SweepJob(variants, work, this.#pool, { keepsDaily: true });
    await this.#sweeps.save(detail, job);
    await this.#journal.swept(detail);
    this.#begin(detail, job);
    return detail;
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
        await this.#sweeps.save(
          { ...stored.detail, status: "failed", error: error instanceof Error ? error.message : String(error) },
          stored,
        );
      }
    }
  }

  async #takeUp({ detail, ...state }: StoredSweep): Promise<void> {
    const { variants, work } = await this.#prepare({ ...detail.request, source: detail.source });
    const running: SweepDetail = { ...detail, status: "running", error: "" };
    const job = new SweepJob(variants, work, this.#pool, { keepsDaily: true, before: state });
    // Written down at once: what ends the server now must find it under way.
    await this.#sweeps.save(running, job);
    this.#begin(running, job);
  }

  #begin(detail: SweepDetail, job: SweepJob): void {
    const running: Running = { job, detail, finished: Promise.resolve(), endsAs: "running" };
    this.#running.set(detail.id, running);
    Object.assign(running, { finished: this.#carryOut(running) });
  }

  async #carryOut(running: Running): Promise<void> {
    const { job } = running;
    const began = performance.now();
    const { elapsedMs } = running.detail;
    const doneBefore = job.done;
    let [told, saveAt, isSaving] = [0, performance.now() + SAVE_MS, false];
    const update = (status: SweepStatus, error = ""): void => {
      running.detail = {
        ...running.detail,
        status,
        error,
        done: job.done,
        failed: job.failures.length,
        failures: job.failures,
        elapsedMs: Math.round(elapsedMs + performance.now() - began),
        dailyStride: job.dailyStride,
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
        });
      }
      if (now > saveAt && !isSaving && !this.#isClosing) {
        isSaving = true;
        // What can't be written now is written at the end, which says what is wrong.
        void this.#sweeps
          .save(running.detail, job)
          .catch(() => undefined)
          .finally(() => {
            isSaving = false;
            saveAt = performance.now() + Math.max(SAVE_MS, SAVE_SHARE * (performance.now() - now));
          });
      }
    };
    try {
      await job.run(onProgress);
      update(job.stopped && job.done < running.detail.variants ? running.endsAs : "complete");
    } catch (error) {
      update("failed", error instanceof Error ? error.message : String(error));
    }
    // What comes in while processes are being ended is not the plan's doing.
    if (this.#isClosing) return;
    await this.#sweeps.save(running.detail, job);
    await this.#journal.ended(running.detail.id, { status: running.detail.status, variants: job.done, sharpes: sharpesOf(job) });
    this.#running.delete(running.detail.id);
    this.#events.send({ type: "sweep-done", id: running.detail.id, status: running.detail.status });
  }

  async list(): Promise<SweepSummary[]> {
    return (await this.#sweeps.list()).map((stored) => this.#running.get(stored.id)?.detail ?? stored);
  }

  async get(id: string): Promise<StoredSweep> {
    const running = this.#running.get(id);
    if (running) {
      const { figures, daily, dailyStride, failures } = running.job;
      return { detail: running.detail, figures, daily, dailyStride, failures };
    }
    const stored = await this.#sweeps.find(id);
    if (!stored) throw new PlanTesterError("not-found", `There is no sweep "${id}".`, { id });
    return stored;
  }

  /** Ends it for good, or leaves it so that it can go on; what is done stays either way. */
  async stop(id: string, endsAs: "stopped" | "paused" = "stopped"): Promise<void> {
    const running = this.#running.get(id);
    if (!running) throw new PlanTesterError("not-found", "That sweep is not under way: it may just have ended.", { id });
    running.endsAs = endsAs;
    running.job.stop();
    await running.finished;
  }

  /** The server is closing: what is under way is written down, and goes on when the server comes back. */
  async close(): Promise<void> {
    this.#isClosing = true;
    for (const { job } of this.#running.values()) job.stop();
    await Promise.all(
      [...this.#running.values()].map(async ({ job, detail }) => this.#sweeps.save({ ...detail, status: "running", done: job.done }, job)),
    );
  }

  /** Waits for a sweep to end: for seeding and tests. */
  async finished(id: string): Promise<void> {
    await this.#running.get(id)?.finished;
  }

  async delete(id: string): Promise<void> {
    if (this.#running.has(id)) throw new PlanTesterError("conflict", "The sweep is under way. Stop it first.", { id });
    if (!(await this.#sweeps.delete(id))) throw new PlanTesterError("not-found", `There is no sweep "${id}".`, { id });
  }
}

/** Sharpe ratios in-sample of the variants that are done. */
function sharpesOf({ figures, rowWidth }: SweepJob): number[] {
  const at = SWEEP_FIGURES.indexOf("sharpe");
  const found: number[] = [];
  for (let row = 0; row < figures.length; row += rowWidth) if (Number.isFinite(figures[row + at]!)) found.push(figures[row + at]!);
  return found;
}
