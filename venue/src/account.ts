/** One practice account: a book that lives by the venue's minutes, and what has happened on it since the last report. */
import {
  Book,
  type BookListener,
  type BookSnapshot,
  Account as CoreAccount,
  type EngineSettings,
  type Fill,
  type Instrument,
  type Order,
  type OrderChange,
  type OrderTicket,
  PLAIN_ORDER,
  type Trade,
  walkBar,
} from "@plan-tester/core";
import type { AccountReport, VenueBar, VenueMessage } from "./protocol.ts";

export interface AccountSnapshot {
  readonly id: string;
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  readonly book: BookSnapshot;
  readonly clientIds: readonly (readonly [number, number])[];
  readonly minutes: number;
}

export class Account implements BookListener {
  readonly id: string;
  readonly instrument: Instrument;
  readonly #settings: EngineSettings;
  readonly #book: Book;
  /** The plan's own order numbers by the book's. */
  readonly #clientIds: Map<number, number>;
  #minutes: number;
  #lastPrice: number | null = null;
  #fills: Fill[] = [];
  #trades: Trade[] = [];
  #ended: Order[] = [];

  constructor(id: string, instrument: Instrument, settings: EngineSettings, snapshot?: AccountSnapshot) {
    this.id = id;
    this.instrument = instrument;
    this.#settings = settings;
    this.#book = new Book(instrument, new CoreAccount(settings), this);
    this.#clientIds = new Map(snapshot?.clientIds ?? []);
    this.#minutes = snapshot?.minutes ?? 0;
    if (snapshot) this.#book.restore(snapshot.book);
  }

  snapshot(): AccountSnapshot {
    return {
      id: this.id,
      instrument: this.instrument,
      settings: this.#settings,
      book: this.#book.snapshot(),
      clientIds: [...this.#clientIds],
      minutes: this.#minutes,
    };
  }

  get symbol(): string {
    return this.instrument.symbol;
  }

  // --- commands -----------------------------------------------------------------------------------------------

  submit(clientId: number, ticket: OrderTicket, nowMs: number): void {
    this.#book.timeMs = nowMs;
    // Case: a refused order ends inside submit, before its number is known; the next number is the one it will get.
    this.#clientIds.set(this.#book.snapshot().sequence + 1, clientId);
    this.#book.submit(ticket, Number.POSITIVE_INFINITY, ticket.expiresTime);
  }

  cancel(clientId: number): boolean {
    const order = this.#orderOf(clientId);
    return order ? this.#book.cancel(order) : false;
  }

  modify(clientId: number, { price, quantity, limitPrice }: OrderChange): boolean {
    const order = this.#orderOf(clientId);
    return order ? this.#book.modify(order, price, quantity, limitPrice) === "" : false;
  }

  setExits(which: "stop" | "target", price: number | null): boolean {
    return this.#book.setExits(which, price, true);
  }

  /** Cancels what works and closes what is open at the next price. */
  flatten(nowMs: number): void {
    for (const order of this.#book.workingOrders()) this.#book.cancel(order, "flattened by hand");
    if (this.#book.units === 0) return;
    this.#book.timeMs = nowMs;
    this.#book.submit(
      {
        ...PLAIN_ORDER,
        side: this.#book.units > 0 ? -1 : 1,
        kind: "market",
        quantity: Number.POSITIVE_INFINITY,
        intent: "exit",
        tag: "flattened by hand",
      },
      Number.POSITIVE_INFINITY,
      Number.POSITIVE_INFINITY,
    );
  }

  #orderOf(clientId: number): Order | undefined {
    return this.#book.workingOrders().find((order) => this.#clientIds.get(order.id) === clientId);
  }

  // --- the feed -----------------------------------------------------------------------------------------------

  bar(bar: VenueBar): void {
    const book = this.#book;
    book.barIndex = this.#minutes++;
    book.timeMs = bar.time;
    if (bar.spread > 0) book.setSpread(bar.spread);
    book.expire(Number.NEGATIVE_INFINITY, bar.time);
    walkBar(book, bar.open, bar.high, bar.low, bar.close);
    book.endBar();
    book.mark = bar.close;
    this.#lastPrice = bar.close;
  }

  /** What has happened since the last report, with the account as it is now; null when nothing has. */
  takeReport(force = false): Extract<VenueMessage, { type: "account" }> | null {
    if (!force && this.#fills.length + this.#trades.length + this.#ended.length === 0) return null;
    const [fills, trades, ended] = [this.#fills, this.#trades, this.#ended];
    [this.#fills, this.#trades, this.#ended] = [[], [], []];
    return { type: "account", account: this.report(), fills, trades, ended: ended.map((order) => this.#named(order)) };
  }

  report(): AccountReport {
    const book = this.#book;
    return {
      id: this.id,
      symbol: this.symbol,
      cash: book.account.cash,
      equity: book.account.cash + (this.#lastPrice === null ? 0 : book.profitAt(this.#lastPrice)),
      lastPrice: this.#lastPrice,
      lots: book.lots.map((lot) => ({
        orderId: this.#clientIds.get(lot.order.id) ?? lot.order.id,
        side: lot.side,
        quantity: lot.quantity,
        entryPrice: lot.entryPrice,
        entryTime: lot.entryTime,
        tag: lot.order.tag,
        high: lot.high,
        low: lot.low,
        stop: lot.stop?.price ?? null,
        target: lot.target?.price ?? null,
      })),
      orders: book.workingOrders().map((order) => this.#named(order)),
    };
  }

  #named(order: Order): Order {
    return { ...order, id: this.#clientIds.get(order.id) ?? order.id };
  }

  filled(fill: Fill): void {
    this.#fills.push(fill);
  }

  closed(trade: Trade): void {
    this.#trades.push(trade);
  }

  opened(): void {
    // The report carries all open lots.
  }

  ended(order: Order): void {
    this.#ended.push(order);
  }

  log(): void {
    // Grid notices belong to the plan's own log.
  }
}
