/** The thread that does what grows with bars, days or a plan's text; the server's own only waits for it. */
import { fileURLToPath } from "node:url";
import type { FoundSessions, ProgramAct } from "@plan-tester/contract";
import {
  type BarColumns,
  type BarSeries,
  type Expressed,
  type Overlap,
  PlanTesterError,
  type Resampled,
  type RuleEarnings,
  type SessionCalendar,
} from "@plan-tester/core";
import { bundleOf } from "@plan-tester/demo/root";
import type { PlanRule } from "@plan-tester/runner";
import { Piscina } from "piscina";
import type { PackTask, UnpackedBundle } from "./bundle-tasks.ts";
import type { StorageFacts } from "./storage-facts.ts";
import type {
  BarFileTask,
  ContinueTask,
  EarningsTask,
  ExaminedBars,
  ExamineTask,
  FindSessionsTask,
  MergeTask,
  Outcome,
  RepairTask,
  ResampleTask,
  ReturnRows,
  SeriesTask,
  StudyTask,
} from "./tasks.ts";

const IDLE_MS = 60_000;
/** Of what a user asks for by an expression, which can be any work. */
const STUDY_MS = 60_000;

export class WorkThread {
  readonly #pool: Piscina;
  readonly #studyMs: number;

  /** @param studyMs how long a study may take */
  constructor(studyMs = STUDY_MS) {
    this.#studyMs = studyMs;
    this.#pool = new Piscina({
      filename: bundleOf("work-tasks.js", import.meta.url) ?? fileURLToPath(new URL("tasks-source.mjs", import.meta.url)),
      minThreads: 0,
      // What takes seconds leaves room for what a page waits for.
      maxThreads: 2,
      idleTimeout: IDLE_MS,
    });
  }

  async #made<T>(
    task: SeriesTask | ContinueTask | ResampleTask | ExamineTask | BarFileTask | StudyTask | PackTask | string,
    name: string,
    signal?: AbortSignal,
  ): Promise<T> {
    const outcome = (await this.#pool.run(task, { name, ...(signal && { signal }) })) as Outcome<T>;
    if ("made" in outcome) return outcome.made;
    throw new PlanTesterError(outcome.code, outcome.message, { ...outcome.details });
  }

  /** As `#made`, of what a user has written: ended when it takes too long, with the thread it is in. */
  async #madeInTime<T>(task: BarFileTask | StudyTask, name: string): Promise<T> {
    const limit = AbortSignal.timeout(this.#studyMs);
    try {
      return await this.#made<T>(task, name, limit);
    } catch (error) {
      if (!limit.aborted || error instanceof PlanTesterError) throw error;
      throw new PlanTesterError(
        "limit",
        `It took longer than ${this.#studyMs / 1000} s. Take a shorter span, or bars of a longer timeframe.`,
        {},
      );
    }
  }

  series(task: SeriesTask): Promise<BarSeries> {
    return this.#made(task, "seriesOf");
  }

  /** The same with repairs over them. @throws PlanTesterError bad-bars where they leave no valid ones */
  repair(task: RepairTask): Promise<{ readonly series: BarSeries; readonly hash: string }> {
    return this.#made(task, "repairedSeries");
  }

  continue(task: ContinueTask): Promise<BarSeries> {
    return this.#made(task, "continued");
  }

  resample(task: ResampleTask): Promise<Resampled> {
    return this.#made(task, "resampled");
  }

  /** What is doubtful about bars, with their map. */
  examine(task: ExamineTask): Promise<ExaminedBars> {
    return this.#made(task, "examined");
  }

  /** The sessions that bars show, and how well those of other instruments fit them. */
  findSessions(task: FindSessionsTask): Promise<FoundSessions> {
    return this.#pool.run(task, { name: "foundSessions" }) as Promise<FoundSessions>;
  }

  /** The column of a study beside all bars. */
  study(task: StudyTask): Promise<Expressed> {
    return this.#madeInTime(task, "studied");
  }

  /** Bars that come to others; null for what has to be asked. */
  merge(task: MergeTask): Promise<{ overlap: Overlap; merged: BarColumns | null }> {
    return this.#pool.run(task, { name: "mergedBars" }) as Promise<{ overlap: Overlap; merged: BarColumns | null }>;
  }

  /** Bars as a file, in pieces, studies beside them. */
  barFile(task: BarFileTask): Promise<Uint8Array[]> {
    return this.#madeInTime(task, "barFile");
  }

  hash(columns: BarColumns): Promise<string> {
    return this.#pool.run(columns, { name: "hashed" }) as Promise<string>;
  }

  /** What a program does, in words. @throws PlanTesterError bad-plan when it can't be read */
  read(text: string): Promise<readonly ProgramAct[]> {
    return this.#made(text, "read");
  }

  /** The rules of a plan. @throws PlanTesterError bad-plan when its text can't be read */
  rulesOf(text: string): Promise<readonly PlanRule[]> {
    return this.#made(text, "rules");
  }

  earnings(task: EarningsTask): Promise<RuleEarnings[]> {
    return this.#pool.run(task, { name: "earnings" }) as Promise<RuleEarnings[]>;
  }

  /** Names of the modules that a plan's text imports. */
  importsOf(text: string): Promise<string[]> {
    return this.#pool.run(text, { name: "imports" }) as Promise<string[]>;
  }

  /** Independent settings that some settings amount to, by their daily returns. */
  independent(rows: ReturnRows): Promise<number> {
    return this.#pool.run(rows, { name: "independent" }) as Promise<number>;
  }

  /** Bars outside every session. */
  countOutside(time: Float64Array, calendar: SessionCalendar): Promise<number> {
    return this.#pool.run({ time, calendar }, { name: "outside" }) as Promise<number>;
  }

  /** A bundle as a zip file, in pieces. @throws PlanTesterError limit for one that could not be opened again */
  packBundle(task: PackTask): Promise<Uint8Array[]> {
    return this.#made(task, "packed");
  }

  /** @throws PlanTesterError bad-input, limit for a file that is no sound bundle */
  unpackBundle(file: string): Promise<UnpackedBundle> {
    return this.#made(file, "unpacked");
  }

  storageFacts(file: string): Promise<StorageFacts> {
    return this.#pool.run(file, { name: "storageFacts" }) as Promise<StorageFacts>;
  }

  /** Gives the empty pages of a database file back to the disk. */
  compact(file: string): Promise<void> {
    return this.#pool.run(file, { name: "compact" }) as Promise<void>;
  }

  close(): Promise<void> {
    return this.#pool.destroy();
  }
}
