/** One account: cash, the books of its instruments, and what they share: order numbers, margin, seeded slippage. */
import { Random } from "../random.ts";
import type { Lot } from "./lots.ts";
import type { Order } from "./orders.ts";
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
  watchRuin(share: number | null): void;
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
  /** Positions have changed since the prices were worked out at which equity would be gone. */
  isRuinStale = true;
  readonly #random: Random;

  constructor(settings: EngineSettings) {
    this.settings = settings;
    this.cash = settings.cash;
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

  /** Cash and open profit, each instrument at its last known close (R5.3). */
  get equity(): number {
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
    let equity = this.cash;
    for (const book of this.books) equity += book.profitAt(book.priceNow);
    return equity;
  }

  /** Whether the account is wiped out and the run is to end. */
  get isOver(): boolean {
    return this.settings.ruin === "stop" && !Number.isNaN(this.ruinMs);
  }

  /**
   * Takes note of equity at a close. The first that is 0 or less is the account's ruin: with it everything is closed at the
   * next open, unless the run goes on.
   */
  noteClose(equity: number, timeMs: number): void {
    if (!(equity <= 0) || !Number.isNaN(this.ruinMs)) return;
    this.ruinMs = timeMs;
    if (this.isOver) for (const book of this.books) book.endAll();
  }

  /**
   * Sets the path prices within which no close of any instrument can use up equity, so that bars between them need not be
   * looked at. Several positions share what is left equally.
   */
  watchRuin(): void {
    if (!this.isRuinStale) return;
    this.isRuinStale = false;
    let held = 0;
    for (const book of this.books) if (book.units !== 0) held++;
    const share = held > 0 ? Math.max(0, this.equity) / held : 0;
    for (const book of this.books) book.watchRuin(held === 1 ? null : share);
  }

  /** Margin that open lots tie up at the prices of now (R5.5). */
  get marginUsed(): number {
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
    let open = 0;
    if (positions === "netting") {
      if (book.lots.some((lot) => lot.order.owner === order.owner)) return "";
      for (const other of this.books) if (other.lots.length > 0) open++;
    } else
      for (const other of this.books)
        for (const lot of other.lots) if (order.intent !== "reverse" || other !== book || lot.side === order.side) open++;
    return open < maxPositions ? "" : `${open} positions are open, the most is ${maxPositions} (R6)`;
  }
}
