/**
 * One backtest from a declared plan to its complete result. It can be advanced in parts, so that a caller can show
 * progress and stop it: what is done stays (R7.5).
 */
import { Account, type LedgerPool } from "../engine/account.ts";
import { dayEndsOf } from "../engine/account-limits.ts";
import { firstAfter } from "../engine/ascending.ts";
import { Book } from "../engine/book.ts";
import { EquityColumn, type EquityRecord, PeriodRecord } from "../engine/equity.ts";
import { Feed, type FinerBars } from "../engine/feed.ts";
import { JointSimulation } from "../engine/joint-simulation.ts";
import type { BookListener, Lot } from "../engine/lots.ts";
import type { Fill, Order, Trade } from "../engine/orders.ts";
import { checkInstrument, type EngineSettings } from "../engine/settings.ts";
import { type Clock, Simulation } from "../engine/simulation.ts";
import { TradeTotals } from "../engine/trade-totals.ts";
import type { PlanFailure } from "../errors.ts";
import { BookBroker } from "../language/broker.ts";
import { PlanHost, type PlotColumn } from "../language/host.ts";
import type { InputValue } from "../language/inputs.ts";
import type { Schedule } from "../language/schedule.ts";
import type { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { trackForming } from "./forming-bars.ts";
import { numberFromPeriod } from "./from-period.ts";
import { ratesOf } from "./rates.ts";
import { assembleResult, type RunResult, type RunStatus } from "./result.ts";

/** One instrument of a run. */
export interface RunFeed {
  readonly instrument: Instrument;
  /** Columns over the run's bars; may be shared with other runs on the same bars. */
  readonly store: StudyStore;
  readonly finer: FinerBars | null;
  /** Bars of the store that lie ahead of the period, for warm-up (R2.7). */
  readonly lead?: number;
  /** The bars of the period; those of the store where there are none ahead of it. */
  readonly period?: BarSeries;
}

/** The bars that a run is about. */
export const periodOf = ({ store, period }: Pick<RunFeed, "store" | "period">): BarSeries => period ?? store.bars;

export interface BacktestOptions {
  readonly plan: DeclaredPlan;
  /** As in `HostOptions`. */
  readonly freshPlan?: () => DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  /** The plan's own instrument first. */
  readonly feeds: readonly RunFeed[];
  readonly settings: EngineSettings;
  readonly sourceLine?: () => number;
  /** Equity column to fill, as long as the first instrument's bars: lets runs reuse its memory. */
  readonly equity?: Float64Array;
  /** Takes note of equity in place of the column, in a run on one instrument. */
  readonly record?: EquityRecord;
  /** Keeps trades and equity only: for sweeps. */
  readonly isLean?: boolean;
  /** Hears of everything that happens on the books, before the plan does. */
  readonly observer?: RunObserver;
  /** The account that it shares with other plans, whose clock then moves it (`BlendRun`). */
  readonly shared?: SharedAccount;
}

export interface SharedAccount {
  readonly pool: LedgerPool;
  /** Money of the pool for one of this run's account. */
  readonly rate: number;
}

/** What happened on a book. */
export type BookEvent =
  | { readonly kind: "accepted" | "ended"; readonly order: Order }
  | { readonly kind: "filled"; readonly fill: Fill }
  | { readonly kind: "opened"; readonly lot: Lot }
  | { readonly kind: "closed"; readonly trade: Trade };

/** `feed` is the number of the instrument whose book it is. */
export type RunObserver = (event: BookEvent, feed: number) => void;

const UNHEARD: BookListener = { filled() {}, closed() {}, opened() {}, ended() {}, log() {} };

export class Backtest {
  readonly host: PlanHost;
  readonly account: Account;
  readonly books: readonly Book[];
  readonly simulation: Clock;
  /** Equity at each close of the first instrument, unless a record was given in its place. */
  readonly equity: Float64Array;
  /** Sums of trades, in a lean run of which nobody looks at a single one. */
  totals: TradeTotals | null = null;
  /** Of a run on one instrument whose curve is kept. */
  readonly #column: EquityColumn | null;
  readonly #options: BacktestOptions;
  readonly #lead: number;
  readonly #period: BarSeries;
  #finished = false;
  #closing = false;

  constructor(options: BacktestOptions) {
    this.#options = options;
    const { settings, feeds } = options;
    for (const { instrument } of feeds) checkInstrument(instrument);
    this.account = new Account(settings, options.shared?.pool, options.shared?.rate);
    this.account.byDays(dayEndsOf(feeds[0]!.store.bars.sessions));
    this.books = feeds.map(({ instrument }) => new Book(instrument, this.account, UNHEARD, options.isLean));
    const rates = ratesOf(
      feeds.map(({ instrument }) => instrument),
      settings,
      this.books,
    );
    this.#lead = feeds[0]!.lead ?? 0;
    this.#period = periodOf(feeds[0]!);
    this.host = new PlanHost({
      ...options,
      lead: this.#lead,
      feeds: feeds.map(({ instrument, store }, k) => ({ instrument, store, broker: new BookBroker(this.books[k]!) })),
    });
    const { firstBars } = this.host;
    const clocks = feeds.map(({ store, finer }, k) => {
      const book = this.books[k]!;
      book.listen(this.#heard(k));
      if (this.host.wantsPrice) book.onPrice = trackForming(this.host, k, book, store.bars);
      return new Feed(store.bars, book, this.#handlers(k, firstBars[k]!), finer, feeds[k]!.lead ?? 0);
    });
    const { bars } = feeds[0]!.store;
    const lead = this.#lead;
    // Several instruments, and one whose rate changes, draw one curve over all bars.
    const isDrawn = feeds.length > 1 || (this.#isJoint && rates[0] !== null);
    const drawn = isDrawn ? (lead === 0 && options.equity) || new Float64Array(bars.length) : null;
    const record = isDrawn ? undefined : options.record;
    this.equity = drawn ? drawn.subarray(lead) : (options.equity ?? new Float64Array(record ? 0 : this.#period.length));
    this.#column = isDrawn || record ? null : new EquityColumn(this.equity, this.#period.close);
    const kept = record ?? this.#column;
    const equity = drawn ?? (lead > 0 ? new PeriodRecord(kept!, lead) : kept!);
    this.simulation =
      this.#isJoint || equity instanceof Float64Array
        ? new JointSimulation(clocks, this.account, { place: (timeMs) => this.#placeAt(timeMs) }, rates, equity)
        : new Simulation(clocks[0]!, equity);
  }

  #handlers(k: number, first: number) {
    const { store, finer } = this.#options.feeds[k]!;
    const { open, fine, close } = this.host.schedules(k, finer);
    const { length } = store.bars;
    const firstFine = finer ? finer.first[Math.min(length, this.host.firstOpen)]! : 0;
    return {
      nextOpen: (from: number) => (open.isEmpty ? length : open.next(Math.max(from, this.host.firstOpen))),
      nextClose: (from: number) => close.next(Math.max(from, first)),
      atOpen: (i: number, openMs: number) => this.#atOpen(open, i, openMs),
      atClose: (i: number) => this.#atClose(k, close, i),
      ...(!fine.isEmpty && {
        fine: {
          next: (from: number) => fine.next(Math.max(from, firstFine)),
          act: (j: number) => {
            const { barIndex } = this.books[k]!;
            if (!this.#isJoint) this.host.place(barIndex - 1, finer!.series.time[j]!, barIndex);
            fine.run(j);
          },
        },
      }),
    };
  }

  get barsDone(): number {
    return Math.max(0, this.simulation.done - this.#lead);
  }

  /** Bars ahead of the period. */
  get lead(): number {
    return this.#lead;
  }

  /** The bar of the period at which the run stands. */
  get barNow(): number {
    return Math.max(0, this.host.barNow - this.#lead);
  }

  /** Whether the run has ended, by its data or by the ruin of its account. */
  get isOver(): boolean {
    return this.#finished || this.simulation.isOver;
  }

  /** Close times of the period's bars. */
  get closeTime(): Float64Array {
    return this.#period.closeTime;
  }

  get #isJoint(): boolean {
    return this.#options.feeds.length > 1 || this.#options.shared !== undefined;
  }

  /** The clock of a run on a shared account. */
  get joint(): JointSimulation {
    if (!(this.simulation instanceof JointSimulation)) throw new Error("A run on one instrument alone has no joint clock.");
    return this.simulation;
  }

  /** Its bars are over, or its account is: the plan is told, and what is open is marked out. */
  end(): void {
    if (this.#finished) return;
    this.joint.rest(this.#options.feeds[0]!.store.bars.length);
    this.#finished = true;
    this.host.runEvent("end");
    this.simulation.finish();
  }

  /** Runs up to bar `until` (exclusive). A plan's own error comes out as it was thrown; what was done stays. */
  advance(until: number): void {
    this.simulation.run(until + this.#lead);
    const { bars } = this.#options.feeds[0]!.store;
    if ((this.simulation.done < bars.length && !this.simulation.isOver) || this.#finished) return;
    this.#finished = true;
    this.host.runEvent("end");
    this.simulation.finish();
  }

  /** Joint runs: where every instrument stands at a time. */
  #placeAt(timeMs: number): void {
    const { closeTime, time, length } = this.#options.feeds[0]!.store.bars;
    const { cursor } = this.host;
    let done = cursor.index;
    // Time steps back where a path is walked: to the open of its bar.
    if (done >= 0 && closeTime[done]! > timeMs) done = firstAfter(closeTime, timeMs, 0, length) - 1;
    else if (done + 1 < length && closeTime[done + 1]! <= timeMs) done = firstAfter(closeTime, timeMs, done + 2, length) - 1;
    const forming = done + 1 < length && time[done + 1]! <= timeMs ? done + 1 : Math.max(0, done);
    this.host.place(done, timeMs, forming);
  }

  #atOpen(schedule: Schedule, i: number, openMs: number): void {
    if (!this.#isJoint) this.host.place(i - 1, openMs, i);
    schedule.run(i);
  }

  #atClose(k: number, schedule: Schedule, i: number): void {
    this.#closing = true;
    if (k === 0) this.host.placeAtClose(i);
    schedule.run(i);
    this.#closing = false;
  }

  /** Inside a bar the last completed bar is the one before it. */
  #placeInBar(book: Book): void {
    if (!this.#closing && book.inBar && !this.#isJoint) this.host.place(book.barIndex - 1, book.timeMs, book.barIndex);
  }

  /** What a limit of the account brings about: the plan hears of it once all is done. */
  #untold: (() => void)[] | null = null;

  #tell(event: () => void): void {
    if (this.#untold) this.#untold.push(event);
    else event();
  }

  #heard(k: number): BookListener {
    const book = this.books[k]!;
    if (this.host.hearsOnlyTrades) {
      // Nobody looks at a single trade: their sums are enough.
      this.totals ??= new TradeTotals();
      book.keepSums(this.totals);
      return UNHEARD;
    }
    const told = this.host.listener(k);
    const { observer } = this.#options;
    return {
      accepted: (order) =>
        this.#tell(() => {
          observer?.({ kind: "accepted", order }, k);
          told.accepted!(order);
        }),
      filled: (fill, order) => {
        this.#placeInBar(book);
        observer?.({ kind: "filled", fill }, k);
        told.filled(fill, order);
      },
      closed: (trade) => {
        this.#placeInBar(book);
        observer?.({ kind: "closed", trade }, k);
        told.closed(trade);
      },
      opened: (lot) => {
        this.#placeInBar(book);
        observer?.({ kind: "opened", lot }, k);
        told.opened(lot);
      },
      ended: (order) =>
        this.#tell(() => {
          // Orders expire as a bar opens, before price is in it.
          if (order.state === "expired" && !this.#isJoint) this.host.place(book.barIndex - 1, book.timeMs, book.barIndex);
          else this.#placeInBar(book);
          observer?.({ kind: "ended", order }, k);
          told.ended(order);
        }),
      limited: (hit) => {
        if (!this.#isJoint) this.host.placeAtClose(book.barIndex);
        told.limited!(hit);
        this.#untold = [];
      },
      obeyed: () => {
        const untold = this.#untold ?? [];
        this.#untold = null;
        for (const tell of untold) tell();
      },
      log: (level, text) => told.log(level, text),
    };
  }

  /** The complete result; `partial` and `failed` runs report the part that was done, with open positions marked out. */
  result(status: RunStatus = "complete", failure: PlanFailure | null = null): RunResult {
    const { feeds, settings } = this.#options;
    const done = this.barsDone;
    if (!this.#finished) {
      this.#finished = true;
      this.simulation.finish();
    }
    const { orders, fills, trades, lines: log, notes } = this.host;
    const leads = new Map(feeds.map(({ instrument, lead = 0 }) => [instrument.symbol, lead]));
    if (this.#lead > 0) numberFromPeriod({ orders, fills, trades, log, notes }, (symbol) => leads.get(symbol) ?? this.#lead);
    return assembleResult({
      status: status === "complete" && this.account.isOver ? "ruined" : status,
      limitHits: this.account.limits?.hits ?? [],
      ruinMs: Number.isNaN(this.account.ruinMs) ? null : this.account.ruinMs,
      failure,
      bars: this.#period,
      barsDone: done,
      firstBar: this.host.firstBars[0]! - this.#lead,
      neverFull: this.host.neverFull,
      instrument: feeds[0]!.instrument,
      instruments: feeds.map(({ instrument }) => instrument),
      settings,
      equity: this.equity.subarray(0, done),
      stretches: this.#column?.stretches ?? null,
      ...{ orders, fills, trades, log, notes },
      ownFigures: [...this.host.ownFigures.values()],
      droppedLogLines: this.host.dropped,
      counts: this.simulation.counts,
      plots: this.#plots(done),
    });
  }

  /** What the plan shows, on the bars of its first instrument. */
  #plots(done: number): PlotColumn[] {
    return this.host.shownColumns().map(({ values, ...plot }) => ({ ...plot, values: values.subarray(this.#lead, this.#lead + done) }));
  }
}
