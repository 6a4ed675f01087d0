/**
 * One sweep under way: rounds of points as the search asks for them, handed out in batches, figures collected in place.
 * It can be left and taken up again.
 */
import type { SweepRequest, VariantSpace } from "@plan-tester/contract";
import { type Aim, type InputValues, nextPoints, pointsIn, SWEEP_FIGURES, scoresOf } from "@plan-tester/core";
import type { SweepExecutor } from "./executor.ts";
import { datesOf, type SweepWork, type VariantPlace } from "./work.ts";

const FIRST_BATCH = 8;
const BATCH_MS = 250;
/** Failures that keep their message; the others are only counted. */
const MOST_MESSAGES = 500;
const LEAST_BATCH = 4;
/** Daily returns kept of a sweep, numbers in all: of a larger one every so many variants keep theirs. */
const MOST_DAILY = 4_000_000;

export interface SweepFailure {
  readonly variant: number;
  /** Empty where there were too many before it. */
  readonly message: string;
}

/** What a sweep has come to; a new job can go on from it. */
export interface SweepState {
  /** Points of the lattice in the order of their trial; the row of a variant is its place here. */
  readonly points: readonly number[];
  readonly figures: Float64Array;
  /** Daily returns in-sample of every `dailyStride`th variant; the stride is 0 where none are kept. */
  readonly daily: Float32Array;
  readonly dailyStride: number;
  readonly failures: readonly SweepFailure[];
}

export interface SweepTask {
  readonly space: VariantSpace;
  readonly search: SweepRequest["search"];
  readonly aim: Aim;
  readonly work: SweepWork;
  /** Whether daily returns are kept. */
  readonly keepsDaily: boolean;
}

/** How long a sweep's columns are. */
export interface SweepSizes {
  /** Variants there will be: at most, while a search goes on. */
  readonly total: number;
  /** Whether the search gives its points round by round. */
  readonly isGrowing: boolean;
  readonly rowWidth: number;
  /** Session dates in-sample. */
  readonly dates: readonly string[];
  readonly dailyStride: number;
  readonly dailyRows: number;
}

export function sizesOf({ space, search, work, keepsDaily }: SweepTask, points: readonly number[]): SweepSizes {
  const isGrowing = growsOf({ space, search });
  const total = isGrowing && search ? search.count : points.length;
  const { dates } = work;
  const dailyStride = keepsDaily ? Math.max(1, Math.ceil((total * dates.length) / MOST_DAILY)) : 0;
  const rowWidth = SWEEP_FIGURES.length * work.markets[0]!.stretches.length;
  return { total, isGrowing, rowWidth, dates, dailyStride, dailyRows: keepsDaily ? Math.ceil(total / dailyStride) : 0 };
}

/** Bytes of the figures and daily returns of a sweep. */
export const bytesOf = ({ total, rowWidth, dailyRows, dates }: SweepSizes): number => 8 * total * rowWidth + 4 * dailyRows * dates.length;

const growsOf = ({ space, search }: Pick<SweepTask, "space" | "search">): boolean =>
  search !== null && search.method !== "spread" && search.count < pointsIn(space.sizes);

/** How many variants a sweep tries: at most, where its search gives them round by round. */
export const countAhead = ({ space, search }: Pick<SweepTask, "space" | "search">): number =>
  growsOf({ space, search }) && search ? search.count : space.points(search).length;

/** Points that are known before anything has been tried. */
export const firstPoints = (task: SweepTask): number[] => (growsOf(task) ? [] : task.space.points(task.search));

export class SweepJob implements SweepState {
  readonly points: number[];
  readonly figures: Float64Array;
  readonly daily: Float32Array;
  readonly dailyStride: number;
  readonly failures: SweepFailure[] = [];
  done = 0;
  /** Variants there will be: at most, while a search goes on. */
  total: number;
  /** The most memory that one process has told of, bytes. */
  processBytes = 0;
  readonly #task: SweepTask;
  readonly #executor: SweepExecutor;
  readonly #sizes: SweepSizes;
  /** For each market the column of each of its session dates. */
  readonly #dayColumns: readonly Int32Array[];
  /** Variants that are still to be run, those of one market together. */
  #pending: { variant: number; place: VariantPlace }[] = [];
  #next = 0;
  #stopped = false;

  /** @param before what an earlier job had come to. */
  constructor(task: SweepTask, executor: SweepExecutor, before: SweepState | null = null) {
    this.#task = task;
    this.#executor = executor;
    this.points = before?.points.length ? [...before.points] : firstPoints(task);
    const sizes = sizesOf(task, this.points);
    this.#sizes = sizes;
    this.total = sizes.total;
    const columns = new Map(sizes.dates.map((date, column) => [date, column]));
    this.#dayColumns = task.work.markets.map((market) => Int32Array.from(datesOf(market), (date) => columns.get(date)!));
    const length = sizes.total * sizes.rowWidth;
    const fits = before?.figures.length === length;
    this.figures = fits ? before.figures : new Float64Array(length).fill(Number.NaN);
    this.dailyStride = sizes.dailyStride;
    const days = sizes.dailyRows * sizes.dates.length;
    this.daily = before?.daily.length === days ? before.daily : new Float32Array(days);
    if (fits) this.failures.push(...before.failures);
    const failed = new Set(this.failures.map(({ variant }) => variant));
    const isOpen = (variant: number): boolean => Number.isNaN(this.figures[variant * this.rowWidth]!) && !failed.has(variant);
    this.#await(this.points.map((_point, variant) => variant).filter(isOpen));
    this.done = this.points.length - this.#pending.length;
  }

  get rowWidth(): number {
    return this.#sizes.rowWidth;
  }

  get stopped(): boolean {
    return this.#stopped;
  }

  /** Memory that the sweep takes in all, bytes, as far as it is known. */
  get memoryBytes(): number {
    return this.#executor.threads * this.processBytes + bytesOf(this.#sizes);
  }

  variantAt(variant: number): InputValues {
    return this.#task.space.variantAt(this.points[variant]!)!;
  }

  /** How well each variant does by the aim. */
  scores(): Float64Array {
    const { aim, space } = this.#task;
    return scoresOf(aim, { figures: this.figures, rowWidth: this.rowWidth, points: this.points, space });
  }

  /** How many settings were tried on each instrument. */
  trials(): Map<string, number> {
    const { work } = this.#task;
    const found = new Map(work.symbols.map((symbol) => [symbol, 0]));
    const failed = new Set(this.failures.map(({ variant }) => variant));
    this.points.forEach((_point, variant) => {
      if (Number.isNaN(this.figures[variant * this.rowWidth]!) && !failed.has(variant)) return;
      const market = work.markets.length === 1 ? 0 : work.placeOf(this.variantAt(variant)).market;
      const { symbol } = work.markets[market]!;
      found.set(symbol, found.get(symbol)! + 1);
    });
    return found;
  }

  /** No new batch is begun; those under way are finished and kept. */
  stop(): void {
    this.#stopped = true;
  }

  async run(onProgress: () => void): Promise<void> {
    do await Promise.all(Array.from({ length: this.#executor.threads }, () => this.#thread(onProgress)));
    while (!this.#stopped && this.#grow());
  }

  #await(variants: readonly number[]): void {
    const found = variants.map((variant) => ({ variant, place: this.#task.work.placeOf(this.variantAt(variant)) }));
    this.#pending = this.#task.work.markets.length > 1 ? found.sort((a, b) => a.place.market - b.place.market) : found;
    this.#next = 0;
  }

  /** Asks the search for its next round; false when it is over. */
  #grow(): boolean {
    const { space, search } = this.#task;
    if (!search || this.points.length >= this.total) return false;
    const points = nextPoints(space, search, { points: this.points, scores: this.scores() }).slice(0, this.total - this.points.length);
    if (points.length === 0) {
      this.total = this.points.length;
      return false;
    }
    const first = this.points.length;
    this.points.push(...points);
    this.#await(points.map((_point, k) => first + k));
    return true;
  }

  async #thread(onProgress: () => void): Promise<void> {
    let size = FIRST_BATCH;
    while (!this.#stopped && this.#next < this.#pending.length) {
      const batch = this.#take(size);
      const began = performance.now();
      if (!(await this.#try(batch))) for (const one of batch) await this.#try([one]);
      this.done += batch.length;
      const took = performance.now() - began;
      size = Math.max(1, Math.min(1000, Math.round((batch.length * BATCH_MS) / Math.max(took, 1))));
      onProgress();
    }
  }

  /** The next variants, of one market. A round's end is shared out, so that no process waits long for another. */
  #take(size: number): { variant: number; place: VariantPlace }[] {
    const { market } = this.#pending[this.#next]!.place;
    const fair = Math.max(LEAST_BATCH, Math.ceil((this.#pending.length - this.#next) / (2 * this.#executor.threads)));
    const batch = this.#pending.slice(this.#next, this.#next + Math.min(size, fair)).filter(({ place }) => place.market === market);
    this.#next += batch.length;
    return batch;
  }

  /** Runs a batch and keeps what came of it; false when it was lost with more than one variant in it. */
  async #try(batch: readonly { variant: number; place: VariantPlace }[]): Promise<boolean> {
    const { work } = this.#task;
    const { market } = batch[0]!.place;
    const { stretches, settings } = work.markets[market]!;
    try {
      const dailyOf = [...batch.keys()].filter((k) => this.dailyStride > 0 && batch[k]!.variant % this.dailyStride === 0);
      const answer = await this.#executor.execute({
        source: work.source,
        variants: batch.map(({ place }) => place.inputs),
        kits: work.variesKit ? batch.map(({ place }) => place.kit) : null,
        stretches,
        settings,
        dailyOf,
      });
      this.processBytes = Math.max(this.processBytes, answer.memoryBytes);
      batch.forEach(({ variant }, k) => {
        this.figures.set(answer.figures.subarray(k * this.rowWidth, (k + 1) * this.rowWidth), variant * this.rowWidth);
      });
      if (answer.daily)
        this.#keepDaily(
          answer.daily,
          dailyOf.map((k) => batch[k]!.variant),
          this.#dayColumns[market]!,
        );
      for (const failure of answer.failures) this.#fail(batch[failure.variant]!.variant, failure.message);
      return true;
    } catch (error) {
      // Case: a process died. One variant alone is to blame or to lose; more are tried again one by one.
      if (batch.length > 1) return false;
      this.#fail(batch[0]!.variant, error instanceof Error ? error.message : String(error));
      return true;
    }
  }

  #keepDaily(daily: Float32Array, variants: readonly number[], columns: Int32Array): void {
    variants.forEach((variant, row) => {
      const at = (variant / this.dailyStride) * this.#sizes.dates.length;
      for (let day = 0; day < columns.length; day++) this.daily[at + columns[day]!] = daily[row * columns.length + day]!;
    });
  }

  #fail(variant: number, message: string): void {
    this.failures.push({ variant, message: this.failures.length < MOST_MESSAGES ? message : "" });
  }
}
