/**
 * An account at a simulated venue: books by the rules of a backtest, moved by minutes, for one or several owners. It is the
 * clock of a joint simulation (R2), taken one minute at a time: opens, paths, closes. Whatever happens is told to its owner
 * in the very order in which it does, and what the owner answers is done before anything else happens.
 */
import { Account } from "../engine/account.ts";
import { dayEndsOf, type LimitMemory } from "../engine/account-limits.ts";
import { Book } from "../engine/book.ts";
import { type BookSnapshot, isClosedBy, type Lot } from "../engine/lots.ts";
import { type Order, type OrderRequest, PLAIN_ORDER, type Side, type Trade } from "../engine/orders.ts";
import { LEGS } from "../engine/path-walker.ts";
import { applyRates, type RateSource } from "../engine/rates.ts";
import { costsIn, type EngineSettings } from "../engine/settings.ts";
import { walkLeg, walkPath } from "../engine/walk-path.ts";
import { EXPIRED } from "../engine/working-orders.ts";
import { BarFrame, type MinuteBar } from "../market/bar-frame.ts";
import type { Instrument } from "../market/instrument.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { ratesOf } from "../run/rates.ts";
import type { AccountEvent, AccountReport, BookReport, EventReport, LotReport, PlanCommand } from "./messages.ts";

export interface MinuteAccountOptions {
  readonly instruments: readonly Instrument[];
  readonly settings: EngineSettings;
  /** Closes of this timeframe are those at which equity is looked at: margin, ruin, rates. */
  readonly timeframe: string;
  readonly nowMs: number;
  /** The last known price ahead of a time, NaN for none: what is opened before its instrument has closed a bar here is worth that. */
  readonly priceBefore?: (symbol: string, timeMs: number) => number;
}

/** What something else than a plan opens under its owner's name is tagged with this. */
export const OTHER_TAG = "not the plan's";

/** Told of what happens, before anything else does. */
export type Tell = (owner: string, report: EventReport, timeMs: number) => void;
/** Told of each price inside a minute (R2.4). */
export type TellPrice = (symbol: string, timeMs: number, price: number) => void;

/** Everything of an account that outlives its process. */
export interface MinuteAccountSnapshot {
  readonly books: readonly BookSnapshot[];
  readonly draws: number;
  readonly owners: readonly OwnerState[];
  readonly numbers: readonly (readonly [number, OrderName])[];
  readonly dates: readonly (string | null)[];
  readonly marks: readonly number[];
  /** Minutes under way. */
  readonly minutes: readonly (OpenMinute | null)[];
  /** The last minute of each instrument while its bar is not over. */
  readonly last: readonly (MinuteBar | undefined)[];
  /** What was asked for while a book slept, in order. */
  readonly asked: readonly (readonly Asked[])[];
  /** Left out where the account has no limits. */
  readonly limits?: LimitMemory;
}

interface OwnerState {
  readonly name: string;
  commandsDone: number;
  lastOrderId: number;
  /** Orders that the account sent for it have numbers below zero. */
  lastOwnId: number;
  reports: number;
}

interface OrderName {
  readonly owner: string;
  readonly id: number;
}

interface OpenMinute {
  readonly bar: MinuteBar;
  readonly isSessionEnd: boolean;
  /** How much of its path has been walked. */
  legs: number;
}

interface Asked {
  readonly owner: string;
  readonly command: PlanCommand;
}

/** Faults of a venue, for practice. */
export interface Hindrance {
  /** Why an order is refused, or "". */
  refusal(order: OrderRequest): string;
  /** Whether only half of it is taken. */
  cuts(order: OrderRequest): boolean;
}

/** On the step, and no less than the least. */
const half = (quantity: number, { minQuantity, quantityStep }: Instrument): number =>
  Math.max(minQuantity, Math.floor(quantity / 2 / quantityStep + 1e-9) * quantityStep);

export class MinuteAccount {
  readonly instruments: readonly Instrument[];
  readonly account: Account;
  readonly books: readonly Book[];
  readonly #frames: readonly BarFrame[];
  readonly #rates: readonly (RateSource | null)[];
  readonly #chargesNights: readonly boolean[];
  readonly #tell: Tell;
  /** What a venue in trouble does with orders that are sent to it, in place of taking them. */
  hindrance: Hindrance | null = null;
  readonly #owners = new Map<string, OwnerState>();
  /** What each order is called by its owner, by the book's number. */
  readonly #names = new Map<number, OrderName>();
  /** Orders that worked when their owner was last told. */
  readonly #working = new Map<number, Order>();
  /** What was asked for while a book slept, but for orders, which it tells itself: it remembers acts, and these outlive it. */
  readonly #asked: Asked[][];
  /** The minute under way of each instrument, and the date of its session. */
  readonly #open: (OpenMinute | null)[];
  readonly #dates: (string | null)[];
  /** The time that is told: inside a minute, that of its open. */
  #nowMs: number;
  /** The moment that is being dealt with. */
  #momentMs: number;

  constructor(options: MinuteAccountOptions, tell: Tell, snapshot?: MinuteAccountSnapshot) {
    const { instruments, settings, timeframe, nowMs, priceBefore } = options;
    this.instruments = instruments;
    this.#tell = tell;
    this.#nowMs = this.#momentMs = nowMs;
    this.account = new Account(settings);
    this.books = instruments.map((instrument) => new Book(instrument, this.account, null));
    this.#frames = instruments.map(({ calendar }) => new BarFrame(calendar, timeframe, nowMs - 10 * DAY_MS, nowMs));
    this.account.byDays((timeMs) => dayEndsOf(this.#frames[0]!.sessions)(timeMs));
    this.#rates = ratesOf(instruments, settings, this.books);
    this.#chargesNights = instruments.map(({ symbol }) => {
      const { financingLong, financingShort } = costsIn(settings, symbol);
      return financingLong !== 0 || financingShort !== 0;
    });
    this.#asked = instruments.map(() => []);
    this.#open = instruments.map(() => null);
    this.#dates = instruments.map(() => null);
    this.books.forEach((book, k) => {
      const bar = this.#frames[k]!.placeOfMinute(nowMs);
      book.mark = priceBefore?.(this.#symbol(k), Math.min(nowMs, bar.time)) ?? Number.NaN;
      book.state.numberOf = (id) => this.#nameOf(id);
      book.listen({
        accepted: (order) => this.#accepted(k, order),
        filled: (fill, order) =>
          this.#report(order.owner, { kind: "filled", symbol: this.#symbol(k), fill: { ...fill, orderId: this.#nameOf(fill.orderId) } }),
        opened: (lot) => this.#opened(k, lot),
        closed: (trade) => this.#closed(k, trade),
        ended: (order) => this.#report(order.owner, { kind: "ended", symbol: this.#symbol(k), order: this.#named(order) }),
        limited: (hit) => {
          for (const owner of this.owners) this.#report(owner, { kind: "limited", symbol: this.#symbol(0), hit });
        },
        log: () => undefined,
      });
    });
    if (snapshot) this.#restore(snapshot);
  }

  #symbol(k: number): string {
    return this.instruments[k]!.symbol;
  }

  // --- owners -------------------------------------------------------------------------------------------------------

  #owner(name: string): OwnerState {
    let owner = this.#owners.get(name);
    if (!owner) {
      owner = { name, commandsDone: 0, lastOrderId: 0, lastOwnId: 0, reports: 0 };
      this.#owners.set(name, owner);
    }
    return owner;
  }

  /** Everybody who has given a command. */
  get owners(): string[] {
    return [...this.#owners.keys()];
  }

  /** How many commands of an owner have been dealt with. */
  commandsDone(name: string): number {
    return this.#owner(name).commandsDone;
  }

  /** Number of the last report to an owner. */
  lastReport(name: string): number {
    return this.#owner(name).reports;
  }

  #nameOf(id: number): number {
    return this.#names.get(id)?.id ?? id;
  }

  #named(order: Order): Order {
    return { ...order, id: this.#nameOf(order.id), owner: "" };
  }

  /** Everything of the account that an owner sees. */
  report(name: string): AccountReport {
    const { commandsDone, lastOrderId } = this.#owner(name);
    const { cash, limits } = this.account;
    const books = this.books.map((book, k) => this.#bookReport(book, k, name));
    return { cash, books, commandsDone, lastOrderId, ...(limits?.block && { block: limits.block }) };
  }

  #bookReport(book: Book, k: number, name: string): BookReport {
    return {
      symbol: this.#symbol(k),
      isAsleep: book.isAsleep,
      isInBar: book.inBar,
      pathPrice: book.state.pathPrice,
      fillsFromMs: this.#fillsFrom(book, k),
      lots: book.lots.filter(({ order }) => order.owner === name).map((lot) => this.#lotReport(lot)),
      orders: book.workingOrders().flatMap((order) => (order.owner === name ? this.#named(order) : [])),
      asleep: book.asleepOrders.flatMap(({ owner, id }) => (owner === name ? this.#nameOf(id) : [])),
    };
  }

  #fillsFrom(book: Book, k: number): number {
    const minute = this.#open[k];
    if (!minute) return this.#momentMs;
    return book.isAsleep ? this.#frames[k]!.minuteClose(minute.bar.time) : minute.bar.time;
  }

  #lotReport(lot: Lot): LotReport {
    const { order, side, quantity, entryPrice, entryTime, high, low, riskPerUnit, stop, stopReason, target } = lot;
    return {
      orderId: this.#nameOf(order.id),
      ...{ side, quantity, entryPrice, entryTime, tag: order.tag, line: order.line, high, low, riskPerUnit },
      ...{ stop: stop?.price ?? null, stopReason, target: target?.price ?? null, timeLimit: order.moves?.timeLimit ?? null },
    };
  }

  /** Whether an owner has anything open or waiting. */
  isIdle(name: string): boolean {
    return this.books.every(
      (book) => !book.lots.some(({ order }) => order.owner === name) && !book.workingOrders().some((order) => order.owner === name),
    );
  }

  #report(name: string, event: AccountEvent): void {
    const owner = this.#owner(name);
    const left: Order[] = [];
    for (const [id, order] of this.#working)
      if (order.owner === name && order.state !== "working") {
        left.push(this.#named(order));
        this.#working.delete(id);
      }
    this.#tell(name, { number: ++owner.reports, event, left, account: this.report(name) }, this.#nowMs);
  }

  #accepted(k: number, order: Order): void {
    if (this.#names.has(order.id)) {
      this.#working.set(order.id, order);
      return;
    }
    const owner = this.#owner(order.owner);
    this.#names.set(order.id, { owner: owner.name, id: --owner.lastOwnId });
    this.#working.set(order.id, order);
    this.#report(owner.name, { kind: "accepted", symbol: this.#symbol(k), order: this.#named(order) });
  }

  #opened(k: number, lot: Lot): void {
    // Its owner counts bars of its own: limits in bars come as commands.
    lot.dueBar = Number.POSITIVE_INFINITY;
    this.books[k]!.triggers.changed();
    this.#report(lot.order.owner, { kind: "opened", symbol: this.#symbol(k), lot: this.#lotReport(lot) });
  }

  #closed(k: number, trade: Trade): void {
    const { owner } = this.#names.get(trade.orderId) ?? { owner: "" };
    this.#report(owner, { kind: "closed", symbol: this.#symbol(k), trade: { ...trade, orderId: this.#nameOf(trade.orderId) } });
  }

  // --- commands -----------------------------------------------------------------------------------------------------

  /**
   * Does what an owner asks for. A command that was done before is passed over; one that comes ahead of another is not taken.
   * @returns whether it was new
   */
  command(name: string, number: number, command: PlanCommand): boolean {
    const owner = this.#owner(name);
    if (number !== owner.commandsDone + 1) return false;
    owner.commandsDone = number;
    const k = this.instruments.findIndex(({ symbol }) => symbol === command.symbol);
    const book = this.books[k];
    if (book) this.#do(owner, book, command);
    return true;
  }

  #do(owner: OwnerState, book: Book, command: PlanCommand): void {
    if (book.isAsleep && command.kind !== "submit") this.#asked[this.books.indexOf(book)]!.push({ owner: owner.name, command });
    if (command.kind === "exits") return void book.setExits(command.which, command.price, command.mayLoosen, owner.name);
    if (command.kind === "submit") return this.#submit(owner, book, command);
    if (command.kind === "due") {
      for (const lot of book.lots)
        if (lot.order.owner === owner.name && this.#nameOf(lot.order.id) === command.orderId) lot.dueTime = book.timeMs;
      return book.triggers.changed();
    }
    const order = book
      .workingOrders()
      .find((candidate) => candidate.owner === owner.name && this.#nameOf(candidate.id) === command.orderId);
    if (!order) return;
    if (command.kind === "cancel") book.cancel(order, command.note, command.isExpiry ? "expired" : "cancelled");
    else book.modify(order, command.change.price, command.change.quantity, command.change.limitPrice);
  }

  #submit(owner: OwnerState, book: Book, { orderId, ticket }: Extract<PlanCommand, { kind: "submit" }>): void {
    if (orderId <= owner.lastOrderId) return;
    owner.lastOrderId = orderId;
    // Case: a refused order ends inside submit, before its number is known; the next number is the one it will get.
    this.#names.set(this.account.sequence + 1, { owner: owner.name, id: orderId });
    const { hindrance } = this;
    const sent: OrderRequest = { ...ticket, owner: owner.name };
    const taken = hindrance?.cuts(sent) ? { ...sent, quantity: half(sent.quantity, book.instrument) } : sent;
    // What is given by hand is not hindered.
    book.state.gate = hindrance && (() => hindrance.refusal(sent));
    // Case: its instrument has not opened for a while.
    book.timeMs = Math.max(book.timeMs, this.#nowMs);
    // Bars are its owner's: how many it is good for is kept for the owner's next start.
    book.submit(taken, book.barIndex + ticket.expiresBar - ticket.submittedBar, ticket.expiresTime);
    book.state.gate = null;
  }

  /** An order given by hand: it closes what an owner has open on an instrument, at the next price. */
  closeByHand(name: string, symbol: string, tag: string): void {
    const book = this.books.find(({ instrument }) => instrument.symbol === symbol);
    if (!book) return;
    for (const order of book.workingOrders()) if (order.owner === name) this.#cancel(name, book, this.#nameOf(order.id), tag);
    for (const side of [1, -1] as const) this.#byHand(name, symbol, { side, quantity: Number.POSITIVE_INFINITY, intent: "exit", tag });
  }

  /** Something else than the owner's plan trades under its name, at the next price. */
  tradeByOther(name: string, symbol: string, side: Side, quantity: number): void {
    this.#byHand(name, symbol, { side, quantity, intent: "enter", tag: OTHER_TAG });
  }

  /** What that has opened is closed at the next price; orders and everything else stay. */
  closeOthers(name: string, symbol: string, tag: string): void {
    for (const side of [1, -1] as const)
      this.#byHand(name, symbol, { side, quantity: Number.POSITIVE_INFINITY, intent: "exit", tag, onlyTag: OTHER_TAG });
  }

  #byHand(
    name: string,
    symbol: string,
    order: Pick<OrderRequest, "side" | "quantity" | "intent" | "tag"> & { readonly onlyTag?: string },
  ): void {
    const book = this.books.find(({ instrument }) => instrument.symbol === symbol);
    const sent = { ...PLAIN_ORDER, kind: "market" as const, ...order, owner: name };
    if (!book || (order.intent === "exit" && !book.lots.some((lot) => isClosedBy(lot, sent)))) return;
    book.submit(sent, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY);
  }

  /** Cancels one order of an owner by hand. */
  cancelByHand(name: string, orderId: number, note: string): boolean {
    for (const book of this.books)
      for (const order of book.workingOrders())
        if (order.owner === name && this.#nameOf(order.id) === orderId) {
          this.#cancel(name, book, orderId, note);
          return true;
        }
    return false;
  }

  #cancel(name: string, book: Book, orderId: number, note: string): void {
    this.#do(this.#owner(name), book, { kind: "cancel", symbol: book.instrument.symbol, orderId, note, isExpiry: false });
  }

  // --- the clock ----------------------------------------------------------------------------------------------------

  /** Minutes are about to open: nights are charged, and times are those of the open. What is sent now fills at it. */
  opening(timeMs: number, minutes: ReadonlyMap<string, MinuteBar>): void {
    this.#nowMs = this.#momentMs = timeMs;
    applyRates(this.#rates, this.books);
    this.books.forEach((book, k) => {
      const bar = minutes.get(this.#symbol(k));
      if (!bar) return;
      const frame = this.#frames[k]!;
      const session = frame.sessionOf(timeMs);
      book.barIndex = timeMs / MINUTE_MS;
      book.timeMs = timeMs;
      this.#open[k] = { bar, legs: 0, isSessionEnd: frame.minuteClose(timeMs) >= frame.sessions.closeMs[session]! };
      this.#night(k, frame.sessions.dates[session]!);
      this.#overdue[k] = book.workingOrders().filter(({ expiresTime }) => timeMs >= expiresTime);
    });
  }

  /** Orders whose time was over when a minute opened. Their owner ends them; where nobody does, they end here. */
  readonly #overdue: Order[][] = [];

  #night(k: number, date: string): void {
    const before = this.#dates[k];
    this.#dates[k] = date;
    const book = this.books[k]!;
    if (!before || before === date || !this.#chargesNights[k] || book.lots.length === 0) return;
    book.chargeNights(Math.max(1, Math.round((Date.parse(date) - Date.parse(before)) / DAY_MS)));
  }

  /** What can fill at the opens of minutes does. */
  fillOpens(timeMs: number): void {
    this.books.forEach((book, k) => {
      const minute = this.#open[k];
      if (!minute || minute.bar.time !== timeMs) return;
      for (const order of this.#overdue[k]!) book.cancel(order, EXPIRED, "expired");
      const { open, high, low, spread } = minute.bar;
      if (spread > 0) book.setSpread(spread);
      book.fillAtOpen(open, high - low);
      if (this.books.length === 1) return;
      book.endBar();
      book.sleep();
    });
  }

  /**
   * Minutes that are over by a time walk their paths, or so many legs of them while they are still under way. An instrument
   * goes on only once the one before it is through, or nothing can happen on that one: things happen in the same order as
   * where every path is walked at once (R2.2).
   */
  walk(timeMs: number, legs = LEGS): void {
    this.#momentMs = timeMs;
    const quiet: number[] = [];
    const through = (): void => {
      for (const k of quiet.splice(0)) this.#walkMinute(k, LEGS);
    };
    for (let k = 0; k < this.books.length; k++) {
      const book = this.books[k]!;
      if (!this.#isWalking(k, timeMs)) {
        if (legs === LEGS) this.#endSession(book, k, timeMs);
        else if (book.closing.length > 0) break;
        continue;
      }
      if (legs < LEGS && this.#isQuiet(k)) {
        quiet.push(k);
        continue;
      }
      through();
      this.#walkMinute(k, legs);
      if (legs < LEGS) break;
    }
    if (legs === LEGS) this.#nowMs = timeMs;
    // Nobody can tell whether the price of the last one has moved on already: let it be where it is.
    else if (quiet.length === 1) this.#walkMinute(quiet[0]!, legs);
  }

  #isWalking(k: number, timeMs: number): boolean {
    const minute = this.#open[k];
    return !!minute && this.#frames[k]!.minuteClose(minute.bar.time) <= timeMs;
  }

  /** Whether nothing can happen along the path of a minute that is not begun. */
  #isQuiet(k: number): boolean {
    const { bar, isSessionEnd, legs } = this.#open[k]!;
    const { triggers, waiting, closing, onPrice } = this.books[k]!;
    if (legs > 0 || onPrice !== null || waiting.length > 0 || (isSessionEnd && closing.length > 0)) return false;
    return bar.high < triggers.upLevel && bar.low > triggers.downLevel;
  }

  #walkMinute(k: number, legs: number): void {
    const book = this.books[k]!;
    const minute = this.#open[k]!;
    const { open, high, low, close, time } = minute.bar;
    this.#nowMs = time;
    if (minute.legs === 0) {
      applyRates(this.#rates, this.books);
      book.stir();
    }
    if (minute.legs === 0 && legs === LEGS) walkPath(book, open, high, low, close);
    else for (; minute.legs < legs; minute.legs++) walkLeg(book, minute.legs, open, high, low, close);
    if (legs < LEGS) return;
    if (minute.isSessionEnd && book.closing.length > 0) book.fillAtSessionClose(close);
    book.endBar();
    this.#wake(k);
    this.#open[k] = null;
    this.#last[k] = minute.bar;
  }

  /** Between two moments: what has been asked for since the last fills where price stands. */
  settle(): void {
    this.books.forEach((book, k) => {
      if (this.#open[k] && book.inBar && !book.isAsleep) book.settle();
    });
  }

  /** A session's last minutes are missing, and it is over: what waits for its close fills at the last price of its last bar. */
  #endSession(book: Book, k: number, timeMs: number): void {
    const bar = this.#last[k];
    if (!bar || book.closing.length === 0) return;
    const frame = this.#frames[k]!;
    const { session, closeTime } = frame.placeOfMinute(bar.time);
    const closeMs = frame.sessions.closeMs[session]!;
    if (closeTime < closeMs || timeMs < closeMs) return;
    this.#nowMs = bar.time;
    applyRates(this.#rates, this.books);
    book.stir();
    book.fillAtSessionClose(bar.close);
    book.endBar();
    this.#wake(k);
  }

  #wake(k: number): void {
    this.#asked[k]!.length = 0;
    this.books[k]!.wake();
  }

  /** The last minute of each instrument. */
  readonly #last: (MinuteBar | undefined)[] = [];

  /** A time at which bars of the account's timeframe may close: equity is looked at. */
  close(timeMs: number): void {
    let areMarked = false;
    // All that closes now counts, whichever is looked at first.
    this.books.forEach((book, k) => {
      const bar = this.#last[k];
      if (!bar || this.#frames[k]!.placeOfMinute(bar.time).closeTime > timeMs) return;
      this.#last[k] = undefined;
      book.mark = bar.close;
      areMarked = true;
    });
    if (!areMarked) return;
    for (const book of this.books) book.timeMs = timeMs;
    applyRates(this.#rates, this.books);
    const { account } = this;
    if (account.settings.margin && account.mustClose) for (const book of this.books) book.callMargin();
    account.noteClose(account.equity, timeMs);
  }

  /** Somebody is told of each price inside a minute; null for nobody. */
  listenToPrices(tell: TellPrice | null): void {
    this.books.forEach((book, k) => {
      book.onPrice = tell ? (price) => tell(this.#symbol(k), book.timeMs, price) : null;
    });
  }

  // --- over a restart -----------------------------------------------------------------------------------------------

  snapshot(): MinuteAccountSnapshot {
    this.#forget();
    return {
      books: this.books.map((book) => book.snapshot()),
      draws: this.account.draws,
      owners: [...this.#owners.values()],
      numbers: [...this.#names],
      dates: [...this.#dates],
      marks: this.books.map(({ mark }) => mark),
      minutes: this.#open.map((minute) => minute && { ...minute }),
      last: [...this.#last],
      asked: structuredClone(this.#asked),
      ...(this.account.limits && { limits: this.account.limits.memory }),
    };
  }

  #restore({ books, draws, owners, numbers, dates, marks, minutes, last, asked, limits }: MinuteAccountSnapshot): void {
    if (limits) this.account.limits?.restore(limits);
    books.forEach((book, k) => {
      const minute = minutes[k] ?? null;
      this.#last[k] = last[k];
      this.#open[k] = minute && { ...minute };
      this.books[k]!.restore(book);
      if (Number.isFinite(marks[k])) this.books[k]!.mark = marks[k]!;
      for (const order of this.books[k]!.workingOrders()) this.#working.set(order.id, order);
    });
    this.account.skipDraws(draws);
    for (const owner of owners) this.#owners.set(owner.name, { ...owner });
    for (const [id, name] of numbers) this.#names.set(id, name);
    this.account.lastOwnId = Math.min(0, ...this.#names.keys());
    dates.forEach((date, k) => {
      this.#dates[k] = date;
    });
    asked.forEach((commands, k) => {
      const book = this.books[k]!;
      const isStirred = !book.isAsleep;
      // What was asked for while it slept waits for the end of the path, also where that is being walked.
      book.sleep();
      for (const { owner, command } of commands) this.#do(this.#owner(owner), book, command);
      if (isStirred) book.stir();
    });
  }

  /** Names of orders that are over and have no lot open. */
  #forget(): void {
    const kept = new Set<number>();
    for (const book of this.books) {
      for (const { order } of book.lots) kept.add(order.id);
      for (const { id } of book.workingOrders()) kept.add(id);
    }
    for (const id of this.#names.keys()) if (!kept.has(id)) this.#names.delete(id);
  }
}
