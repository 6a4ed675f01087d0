/**
 * One account: cash, the books of its instruments, and what they share: order numbers, margin, seeded slippage. Where
 * several plans trade on one account each has a ledger of its own, and what decides for all is asked of the pool.
 */
import { Random } from "../random.ts";
import { type DayEnds, type EntryBlock, type LimitHit, LimitWatch } from "./account-limits.ts";
import type { Lot } from "./lots.ts";
import type { ExitReason, Order } from "./orders.ts";
import type { EngineSettings } from "./settings.ts";

/** What an account knows of the book of one of its instruments. */
export interface AccountBook {
  readonly lots: readonly Lot[];
  readonly units: number;
  readonly basisMoney: number;
  /** The last known close; NaN before there is one. */
  readonly mark: number;
  readonly priceNow: number;
  profitAt(price: number): number;
  marginOf(quantity: number, price: number): number;
  endAll(): void;
  obey(hit: LimitHit): void;
  /** null: what it asks for is done. */
  tellLimit(hit: LimitHit | null): void;
  watchRuin(share: number | null): void;
  /** Whether a close is at, or beyond, the price up to which its position may lose. */
  reachesRuin(close: number): boolean;
}

/** What the ledger of one plan asks where several plans trade on one account (`AccountPool`). */
export interface LedgerPool {
  readonly ledgers: Account[];
  readonly books: readonly AccountBook[];
  readonly equity: number;
  readonly equityNow: number;
  readonly marginUsed: number;
  readonly isOver: boolean;
  readonly limits: LimitWatch | null;
  isRuinStale: boolean;
  noteClose(equity: number, timeMs: number): void;
  /** As of an account. */
  watchesClose(book: AccountBook | null, close: number, timeMs: number): boolean;
}

export class Account {
  readonly settings: EngineSettings;
  readonly books: AccountBook[] = [];
  cash: number;
  /** Number of the last order; orders of all books count on. */
  sequence = 0;
  trades = 0;
  /** Close at which equity was first 0 or less (R5.6), UTC milliseconds; NaN before. */
  ruinMs = Number.NaN;
  /** What it shares with the ledgers of other plans; null where it is an account of its own. */
  readonly pool: LedgerPool | null;
  readonly poolRate: number;
  /** What it may lose; where plans share an account, that of all together counts. */
  readonly limits: LimitWatch | null;
  /** What the venue that has the account says of entries. */
  told: EntryBlock | null = null;
  /** Positions have changed since the prices were worked out at which equity would be gone. */
  #isRuinStale = true;
  readonly #random: Random;
  /** Of an order that a limit sent, 0 or below. */
  lastOwnId = 0;

  /** @param poolRate money of the pool for one of this ledger's */
  constructor(settings: EngineSettings, pool: LedgerPool | null = null, poolRate = 1) {
    this.settings = settings;
    this.pool = pool;
    this.poolRate = poolRate;
    pool?.ledgers.push(this);
    this.cash = settings.cash;
    this.limits = pool ? pool.limits : settings.limits ? new LimitWatch(settings.limits, settings.cash) : null;
    // A stream of its own: a plan that draws numbers does not move its slippage.
    this.#random = new Random(settings.seed ^ 0x5a17);
  }

  /** Numbers drawn so far. */
  draws = 0;

  /** From 0 up to 1, from the run's seed. */
  draw(): number {
    this.draws++;
    return this.#random.next();
  }

  /** After a restart: goes on behind so many draws. */
  skipDraws(count: number): void {
    while (this.draws < count) this.draw();
  }

  /** Cash and open profit, each instrument at its last known close (R5.3), of all plans on the account. */
  get equity(): number {
    return this.pool ? this.pool.equity / this.poolRate : this.ownEquity;
  }

  /** The same of this ledger alone. */
  get ownEquity(): number {
    let equity = this.cash;
    for (let k = 0; k < this.books.length; k++) {
      const book = this.books[k]!;
      // A mark is looked up: not for what is flat.
      if (book.units === 0 && book.basisMoney === 0) continue;
      const { mark } = book;
      // Case: opened before its instrument has closed a bar; it has made nothing yet.
      if (!Number.isNaN(mark)) equity += book.profitAt(mark);
    }
    return equity;
  }

  /** The same at the prices of this very moment inside the bars. */
  get equityNow(): number {
    return this.pool ? this.pool.equityNow / this.poolRate : this.ownEquityNow;
  }

  get ownEquityNow(): number {
    let equity = this.cash;
    for (const book of this.books) equity += book.profitAt(book.priceNow);
    return equity;
  }

  /** Whether the account is wiped out and the run is to end. */
  get isOver(): boolean {
    if (this.pool) return this.pool.isOver;
    return this.settings.ruin === "stop" && !Number.isNaN(this.ruinMs);
  }

  /**
   * Takes note of equity at a close. The first that is 0 or less is the account's ruin: with it everything is closed at the
   * next open, unless the run goes on.
   */
  noteClose(equity: number, timeMs: number): void {
    if (this.pool) return this.pool.noteClose(equity * this.poolRate, timeMs);
    if (this.limits) for (const hit of this.limits.noteClose(equity, timeMs)) this.obey(hit);
    if (!(equity <= 0) || !Number.isNaN(this.ruinMs)) return;
    this.ruinMs = timeMs;
    if (this.isOver) for (const book of this.books) book.endAll();
  }

  /**
   * Whether equity at a close is to be noted: not where it can't be gone, and has no limits.
   * @param book whose bar has closed; null where it may have moved what others are worth too
   */
  watchesClose(book: AccountBook | null, close: number, timeMs: number): boolean {
    return this.pool ? this.pool.watchesClose(book, close, timeMs) : true;
  }

  /** A limit is hit: every book does what it asks for. */
  obey(hit: LimitHit): void {
    this.books[0]?.tellLimit(hit);
    for (const book of this.books) book.obey(hit);
    this.books[0]?.tellLimit(null);
  }

  /** The sessions by which a day of losses ends; where plans share the account, those of the first of them. */
  byDays(dayEnds: DayEnds): void {
    if (!this.pool || this.pool.ledgers[0] === this) this.limits?.byDays(dayEnds);
  }

  /**
   * The number of the next order. What a limit sends is counted below zero, so that a plan's own have the numbers that they
   * have at a venue (R8.2).
   */
  numberFor(reason: ExitReason): number {
    if (reason === "account limit" && this.limits) return --this.lastOwnId;
    return ++this.sequence;
  }

  /** Why an entry that is sent at a time is refused, or "" (R5.8). */
  entryProblem(timeMs: number): string {
    const block = this.told ?? this.limits?.block ?? null;
    return block && timeMs <= block.untilMs ? block.text : "";
  }

  /** Positions, or what they are worth, have changed. */
  staleRuin(): void {
    if (this.pool) this.pool.isRuinStale = true;
    else this.#isRuinStale = true;
  }

  /**
   * Sets the path prices within which no close of any instrument can use up equity, so that bars between them need not be
   * looked at. Several positions share what is left equally. A pool does it for all ledgers.
   */
  watchRuin(): void {
    if (!this.#isRuinStale) return;
    this.#isRuinStale = false;
    let held = 0;
    for (const book of this.books) if (book.units !== 0) held++;
    const share = held > 0 ? Math.max(0, this.equity) / held : 0;
    for (const book of this.books) book.watchRuin(held === 1 ? null : share);
  }

  /** Margin that open lots tie up at the prices of now (R5.5). */
  get marginUsed(): number {
    return this.pool ? this.pool.marginUsed / this.poolRate : this.ownMarginUsed;
  }

  get ownMarginUsed(): number {
    let sum = 0;
    for (const book of this.books) for (const lot of book.lots) sum += book.marginOf(lot.quantity, book.priceNow);
    return sum;
  }

  /** Reason an order may not open anything, or "" (R5.5, R6). */
  refusal(book: AccountBook, order: Order, closing: number, opening: number, price: number): string {
    return this.#positionsProblem(book, order) || (this.settings.margin ? this.#marginProblem(book, closing, opening, price) : "");
  }

  /** Reason the margin check refuses a fill, or "" (R5.5). */
  #marginProblem(book: AccountBook, closing: number, opening: number, price: number): string {
    const needed = this.marginUsed - book.marginOf(closing, book.priceNow) + book.marginOf(opening, price);
    const equity = this.equityNow;
    if (needed <= equity + 1e-9) return "";
    return `margin ${needed.toFixed(2)} is more than equity ${equity.toFixed(2)} (R5.5)`;
  }

  /** Whether equity at this close is under the maintenance level. */
  get mustClose(): boolean {
    const { margin } = this.settings;
    if (!margin) return false;
    const used = this.marginUsed;
    return used > 0 && this.equity < (margin.maintenancePercent / 100) * used;
  }

  /** Reason the limit of positions refuses a fill, or "" (R6). */
  #positionsProblem(book: AccountBook, order: Order): string {
    const { maxPositions, positions } = this.settings;
    if (maxPositions === null) return "";
    const books = this.pool ? this.pool.books : this.books;
    let open = 0;
    if (positions === "netting") {
      if (book.lots.some((lot) => lot.order.owner === order.owner)) return "";
      for (const other of books) if (other.lots.length > 0) open++;
    } else
      for (const other of books)
        for (const lot of other.lots) if (order.intent !== "reverse" || other !== book || lot.side === order.side) open++;
    return open < maxPositions ? "" : `${open} positions are open, the most is ${maxPositions} (R6)`;
  }
}
