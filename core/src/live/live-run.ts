/**
 * One plan at work: the same host, studies, kits and order rules as in a backtest, moved by what a venue says instead of by
 * known bars. Each word of the venue is answered by the commands that handlers gave on it. With a venue that waits for the
 * answers, this is to the last bit what a backtest with finer bars does on the same minutes (R8.2).
 */
import type { Book } from "../engine/book.ts";
import { closableBy } from "../engine/lots.ts";
import type { Order } from "../engine/orders.ts";
import { applyRates, type RateSource } from "../engine/rates.ts";
import type { EngineSettings } from "../engine/settings.ts";
import { DueOpens } from "../language/due-opens.ts";
import { PlanHost } from "../language/host.ts";
import type { InputValue } from "../language/inputs.ts";
import type { KitMemory } from "../language/kit-guard.ts";
import type { Scope } from "../language/scope.ts";
import { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import type { BarColumns, BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { FormingPrices } from "../run/forming-bars.ts";
import { ratesOf } from "../run/rates.ts";
import { LiveMarket } from "./live-market.ts";
import type { AccountReport, PlanCommand, VenueWord } from "./messages.ts";
import { AccountMirror } from "./mirror.ts";
import { NO_RETRIES, Retries, type RetryLimits } from "./retries.ts";

export interface LiveFeed {
  readonly instrument: Instrument;
  /** Completed bars of the run's timeframe, for warm-up (R2.7). */
  readonly history: BarSeries;
  /** Minutes since. */
  readonly minutes?: BarColumns;
}

export interface LiveOptions {
  readonly plan: DeclaredPlan;
  /** As in `HostOptions`. */
  readonly freshPlan?: () => DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  /** The plan's own instrument first. */
  readonly feeds: readonly LiveFeed[];
  readonly settings: EngineSettings;
  /** UTC milliseconds of the venue's clock. */
  readonly nowMs: number;
  readonly account: AccountReport;
  /** Number of the last report that `account` includes. */
  readonly lastReport: number;
  readonly sourceLine?: () => number;
  /** Why an order is not let through now, or "". */
  readonly gate?: (order: Order, symbol: string) => string;
  /** An entry was not let through, since the venue has not confirmed the one before it. */
  readonly onUnconfirmed?: (order: Order, symbol: string, reason: string) => void;
  /** Whether an order waits for somebody's word before it is sent; none does where it is left out. */
  readonly mustAsk?: (order: Order) => boolean;
  /** How often an order that the venue refuses is sent again; never where it is left out. */
  readonly retries?: RetryLimits;
  /** As in `HostOptions`. */
  readonly kitMemory?: readonly KitMemory[] | null;
  /** Equity at each close of the first instrument. */
  readonly onEquity?: (timeMs: number, equity: number) => void;
}

const UNCONFIRMED = "the venue has not confirmed the entry before it, which is sent again (R8.4)";

type ReportWord = Extract<VenueWord, { readonly type: "report" }>;

export class LiveRun {
  readonly host: PlanHost;
  readonly mirror: AccountMirror;
  readonly markets: readonly LiveMarket[];
  readonly #opens: readonly DueOpens[];
  readonly #options: LiveOptions;
  readonly #rates: readonly (RateSource | null)[];
  readonly #forming: readonly FormingPrices[];
  readonly #marks: number[] = [];
  readonly retries: Retries;
  /** A limit of the account was hit at a close: this, and what it brought about, is heard once the bars of that close are there. */
  #heldBack: ReportWord[] = [];
  #commands: PlanCommand[] = [];
  #nowMs: number;
  #isEnded = false;

  constructor(options: LiveOptions) {
    this.#options = options;
    const { feeds, settings, nowMs } = options;
    this.#nowMs = nowMs;
    this.retries = new Retries(options.retries ?? NO_RETRIES);
    this.markets = feeds.map(({ instrument, history, minutes }) => new LiveMarket(instrument, history, minutes, nowMs));
    this.mirror = new AccountMirror(
      feeds.map(({ instrument }) => instrument),
      settings,
      {
        send: (command) => this.#commands.push(command),
        gate: (order, symbol) => this.#refusal(order, symbol),
        mustAsk: (order) => options.mustAsk?.(order) ?? false,
        refused: (feed, order) => this.#refused(feed, order),
        barOf: (feed, timeMs) => this.markets[feed]!.barOf(timeMs),
      },
    );
    this.#rates = ratesOf(
      feeds.map(({ instrument }) => instrument),
      settings,
      this.mirror.books,
    );
    this.#forming = feeds.map(() => new FormingPrices());
    this.host = new PlanHost({
      ...options,
      lead: this.markets[0]!.bars.completed,
      feeds: this.markets.map(({ instrument, bars }, k) => ({
        instrument,
        store: new StudyStore(bars.series),
        broker: this.mirror.brokers[k]!,
      })),
    });
    this.markets.forEach((market, k) => {
      market.follow(this.host.timeframes[k]!, nowMs);
    });
    this.#grow();
    if (this.markets.length > 1)
      this.mirror.books.forEach((book, k) => {
        const markOf = (): number => this.#marks[k]!;
        book.share({ markOf, firstFillBar: () => this.#firstFillBar(k), onTouched: () => undefined });
      });
    this.markets.forEach((_market, k) => {
      this.#mark(k);
    });
    this.mirror.adopt(options.account, options.lastReport);
    this.mirror.listen(this.markets.map((_market, k) => this.host.listener(k)));
    this.#opens = this.markets.map(({ bars }, k) => new DueOpens(this.host, k, bars.series, bars.completed));
    this.#stand(nowMs);
  }

  /** Cash and open profit at the last closes (R5.3). */
  get equity(): number {
    const [book, ...others] = this.mirror.books as [Book, ...Book[]];
    return others.length > 0 ? this.mirror.account.equity : book.aloneAt(book.mark);
  }

  /** Whether the plan's start has been run. */
  get hasStarted(): boolean {
    return this.#opens[0]!.hasStarted;
  }

  /**
   * Before this time no opening and no closing of a minute brings anything about, unless something else is heard first:
   * no handler runs, nothing is asked for. -Infinity where the next one may.
   */
  get quietUntilMs(): number {
    if (!this.retries.isEmpty || this.#heldBack.length > 0) return Number.NEGATIVE_INFINITY;
    let untilMs = Number.POSITIVE_INFINITY;
    for (const [k, { bars }] of this.markets.entries()) {
      if (!bars.isOpen) return Number.NEGATIVE_INFINITY;
      untilMs = Math.min(untilMs, bars.closeMs, this.#opens[k]!.earliestMs(bars.series), this.mirror.earliestExpiryMs(k));
    }
    return untilMs;
  }

  /** Answers a word of the venue. What a handler throws comes out as it was thrown. */
  hear(word: VenueWord): readonly PlanCommand[] {
    this.mirror.nextWord();
    if (word.type !== "report" && word.type !== "closing") this.#hearHeldBack();
    switch (word.type) {
      case "opening":
        this.#closesBy(word.timeMs);
        this.#take(word.account);
        this.#opening(word.timeMs, word.symbols);
        break;
      case "closing":
        for (const { symbol, bar } of word.minutes) this.#marketOf(symbol)?.add(bar);
        this.#take(word.account);
        this.#closesBy(word.timeMs);
        this.#hearHeldBack();
        break;
      case "price":
        if (word.account) this.mirror.take(word.account);
        this.#price(word.symbol, word.timeMs, word.price);
        break;
      case "account":
        this.mirror.takeAfter(word.account, word.lastReport);
        break;
      case "report":
        if (word.event.kind === "limited" || this.#heldBack.length > 0) {
          this.#heldBack.push(word);
          break;
        }
        this.#happening(word.event.symbol, word.timeMs);
        this.mirror.hear(word);
        this.retries.told(word.event);
    }
    return this.#answer();
  }

  /** Why an order is not sent, or "". A plan that looks whether it is flat must not enter twice where word of its entry is missing. */
  #refusal(order: Order, symbol: string): string {
    if (order.intent === "exit") return this.#options.gate?.(order, symbol) ?? "";
    if (this.#isEnded) return "the watch has ended";
    const refusal = this.#options.gate?.(order, symbol) ?? "";
    if (refusal || !this.mirror.awaitsEntry(symbol)) return refusal;
    this.#options.onUnconfirmed?.(order, symbol, UNCONFIRMED);
    return UNCONFIRMED;
  }

  #hearHeldBack(): void {
    if (this.#heldBack.length === 0) return;
    const words = this.#heldBack.splice(0);
    this.mirror.hearAll(words);
    for (const { event } of words) this.retries.told(event);
  }

  #take(account: AccountReport | null): void {
    if (account) this.mirror.take(account);
    else this.mirror.stir();
  }

  /** The plan starts now where it comes in the middle of a bar; else with the next one. */
  begin(): readonly PlanCommand[] {
    const { bars } = this.markets[0]!;
    if (bars.isOpen) this.#opens[0]!.begin(bars.series, bars.completed);
    return this.#answer();
  }

  /** Somebody has said whether an order is to be sent. */
  settle(orderId: number, isAccepted: boolean, note: string): readonly PlanCommand[] {
    this.mirror.settle(orderId, isAccepted, note);
    return this.#answer();
  }

  /** The watch ends: the plan hears of it, and opens nothing any more. */
  end(): readonly PlanCommand[] {
    this.#isEnded = true;
    this.host.runEvent("end");
    return this.#answer();
  }

  /** Commands that have not been handed over, after a handler has failed. */
  takeCommands(): readonly PlanCommand[] {
    return this.#answer();
  }

  #answer(): readonly PlanCommand[] {
    const commands = this.#commands;
    this.#commands = [];
    return commands;
  }

  #marketOf(symbol: string): LiveMarket | undefined {
    return this.markets.find((market) => market.symbol === symbol);
  }

  // --- opens --------------------------------------------------------------------------------------------------------

  #opening(timeMs: number, symbols: readonly string[]): void {
    const areFirst = this.markets.map((market) => (symbols.includes(market.symbol) ? market.open(timeMs) : null));
    this.markets.forEach(({ bars }, k) => {
      const isFirst = areFirst[k];
      if (isFirst === null || isFirst === undefined) return;
      const bar = bars.completed;
      this.#place(k, timeMs, bar);
      this.mirror.expire(k, bar, timeMs);
      this.#opens[k]!.run(bars.series, { bar, isFirst, timeMs, closeMs: bars.frame.minuteClose(timeMs) });
      this.#sendAgain(k);
    });
  }

  // --- orders that the venue did not take ---------------------------------------------------------------------------

  #refused(feed: number, order: Order): void {
    if (!this.retries.refused(feed, order)) return;
    this.host.log("warning", `order ${order.id} was refused by the venue as well: it is not sent again`);
  }

  #sendAgain(feed: number): void {
    for (const retry of this.retries.take(feed)) {
      const { order, attempt, most } = retry;
      const { instrument, lots } = this.mirror.books[feed]!;
      // Case: what it was there to close has been closed meanwhile, or the watch has ended.
      if (order.intent === "exit" ? closableBy(lots, order, instrument) <= 0 : this.#isEnded) continue;
      if (order.intent !== "exit" && this.mirror.hasEnteredSince(instrument.symbol, order)) {
        this.host.log("notice", `order ${order.id} was refused by the venue; the plan has given another entry since: it is not sent again`);
        continue;
      }
      if (this.markets[feed]!.bars.completed >= order.expiresBar || this.#nowMs >= order.expiresTime) {
        this.host.log("notice", `order ${order.id} was refused by the venue, and its time in force is over: it is not sent again`);
        continue;
      }
      const times = most === Number.POSITIVE_INFINITY ? "" : ` (${attempt} of ${most} times)`;
      this.host.log("notice", `order ${order.id} was refused by the venue: it is sent again${times}`);
      this.retries.sent(retry, this.mirror.resend(feed, order));
    }
  }

  // --- inside a minute ----------------------------------------------------------------------------------------------

  #happening(symbol: string, timeMs: number): void {
    const k = this.markets.findIndex((market) => market.symbol === symbol);
    if (k < 0) return;
    const { bars } = this.markets[k]!;
    this.#place(k, timeMs, bars.isOpen ? bars.completed : bars.completed - 1);
  }

  #price(symbol: string, timeMs: number, price: number): void {
    const k = this.markets.findIndex((market) => market.symbol === symbol);
    if (k < 0 || !this.host.wantsPrice) return;
    const { bars } = this.markets[k]!;
    const bar = bars.completed;
    const forming = this.#forming[k]!.take(bars.series.time[bar]!, price);
    if (bar <= this.host.firstBars[k]!) return;
    this.#place(k, timeMs, bar);
    const scope: Scope = this.host.scopeOfFeed(k);
    scope.forming = forming;
    this.host.price(k, price);
    scope.forming = null;
  }

  // --- closes -------------------------------------------------------------------------------------------------------

  /** Bars that are completed by a time, in the order of their close times; at one time in declared order (R2). */
  #closesBy(timeMs: number): void {
    for (;;) {
      let nextMs = Number.POSITIVE_INFINITY;
      for (const { bars } of this.markets) if (bars.hasPrices) nextMs = Math.min(nextMs, bars.closeMs);
      if (nextMs > timeMs) break;
      const closed = this.markets.map((market) => market.completeBy(nextMs));
      this.#passBy(nextMs);
      this.#grow();
      closed.forEach((isClosed, k) => {
        if (isClosed) this.#mark(k);
      });
      if (this.#heldBack.length > 0) {
        this.#stand(nextMs);
        this.#number(nextMs);
        this.#hearHeldBack();
      }
      closed.forEach((isClosed, k) => {
        if (isClosed) this.#close(k, nextMs);
      });
    }
    this.#passBy(timeMs);
  }

  #passBy(timeMs: number): void {
    for (const { bars } of this.markets) bars.passBy(timeMs);
  }

  #close(k: number, timeMs: number): void {
    const bar = this.markets[k]!.bars.completed - 1;
    this.#stand(timeMs);
    this.#number(timeMs);
    if (k === 0) {
      this.host.placeAtClose(bar);
      this.#options.onEquity?.(timeMs, this.equity);
    }
    this.host.runClose(k, bar);
  }

  #grow(): void {
    this.host.grow(this.markets.map(({ bars, higher }) => ({ bars: bars.series, higher })));
  }

  // --- where it stands ----------------------------------------------------------------------------------------------

  #mark(k: number): void {
    const { series, completed } = this.markets[k]!.bars;
    const mark = completed > 0 ? series.close[completed - 1]! : Number.NaN;
    this.#marks[k] = mark;
    this.mirror.books[k]!.mark = mark;
  }

  /** Something happens on instrument k, in its bar `bar`. */
  #place(k: number, timeMs: number, bar: number): void {
    if (this.markets.length > 1) this.#stand(timeMs);
    else {
      this.#nowMs = timeMs;
      this.host.place(bar - 1, timeMs, bar);
    }
    this.#number(timeMs);
    this.mirror.books[k]!.barIndex = bar;
  }

  /** Every instrument's last completed bar is that of a time. */
  #stand(timeMs: number): void {
    this.#nowMs = timeMs;
    applyRates(this.#rates, this.mirror.books);
    const { series, completed } = this.markets[0]!.bars;
    const isOpen = series.time[completed]! <= timeMs;
    this.host.place(completed - 1, timeMs, isOpen ? completed : Math.max(0, completed - 1));
  }

  /** The bar, and the time, that orders sent now are of. */
  #number(timeMs: number): void {
    this.markets.forEach(({ bars }, k) => {
      const book = this.mirror.books[k]!;
      book.barIndex = bars.isOpen ? bars.completed : bars.completed - 1;
      book.timeMs = timeMs;
    });
  }

  /** The first bar on which an order sent now can fill. */
  #firstFillBar(k: number): number {
    const { bars } = this.markets[k]!;
    if (!bars.isOpen) return bars.completed;
    const next = bars.frame.nextMinute(this.mirror.fillsFrom(k, this.#nowMs));
    return next < bars.closeMs ? bars.completed : bars.completed + 1;
  }
}
