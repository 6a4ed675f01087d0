/** One sweep under way: batches handed to every process of the pool, figures collected in place. */
import type { InputValues } from "@plan-tester/core";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { type ProcessPool, type SweepBatch, sweepPlan } from "@plan-tester/runner";

const FIRST_BATCH = 8;
const BATCH_MS = 250;
const MOST_FAILURES = 500;

export interface SweepFailure {
  readonly variant: number;
  readonly message: string;
}

export type SweepWork = Omit<SweepBatch, "variants">;

export class SweepJob {
  readonly figures: Float64Array;
  readonly failures: SweepFailure[] = [];
  done = 0;
  readonly #variants: readonly InputValues[];
  readonly #work: SweepWork;
  readonly #pool: ProcessPool;
  #next = 0;
  #stopped = false;

  constructor(variants: readonly InputValues[], work: SweepWork, pool: ProcessPool) {
    this.#variants = variants;
    this.#work = work;
    this.#pool = pool;
    this.figures = new Float64Array(variants.length * this.rowWidth).fill(Number.NaN);
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

  async #lane(process: Parameters<Parameters<ProcessPool["use"]>[0]>[0], onProgress: () => void): Promise<void> {
    let size = FIRST_BATCH;
    while (!this.#stopped && this.#next < this.#variants.length) {
      const start = this.#next;
      const end = Math.min(this.#variants.length, start + size);
      this.#next = end;
      const began = performance.now();
      try {
        const { figures, failures } = await sweepPlan(process, { ...this.#work, variants: this.#variants.slice(start, end) });
        this.figures.set(figures, start * this.rowWidth);
        for (const failure of failures) this.#fail(start + failure.variant, failure.message);
      } catch (error) {
        // Case: the process died. One variant alone is to blame or to lose; more are tried again one by one.
        const message = error instanceof Error ? error.message : String(error);
        if (end - start === 1) this.#fail(start, message);
        else await this.#oneByOne(process, start, end);
      }
      this.done += end - start;
      const took = performance.now() - began;
      size = Math.max(1, Math.min(1000, Math.round(((end - start) * BATCH_MS) / Math.max(took, 1))));
      onProgress();
    }
  }

  async #oneByOne(process: Parameters<Parameters<ProcessPool["use"]>[0]>[0], start: number, end: number): Promise<void> {
    for (let variant = start; variant < end && !this.#stopped; variant++) {
      try {
        const { figures, failures } = await sweepPlan(process, { ...this.#work, variants: [this.#variants[variant]!] });
        this.figures.set(figures, variant * this.rowWidth);
        for (const failure of failures) this.#fail(variant, failure.message);
      } catch (error) {
        this.#fail(variant, error instanceof Error ? error.message : String(error));
      }
    }
  }

  #fail(variant: number, message: string): void {
    if (this.failures.length < MOST_FAILURES) this.failures.push({ variant, message });
  }
}
