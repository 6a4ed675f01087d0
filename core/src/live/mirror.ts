/**
 * A plan's account at a venue, as the plan sees it: books by the same rules as in a backtest, in which price never moves.
 * What the plan asks for is checked and done here at once and sent on as commands; fills, and all that follows from them,
 * are the venue's word, which takes the place of what was here. Commands that the venue had not dealt with when it spoke are
 * done again on top of it.
 */
import { Account } from "../engine/account.ts";
import { Book } from "../engine/book.ts";
import type { BookListener, LotSnapshot } from "../engine/lots.ts";
import { type Order, PLAIN_ORDER, type Trade } from "../engine/orders.ts";
import type { EngineSettings } from "../engine/settings.ts";
import type { Instrument } from "../market/instrument.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import type { AccountEvent, AccountReport, BookReport, EventReport, LotReport, PlanCommand } from "./messages.ts";
import { SendingBroker } from "./sending-broker.ts";

/** What a mirror needs of the run around it. */
export interface MirrorRun {
  send(command: PlanCommand): void;
  /** Why an order is not let through now, or "". */
  gate(order: Order, symbol: string): string;
  /** Whether an order waits for somebody's word before it is sent. */
  mustAsk(order: Order): boolean;
  /** The venue has not taken an order. */
  refused(feed: number, order: Order): void;
  /** The bar of the run's timeframe in which a time lies. */
  barOf(feed: number, timeMs: number): number;
}

interface OnItsWay {
  readonly number: number;
  /** The word of the venue that it answers. */
  readonly word: number;
  readonly command: PlanCommand;
}

export class AccountMirror {
  readonly account: Account;
  readonly books: readonly Book[];
  readonly brokers: readonly SendingBroker[];
  readonly #run: MirrorRun;
  readonly #listeners: BookListener[] = [];
  /** Orders that work, by number. */
  readonly #orders = new Map<number, Order>();
  /** Those that wait for somebody's word: the venue does not know of them. */
  readonly #asked = new Map<number, Book>();
  #onItsWay: OnItsWay[] = [];
  /** When the plan last gave an entry, by instrument and side. */
  readonly #lastEntryMs = new Map<string, number>();
  /** As in `BookReport`, of each instrument. */
  readonly #fillsFromMs: number[];
  #commands = 0;
  #word = 0;
  #lastReport = 0;
  /** The venue's word is being taken over: what changes now is not the plan's doing. */
  #isTaking = false;
  #isResending = false;

  constructor(instruments: readonly Instrument[], settings: EngineSettings, run: MirrorRun) {
    this.#run = run;
    this.account = new Account(settings);
    this.books = instruments.map((instrument) => new Book(instrument, this.account, null, true));
    this.#fillsFromMs = this.books.map(() => Number.NEGATIVE_INFINITY);
    this.brokers = this.books.map((book) => {
      book.state.gate = (order) => (this.#isTaking ? "" : run.gate(order, book.instrument.symbol));
      return new SendingBroker(book, (command) => {
        if (!("orderId" in command) || !this.#asked.has(command.orderId)) this.#send(command);
      });
    });
  }

  /** Who hears of what happens on the book of each instrument. */
  listen(listeners: readonly BookListener[]): void {
    this.#listeners.push(...listeners);
    this.books.forEach((book, k) => {
      const told = listeners[k]!;
      book.listen({
        ...told,
        accepted: (order) => {
          this.#submit(book, order);
          told.accepted?.(order);
        },
        ended: (order) => {
          this.#orders.delete(order.id);
          if (!this.#asked.delete(order.id) && order.state !== "refused") this.#sendCancel(book, order);
          told.ended(order);
        },
      });
    });
  }

  // --- what the plan asks for ---------------------------------------------------------------------------------------

  #send(command: PlanCommand): void {
    if (this.#isTaking) return;
    this.#onItsWay.push({ number: ++this.#commands, word: this.#word, command });
    this.#run.send(command);
  }

  #submit(book: Book, order: Order): void {
    this.#orders.set(order.id, order);
    if (!this.#isResending && order.intent !== "exit")
      this.#lastEntryMs.set(`${book.instrument.symbol} ${order.side}`, order.submittedTime);
    // What was agreed to once is not asked again.
    if (!this.#isResending && this.#run.mustAsk(order)) this.#asked.set(order.id, book);
    else this.#sendOrder(book, order);
  }

  #sendOrder({ instrument }: Book, order: Order): void {
    const { id, state: _state, note: _note, fillPrice: _price, fillTime: _time, fillBar: _bar, endBar: _end, ...ticket } = order;
    this.#send({ kind: "submit", symbol: instrument.symbol, orderId: id, ticket });
  }

  /** An order that the venue did not take is sent once more, under a number of its own. */
  resend(feed: number, order: Order): Order {
    this.#isResending = true;
    try {
      return this.books[feed]!.submit(order, order.expiresBar, order.expiresTime);
    } finally {
      this.#isResending = false;
    }
  }

  /** Another word of the venue is answered from here on. */
  nextWord(): void {
    this.#word++;
  }

  /** Whether an entry that answered an earlier word may never have reached the venue: its fate has to be known first. */
  awaitsEntry(symbol: string): boolean {
    return this.#onItsWay.some(
      ({ word, command }) =>
        word < this.#word && command.kind === "submit" && command.symbol === symbol && command.ticket.intent !== "exit",
    );
  }

  /** Whether the plan has given another entry of that side since an order was sent. */
  hasEnteredSince(symbol: string, { side, submittedTime }: Order): boolean {
    return (this.#lastEntryMs.get(`${symbol} ${side}`) ?? Number.NEGATIVE_INFINITY) > submittedTime;
  }

  /** Orders that wait for somebody's word, in the order in which they were given. */
  get asked(): readonly { readonly symbol: string; readonly order: Order }[] {
    return [...this.#asked].map(([id, { instrument }]) => ({ symbol: instrument.symbol, order: this.#orders.get(id)! }));
  }

  /** Somebody has said whether an order is to be sent; one that is over by now stays so. */
  settle(orderId: number, isAccepted: boolean, note: string): void {
    const book = this.#asked.get(orderId);
    const order = this.#orders.get(orderId);
    if (!book || !order) return;
    if (!isAccepted) return void book.cancel(order, note);
    this.#asked.delete(orderId);
    this.#sendOrder(book, order);
  }

  #sendCancel({ instrument }: Book, { id, note, state }: Order): void {
    this.#send({ kind: "cancel", symbol: instrument.symbol, orderId: id, note, isExpiry: state === "expired" });
  }

  /** When a working order's time is over next; Infinity for never. */
  earliestExpiryMs(feed: number): number {
    return this.books[feed]!.workingOrders().reduce((earliest, order) => Math.min(earliest, order.expiresTime), Number.POSITIVE_INFINITY);
  }

  /** A bar, or a minute in it, opens: what was good for a number of bars or until a time is over (R3.4, R3.6). */
  expire(feed: number, bar: number, timeMs: number): void {
    const book = this.books[feed]!;
    book.expire(bar, timeMs);
    for (const lot of book.lots) if (bar >= lot.dueBar) this.#send({ kind: "due", symbol: book.instrument.symbol, orderId: lot.order.id });
  }

  // --- what the venue says ------------------------------------------------------------------------------------------

  /** Everything of an account after a start: orders, commands and reports count on from there. */
  adopt(report: AccountReport, lastReport: number): void {
    this.#commands = report.commandsDone;
    this.#lastReport = lastReport;
    this.account.sequence = report.lastOrderId;
    this.take(report);
  }

  /** The same after the line was broken: reports up to one are in it. What it has no longer works no more. */
  takeAfter(report: AccountReport, lastReport: number): void {
    this.#lastReport = Math.max(this.#lastReport, lastReport);
    const working = new Set(report.books.flatMap(({ orders }) => orders.map(({ id }) => id)));
    const sent = new Set(
      this.#onItsWay.flatMap(({ number, command }) => (number > report.commandsDone && command.kind === "submit" ? command.orderId : [])),
    );
    for (const [id, order] of [...this.#orders])
      if (!working.has(id) && !sent.has(id) && !this.#asked.has(id)) {
        order.state = "cancelled";
        order.note = "the venue has it no longer";
        this.#orders.delete(id);
      }
    this.take(report);
  }

  /** The first time from which an order sent at a time can fill. */
  fillsFrom(feed: number, nowMs: number): number {
    return Math.max(nowMs, this.#fillsFromMs[feed]!);
  }

  /** A moment of which the venue says nothing, for there is nothing open or waiting: whatever opened before is over. */
  stir(): void {
    for (const book of this.books) {
      book.state.inBar = false;
      book.stir();
    }
  }

  /** The account as the venue has it now. */
  take(report: AccountReport): void {
    this.#isTaking = true;
    try {
      this.account.cash = report.cash;
      this.account.told = report.block ?? null;
      this.#onItsWay = this.#onItsWay.filter(({ number }) => number > report.commandsDone);
      this.books.forEach((book, feed) => {
        const told = report.books.find(({ symbol }) => symbol === book.instrument.symbol);
        if (told) this.#takeBook(book, feed, told);
      });
    } finally {
      this.#isTaking = false;
    }
  }

  #takeBook(book: Book, feed: number, report: BookReport): void {
    const { symbol, lots, orders, isAsleep, isInBar, pathPrice } = report;
    this.#fillsFromMs[feed] = report.fillsFromMs;
    const mine = this.#onItsWay.map(({ command }) => command).filter((command) => command.symbol === symbol);
    const ended = new Set(
      mine.flatMap((command) => (command.kind === "cancel" && !this.#orders.has(command.orderId) ? command.orderId : [])),
    );
    const working = orders.filter(({ id }) => !ended.has(id)).map((order) => this.#orderOf(feed, order));
    const asleep = working.filter(({ id }) => report.asleep.includes(id));
    for (const [id, owner] of this.#asked) if (owner === book) working.push(this.#orders.get(id)!);
    for (const command of mine) {
      const order = "orderId" in command ? this.#orders.get(command.orderId) : undefined;
      if (!order) continue;
      if (command.kind === "submit" && !working.includes(order)) {
        working.push(order);
        if (isAsleep) asleep.push(order);
      }
      if (command.kind === "modify" && (!isAsleep || asleep.includes(order))) Object.assign(order, command.change);
    }
    book.take(
      lots.map((lot) => this.#lotOf(feed, lot)),
      working,
      asleep,
    );
    book.state.inBar = isInBar;
    book.state.pathPrice = pathPrice;
    if (isAsleep) return book.sleep();
    book.stir();
    for (const command of mine) if (command.kind === "exits") book.setExits(command.which, command.price, true);
  }

  #orderOf(feed: number, told: Order): Order {
    const known = this.#orders.get(told.id);
    const { kind, price, limitPrice, quantity } = told;
    if (known) return Object.assign(known, { kind, price, limitPrice, quantity });
    // Case: from before a start. Its bars are counted in those of now.
    const submittedBar = this.#run.barOf(feed, told.submittedTime);
    const order = { ...told, submittedBar, expiresBar: submittedBar + (told.expiresBar - told.submittedBar) };
    this.#orders.set(told.id, order);
    return order;
  }

  #lotOf(feed: number, told: LotReport): LotSnapshot {
    const { orderId, side, quantity, entryPrice, entryTime, tag, line, high, low, riskPerUnit, stop, stopReason, target, timeLimit } = told;
    const entryBar = this.#run.barOf(feed, entryTime);
    return {
      ...BARE_LOT,
      order: { ...ENTRY_ORDER, id: orderId, side, tag, line },
      ...{ side, quantity, entryPrice, entryTime, entryBar, high, low, riskPerUnit, stopReason },
      dueBar: timeLimit && "bars" in timeLimit ? entryBar + timeLimit.bars : Number.POSITIVE_INFINITY,
      stopPrice: stop,
      targetPrice: target,
    };
  }

  /** Something has happened. A report that has been heard before changes nothing. */
  hear(report: EventReport): void {
    this.hearAll([report]);
  }

  /** Things that happened together: the plan hears of the first once all of them are known. */
  hearAll(reports: readonly EventReport[]): void {
    const fresh = reports.filter(({ number }) => number > this.#lastReport);
    const last = fresh.at(-1);
    if (!last) return;
    this.#lastReport = last.number;
    const ended = new Map<AccountEvent, Order | undefined>();
    for (const { event, left } of fresh) {
      const { barIndex } = this.books[this.#feedOf(event)]!;
      if (event.kind === "ended") ended.set(event, this.#orders.get(event.order.id));
      for (const order of left) this.#settle(order, barIndex);
      // Case: the venue has refused it, so that it never worked there.
      if (event.kind === "ended") this.#settle(event.order, barIndex);
      if (event.kind === "accepted") this.#orders.set(event.order.id, { ...event.order, submittedBar: barIndex });
    }
    this.take(last.account);
    for (const { event } of fresh) this.#tell(event, ended.get(event));
  }

  #feedOf({ symbol }: AccountEvent): number {
    return this.books.findIndex(({ instrument }) => instrument.symbol === symbol);
  }

  /** @param known the order that has ended; undefined where the plan has ended it itself, and has heard of it */
  #tell(event: AccountEvent, known: Order | undefined): void {
    const feed = this.#feedOf(event);
    const [book, listener] = [this.books[feed]!, this.#listeners[feed]!];
    const { barIndex } = book;
    switch (event.kind) {
      case "accepted":
        return listener.accepted?.(this.#orders.get(event.order.id)!);
      case "filled":
        return listener.filled({ ...event.fill, barIndex }, { ...ENTRY_ORDER, id: event.fill.orderId, side: event.fill.side });
      case "opened":
        return listener.opened(book.lots.findLast(({ order }) => order.id === event.lot.orderId)!);
      case "closed":
        return listener.closed(this.#inBars(feed, event.trade, barIndex));
      case "limited":
        return listener.limited?.(event.hit);
      case "ended":
        if (!known) return;
        listener.ended(known);
        if (known.state === "refused") this.#run.refused(feed, known);
    }
  }

  /** An order has stopped working at the venue. */
  #settle(told: Order, barIndex: number): void {
    const own = this.#orders.get(told.id);
    if (!own) return;
    const { state, note, kind, price, limitPrice, quantity, fillPrice, fillTime } = told;
    Object.assign(own, { state, note, kind, price, limitPrice, quantity, fillPrice, fillTime, endBar: barIndex });
    if (state === "filled") own.fillBar = barIndex;
    this.#orders.delete(told.id);
  }

  /** A venue counts minutes; the plan counts bars of its timeframe. */
  #inBars(feed: number, trade: Trade, exitBar: number): Trade {
    const entryBar = this.#run.barOf(feed, trade.entryTime);
    return {
      ...trade,
      ...{ entryBar, exitBar, barsHeld: exitBar - entryBar },
      rails: trade.rails.map((point) => ({ ...point, barIndex: this.#run.barOf(feed, point.barIndex * MINUTE_MS) })),
    };
  }
}

/** What a plan's side needs of the order that opened a lot. */
const ENTRY_ORDER = {
  ...PLAIN_ORDER,
  kind: "market",
  quantity: 0,
  intent: "enter",
  state: "filled",
  note: "",
  submittedBar: -1,
  submittedTime: Number.NaN,
  expiresBar: Number.POSITIVE_INFINITY,
  expiresTime: Number.POSITIVE_INFINITY,
  fillPrice: Number.NaN,
  fillTime: Number.NaN,
  fillBar: -1,
  endBar: -1,
} as const;

/** What only the venue keeps of a lot. */
const BARE_LOT = {
  commissionPerUnit: 0,
  spreadPerUnit: 0,
  slippagePerUnit: 0,
  financingPerUnit: 0,
  trail: null,
  pendingMoves: [],
  dueTime: Number.POSITIVE_INFINITY,
  targetIsOff: false,
  stopIsHit: false,
  isOnEntryPath: false,
  pathDependent: false,
  atStake: 0,
  rails: [],
};
