/** One plan run over and over with some of its conditions put in the place of others: handed out in batches over all cores. */

import type { RuleRun } from "@plan-tester/core";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { type ProcessPool, type RuleChange, type RunRequest, runChanged } from "@plan-tester/runner";

/** What came of one of them. */
export interface MadeRun extends RuleRun {
  readonly figures: Float64Array;
  /** Why it failed; "" where it did not. */
  readonly failure: string;
}

export interface MadeRuns {
  /** Missing where it was stopped before. */
  readonly whole: readonly (MadeRun | undefined)[];
  readonly lean: readonly (MadeRun | undefined)[];
}

const BATCH_MS = 250;
const LARGEST_BATCH = 64;

export class ChangedRuns {
  readonly #pool: ProcessPool;
  #done = 0;
  #total = 0;
  isStopped = false;
  onProgress: (done: number, total: number) => void = () => undefined;

  constructor(pool: ProcessPool) {
    this.#pool = pool;
  }

  /** No new batch is begun; those under way are finished and kept. */
  stop(): void {
    this.isStopped = true;
  }

  /** @param whole changes of which trades are wanted too; they come first */
  async run(request: RunRequest, whole: readonly (RuleChange | null)[], lean: readonly RuleChange[]): Promise<MadeRuns> {
    this.#total = whole.length + lean.length;
    return { whole: await this.#all(request, whole, true), lean: await this.#all(request, lean, false) };
  }

  async #all(request: RunRequest, changes: readonly (RuleChange | null)[], withTrades: boolean): Promise<(MadeRun | undefined)[]> {
    const made = new Array<MadeRun | undefined>(changes.length);
    let next = 0;
    const work = async (): Promise<void> => {
      let size = 1;
      while (!this.isStopped && next < changes.length) {
        const first = next;
        const batch = changes.slice(first, first + size);
        next += batch.length;
        const began = performance.now();
        (await this.#batch(request, batch, withTrades)).forEach((one, k) => {
          made[first + k] = one;
        });
        this.#done += batch.length;
        const tookMs = performance.now() - began;
        const fair = Math.ceil((changes.length - next) / (2 * this.#pool.size));
        size = Math.max(1, Math.min(LARGEST_BATCH, fair, Math.round((batch.length * BATCH_MS) / Math.max(tookMs, 1))));
        this.onProgress(this.#done, this.#total);
      }
    };
    await Promise.all(Array.from({ length: this.#pool.size }, work));
    return made;
  }

  async #batch(request: RunRequest, changes: readonly (RuleChange | null)[], withTrades: boolean): Promise<MadeRun[]> {
    const { figures, daily, trades, failures } = await this.#pool.use((process) =>
      runChanged(process, request, changes, withTrades ? [...changes.keys()] : []),
    );
    const width = SWEEP_FIGURES.length;
    const days = daily ? daily.length / changes.length : 0;
    return changes.map((_change, k) => ({
      figures: figures.subarray(k * width, (k + 1) * width),
      daily: daily ? daily.subarray(k * days, (k + 1) * days) : [],
      trades: trades[k] ?? [],
      failure: failures.find(({ variant }) => variant === k)?.message ?? "",
    }));
  }
}
