/**
 * The luck test of a sweep: the whole search again on markets without memory. What is kept of each is the largest Sharpe
 * ratio; none of them is a trial of the plan. Between two markets it can be paused, and goes on after a restart.
 */
import type { LuckTest, SweepRequest } from "@plan-tester/contract";
import { PlanTesterError, SWEEP_FIGURES, seedFrom } from "@plan-tester/core";
import { type SweepExecutor, SweepJob, type SweepTask } from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import type { LuckRepository } from "./luck-repository.ts";
import type { StoredSweep } from "./sweep-repository.ts";

export interface LuckParts {
  readonly luck: LuckRepository;
  readonly executor: SweepExecutor;
  readonly events: EventStream;
  readonly background: Background;
  /** @throws PlanTesterError not-found */
  readonly sweepOf: (id: string) => Promise<StoredSweep>;
  /** The sweep on a market without memory. */
  readonly taskOf: (request: SweepRequest, seed: number, atMs: number) => Promise<SweepTask>;
}

interface Running {
  test: LuckTest;
  job: SweepJob | null;
  isStopped: boolean;
  finished: Promise<void>;
}

const SHARPE = SWEEP_FIGURES.indexOf("sharpe");
const TELL_MS = 200;

/** The largest Sharpe ratio in-sample; NaN where no variant has one. */
export function bestRatio(figures: Float64Array, rowWidth: number): number {
  let best = Number.NaN;
  for (let at = SHARPE; at < figures.length; at += rowWidth)
    if (!(figures[at]! <= best) && !Number.isNaN(figures[at]!)) best = figures[at]!;
  return best;
}

export class LuckService {
  readonly #parts: LuckParts;
  readonly #running = new Map<string, Running>();
  #isClosing = false;

  constructor(parts: LuckParts) {
    this.#parts = parts;
  }

  /** null where it was never begun. */
  async get(sweepId: string): Promise<LuckTest | null> {
    return this.#running.get(sweepId)?.test ?? this.#parts.luck.find(sweepId);
  }

  /**
   * Begins the test, or goes on with it up to so many markets.
   * @throws PlanTesterError conflict while the sweep or its test is running, or where nothing can be compared
   */
  async start(sweepId: string, asked: number): Promise<LuckTest> {
    const { luck, executor, sweepOf } = this.#parts;
    if (this.#running.has(sweepId)) throw new PlanTesterError("conflict", "The luck test of this sweep is running.", { id: sweepId });
    const sweep = await sweepOf(sweepId);
    if (sweep.detail.status === "running" || sweep.detail.status === "paused")
      throw new PlanTesterError("conflict", `The sweep is ${sweep.detail.status}: its best variant is not known yet.`, { id: sweepId });
    await executor.ready();
    const stretches = sweep.detail.request.outOfSample ? 2 : 1;
    const best = bestRatio(sweep.figures, SWEEP_FIGURES.length * stretches);
    if (Number.isNaN(best))
      throw new PlanTesterError("conflict", "No variant of this sweep has a Sharpe ratio to be compared.", { id: sweepId });
    const before = await luck.find(sweepId);
    const test: LuckTest = { status: "running", asked, best, ratios: before?.ratios ?? [], elapsedMs: before?.elapsedMs ?? 0, error: "" };
    await luck.save(sweepId, test);
    return this.#begin(sweepId, sweep, test);
  }

  async resumeUnfinished(): Promise<void> {
    const { luck, sweepOf } = this.#parts;
    await luck.removeOrphans();
    for (const id of await luck.unfinished()) {
      const test = (await luck.find(id))!;
      try {
        this.#begin(id, await sweepOf(id), test);
      } catch (error) {
        await luck.save(id, { ...test, status: "failed", error: messageOf(error) });
      }
    }
  }

  /** What is done stays; markets that are not through count for nothing. */
  async pause(sweepId: string): Promise<void> {
    const running = this.#running.get(sweepId);
    if (!running) throw new PlanTesterError("not-found", "That luck test is not running: it may just have ended.", { id: sweepId });
    running.isStopped = true;
    running.job?.stop();
    await running.finished;
  }

  /** Before its sweep goes. */
  async leave(sweepId: string): Promise<void> {
    if (this.#running.has(sweepId)) await this.pause(sweepId);
  }

  async close(): Promise<void> {
    this.#isClosing = true;
    const all = [...this.#running.values()];
    for (const running of all) {
      running.isStopped = true;
      running.job?.stop();
    }
    await Promise.all(all.map(({ finished }) => finished));
  }

  #begin(id: string, sweep: StoredSweep, test: LuckTest): LuckTest {
    const running: Running = { test, job: null, isStopped: false, finished: Promise.resolve() };
    this.#running.set(id, running);
    running.finished = this.#carryOut(id, sweep, running);
    return test;
  }

  async #carryOut(id: string, { detail }: StoredSweep, running: Running): Promise<void> {
    const { events, background, luck } = this.#parts;
    const began = performance.now();
    const { elapsedMs } = running.test;
    const write = (change: Partial<LuckTest>): Promise<unknown> => {
      running.test = { ...running.test, ...change, elapsedMs: Math.round(elapsedMs + performance.now() - began) };
      const { test } = running;
      return background.insist("a luck test was not saved", { sweep: id }, () => luck.save(id, test));
    };
    try {
      while (running.test.ratios.length < running.test.asked && !running.isStopped) {
        const ratio = await this.#market(id, { ...detail.request, source: detail.source }, running, detail.createdMs);
        if (ratio === null) break;
        await write({ ratios: [...running.test.ratios, ratio] });
      }
      // While the server closes it stays as running, so that it goes on when the server is back.
      if (!this.#isClosing) await write({ status: running.test.ratios.length < running.test.asked ? "paused" : "complete" });
    } catch (error) {
      if (!this.#isClosing) await write({ status: "failed", error: messageOf(error) });
    }
    this.#running.delete(id);
    events.send({ type: "luck", id, done: running.test.ratios.length, asked: running.test.asked, share: 0, isRunning: false });
  }

  /** The largest ratio on the next market; null when it was stopped on the way. 0 where no variant traded on it. */
  async #market(id: string, request: SweepRequest, running: Running, atMs: number): Promise<number | null> {
    const { events, executor, taskOf } = this.#parts;
    const number = running.test.ratios.length;
    const task = await taskOf({ ...request, outOfSample: null }, seedFrom(`${id} luck ${number}`), atMs);
    const job = new SweepJob({ ...task, keepsDaily: false }, executor);
    running.job = job;
    if (running.isStopped) return null;
    let told = 0;
    await job.run(() => {
      const now = performance.now();
      if (now - told < TELL_MS) return;
      told = now;
      events.send({ type: "luck", id, done: number, asked: running.test.asked, share: job.done / job.total, isRunning: true });
    });
    if (job.stopped && job.done < job.total) return null;
    const best = bestRatio(job.figures, job.rowWidth);
    return Number.isNaN(best) ? 0 : best;
  }
}
