/**
 * One backtest from a declared plan to its complete result. It can be advanced in parts, so that a caller can show
 * progress and stop it: what is done stays (R7.5).
 */
import { Book } from "../engine/book.ts";
import type { BookListener } from "../engine/lots.ts";
import type { Fill, Order, Trade } from "../engine/orders.ts";
import { checkInstrument, type EngineSettings } from "../engine/settings.ts";
import { type FinerBars, Simulation } from "../engine/simulation.ts";
import type { PlanFailure } from "../errors.ts";
import { entryOf } from "../language/columns.ts";
import { PlanHost } from "../language/host.ts";
import type { InputValue } from "../language/inputs.ts";
import type { Schedule } from "../language/schedule.ts";
import type { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { assembleResult, type RunResult, type RunStatus } from "./result.ts";

export interface BacktestOptions {
  readonly plan: DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  /** Columns over the run's bars; may be shared with other runs on the same bars. */
  readonly store: StudyStore;
  readonly finer: FinerBars | null;
  readonly sourceLine?: () => number;
  /** Equity column to fill, as long as the bars: lets a sweep reuse its memory. */
  readonly equity?: Float64Array;
  /** Keeps trades and equity only: for sweeps. */
  readonly isLean?: boolean;
}

export class Backtest implements BookListener {
  readonly host: PlanHost;
  readonly book: Book;
  readonly simulation: Simulation;
  readonly #options: BacktestOptions;
  readonly #bars: BarSeries;
  #finished = false;
  #closing = false;

  constructor(options: BacktestOptions) {
    checkInstrument(options.instrument);
    this.#options = options;
    this.#bars = options.store.bars;
    this.book = new Book(options.instrument, options.settings, this);
    this.book.isLean = options.isLean ?? false;
    this.host = new PlanHost({ ...options, broker: this.book, seed: options.settings.seed });
    const { open, close } = this.host.schedules();
    const first = this.host.firstBar;
    const handlers = {
      nextOpen: (from: number) => (open.isEmpty ? this.#bars.length : open.next(Math.max(from, first + 1))),
      nextClose: (from: number) => close.next(Math.max(from, first)),
      atOpen: (i: number) => this.#atOpen(open, i),
      atClose: (i: number) => this.#atClose(close, i),
    };
    this.simulation = new Simulation(this.#bars, this.book, handlers, options.finer, options.equity);
  }

  get barsDone(): number {
    return this.simulation.done;
  }

  /** Runs up to bar `until` (exclusive). A plan's own error comes out as it was thrown; what was done stays. */
  advance(until: number): void {
    this.simulation.run(until);
    if (this.simulation.done < this.#bars.length || this.#finished) return;
    this.#finished = true;
    this.host.runEvent("end");
    this.simulation.finish();
  }

  #place(index: number, timeMs: number, bar: number): void {
    const { cursor } = this.host;
    cursor.index = index;
    cursor.timeMs = timeMs;
    cursor.session = this.#bars.session[bar] ?? 0;
  }

  #atOpen(schedule: Schedule, i: number): void {
    this.#place(i - 1, this.#bars.time[i]!, i);
    schedule.run(i);
  }

  #atClose(schedule: Schedule, i: number): void {
    this.#closing = true;
    this.#place(i, this.#bars.closeTime[i]!, i);
    schedule.run(i);
    this.#closing = false;
  }

  /** Inside a bar the last completed bar is the one before it. */
  #placeInBar(): void {
    if (!this.#closing && this.book.inBar) this.#place(this.book.barIndex - 1, this.book.timeMs, this.book.barIndex);
  }

  filled(fill: Fill): void {
    this.#placeInBar();
    this.host.filled(fill);
  }

  closed(trade: Trade): void {
    this.#placeInBar();
    this.host.closed(trade);
  }

  opened(lot: Parameters<BookListener["opened"]>[0]): void {
    this.#placeInBar();
    this.host.opened(lot);
  }

  ended(order: Order): void {
    this.#placeInBar();
    this.host.ended(order);
  }

  log(level: "notice" | "warning", text: string): void {
    this.host.log(level, text);
  }

  /** The complete result; `partial` and `failed` runs report the part that was done, with open positions marked out. */
  result(status: RunStatus = "complete", failure: PlanFailure | null = null): RunResult {
    const { instrument, settings } = this.#options;
    const done = this.simulation.done;
    if (!this.#finished) {
      this.#finished = true;
      this.simulation.finish();
    }
    return assembleResult({
      status,
      failure,
      bars: this.#bars,
      barsDone: done,
      firstBar: this.host.firstBar,
      instrument,
      settings,
      equity: this.simulation.equity.subarray(0, done),
      orders: this.host.orders,
      fills: this.host.fills,
      trades: this.host.trades,
      log: this.host.lines,
      droppedLogLines: this.host.dropped,
      counts: this.simulation.counts,
      plots: this.host.shown.map(({ label, pane, column }) => ({ label, pane, values: entryOf(column).values.subarray(0, done) })),
    });
  }
}
