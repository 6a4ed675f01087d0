/** One sweep under way: batches handed to every process of the pool, figures collected in place. It can be left and taken up again. */
import type { InputValues } from "@plan-tester/core";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { type PlanProcess, type ProcessPool, type SweepBatch, sweepPlan } from "@plan-tester/runner";

const FIRST_BATCH = 8;
const BATCH_MS = 250;
const MOST_FAILURES = 500;
/** Daily returns kept of a sweep, numbers in all: of a larger one every so many variants keep theirs. */
const MOST_DAILY = 4_000_000;

export interface SweepFailure {
  readonly variant: number;
  readonly message: string;
}

export type SweepWork = Omit<SweepBatch, "variants">;

/** What a sweep has come to; a new job can go on from it. */
export interface SweepState {
  readonly figures: Float64Array;
  /** Daily returns in-sample of every `dailyStride`th variant; the stride is 0 where none are kept. */
  readonly daily: Float32Array;
  readonly dailyStride: number;
  readonly failures: readonly SweepFailure[];
}

export class SweepJob implements SweepState {
  readonly figures: Float64Array;
  readonly daily: Float32Array;
  readonly dailyStride: number;
  readonly failures: SweepFailure[] = [];
  done = 0;
  readonly #variants: readonly InputValues[];
  readonly #work: SweepWork;
  readonly #pool: ProcessPool;
  readonly #days: number;
  /** Variants that are still to be run. */
  readonly #pending: number[] = [];
  #next = 0;
  #stopped = false;

  /** @param keepsDaily whether daily returns are kept; `before` is what an earlier job had come to. */
  constructor(
    variants: readonly InputValues[],
    work: SweepWork,
    pool: ProcessPool,
    { keepsDaily, before = null }: { readonly keepsDaily: boolean; readonly before?: SweepState | null },
  ) {
    this.#variants = variants;
    this.#work = work;
    this.#pool = pool;
    const { series } = work.stretches[0]![0]!.data;
    this.#days = new Set(series.session).size;
    const size = variants.length * this.rowWidth;
    const fits = before?.figures.length === size;
    this.figures = fits ? before.figures : new Float64Array(size).fill(Number.NaN);
    this.dailyStride = keepsDaily ? Math.max(1, Math.ceil((variants.length * this.#days) / MOST_DAILY)) : 0;
    const rows = keepsDaily ? Math.ceil(variants.length / this.dailyStride) : 0;
    this.daily = before?.daily.length === rows * this.#days ? before.daily : new Float32Array(rows * this.#days);
    if (fits) this.failures.push(...before.failures);
    const failed = new Set(this.failures.map(({ variant }) => variant));
    for (let variant = 0; variant < variants.length; variant++)
      if (Number.isNaN(this.figures[variant * this.rowWidth]!) && !failed.has(variant)) this.#pending.push(variant);
    this.done = variants.length - this.#pending.length;
  }

  get rowWidth(): number {
    return SWEEP_FIGURES.length * this.#work.stretches.length;
  }

  get stopped(): boolean {
    return this.#stopped;
  }

  /** No new batch is begun; those under way are finished and kept. */
  stop(): void {
    this.#stopped = true;
  }

  async run(onProgress: () => void): Promise<void> {
    await Promise.all(Array.from({ length: this.#pool.size }, () => this.#pool.use((process) => this.#lane(process, onProgress))));
  }

  async #lane(process: PlanProcess, onProgress: () => void): Promise<void> {
    let size = FIRST_BATCH;
    while (!this.#stopped && this.#next < this.#pending.length) {
      const batch = this.#pending.slice(this.#next, this.#next + size);
      this.#next += batch.length;
      const began = performance.now();
      if (!(await this.#try(process, batch))) await this.#oneByOne(process, batch);
      this.done += batch.length;
      const took = performance.now() - began;
      size = Math.max(1, Math.min(1000, Math.round((batch.length * BATCH_MS) / Math.max(took, 1))));
      onProgress();
    }
  }

  /** Runs a batch and keeps what came of it; false when the process died with more than one of them. */
  async #try(process: PlanProcess, batch: readonly number[]): Promise<boolean> {
    try {
      const variants = batch.map((variant) => this.#variants[variant]!);
      const dailyOf = [...batch.keys()].filter((k) => this.dailyStride > 0 && batch[k]! % this.dailyStride === 0);
      const { figures, failures, daily } = await sweepPlan(process, { ...this.#work, variants, dailyOf });
      batch.forEach((variant, k) => {
        this.figures.set(figures.subarray(k * this.rowWidth, (k + 1) * this.rowWidth), variant * this.rowWidth);
      });
      if (daily)
        dailyOf.forEach((k, row) => {
          this.daily.set(daily.subarray(row * this.#days, (row + 1) * this.#days), (batch[k]! / this.dailyStride) * this.#days);
        });
      for (const failure of failures) this.#fail(batch[failure.variant]!, failure.message);
      return true;
    } catch (error) {
      // Case: the process died. One variant alone is to blame or to lose; more are tried again one by one.
      if (batch.length > 1) return false;
      this.#fail(batch[0]!, error instanceof Error ? error.message : String(error));
      return true;
    }
  }

  async #oneByOne(process: PlanProcess, batch: readonly number[]): Promise<void> {
    for (const variant of batch) await this.#try(process, [variant]);
  }

  #fail(variant: number, message: string): void {
    if (this.failures.length < MOST_FAILURES) this.failures.push({ variant, message });
  }
}
