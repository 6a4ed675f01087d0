/**
 * One account on which several plans trade. Each plan has a ledger of its own (`Account`): what it made is exactly what it
 * would have made alone. Equity, margin, the limit of positions and ruin are those of all together.
 */
import type { Account, AccountBook, LedgerPool } from "./account.ts";
import { type AccountLimits, LimitWatch } from "./account-limits.ts";
import type { EngineSettings } from "./settings.ts";

/** A position as it was when it was told how much it may lose. */
interface Allowed {
  readonly book: AccountBook;
  readonly rate: number;
  units: number;
  basis: number;
  /** Pool money that it may lose from then on, less what it stood at: what it stands at on top of this is still to be lost. */
  promised: number;
}

/** A new position is given no less than this part of an equal share: else what is left is shared again among all. */
const LEAST_PART = 0.25;
/** A little is promised to none, so that rounded sums don't promise more than there is. */
const PROMISED_PART = 1 - 1e-6;

export class AccountPool implements LedgerPool {
  readonly ledgers: Account[] = [];
  /** Of the account; each ledger begins with the cash of its own settings, of which only changes count. */
  readonly cash: number;
  readonly #ruin: EngineSettings["ruin"];
  readonly limits: LimitWatch | null;
  /** Close at which equity of all was first 0 or less (R5.6), UTC milliseconds; NaN before. */
  ruinMs = Number.NaN;
  isRuinStale = true;
  /** Of each ledger, in their order. */
  #allowed: Allowed[][] = [];
  /** Whether what positions may still lose is no more than what there is: then equity is not gone before one has lost its part. */
  #isCovered = false;
  /** A position may have lost its part: each is looked at. */
  #looksAtAll = false;
  /** Until then bars close that were under way when positions were last told what they may lose: they are looked at by none. */
  #underWayMs = Number.NEGATIVE_INFINITY;
  /** Any bar is over within so many milliseconds. */
  longestBarMs = Number.POSITIVE_INFINITY;
  /** Equity when it was last shared among all. */
  #shared = 0;

  constructor(cash: number, ruin: EngineSettings["ruin"], limits: AccountLimits | null = null) {
    this.limits = limits && new LimitWatch(limits, cash);
    this.cash = this.#shared = cash;
    this.#ruin = ruin;
  }

  get books(): AccountBook[] {
    return this.ledgers.flatMap(({ books }) => books);
  }

  get equity(): number {
    let equity = this.cash;
    for (const ledger of this.ledgers) equity += (ledger.ownEquity - ledger.settings.cash) * ledger.poolRate;
    return equity;
  }

  get equityNow(): number {
    let equity = this.cash;
    for (const ledger of this.ledgers) equity += (ledger.ownEquityNow - ledger.settings.cash) * ledger.poolRate;
    return equity;
  }

  get marginUsed(): number {
    let sum = 0;
    for (const ledger of this.ledgers) sum += ledger.ownMarginUsed * ledger.poolRate;
    return sum;
  }

  get isOver(): boolean {
    return this.#ruin === "stop" && !Number.isNaN(this.ruinMs);
  }

  /** As of an account: with the first close at which nothing is left everything of every plan is closed. */
  noteClose(equity: number, timeMs: number): void {
    if (this.limits) for (const hit of this.limits.noteClose(equity, timeMs)) for (const ledger of this.ledgers) ledger.obey(hit);
    if (!(equity <= 0) || !Number.isNaN(this.ruinMs)) return;
    this.ruinMs = timeMs;
    for (const ledger of this.ledgers) ledger.ruinMs = timeMs;
    if (this.isOver) for (const book of this.books) book.endAll();
  }

  /** At a close at which a position has not lost all that it may, something of equity is left: it is not added up. */
  watchesClose(book: AccountBook | null, close: number, timeMs: number): boolean {
    if (timeMs <= this.#underWayMs || !this.#isCovered || book === null || book.reachesRuin(close))
      this.#looksAtAll = this.isRuinStale = true;
    return this.isRuinStale || this.limits !== null;
  }

  /**
   * Every position has a price up to which it can't use up equity, whatever the others lose within theirs. A position that
   * has changed is given a part of what the others don't need; only where that is too little is all shared again, for a price
   * that moves makes its instrument look for its next moment again.
   */
  watchRuin(nowMs: number): void {
    if (!this.isRuinStale) return;
    this.isRuinStale = false;
    if (this.#allowed.length < this.ledgers.length) this.#allowed = this.ledgers.map(allowedOf);
    // What is promised to none: of equity, but without adding up what stands at the same prices on both sides.
    let free = this.cash;
    let [changed, count] = [0, 0];
    for (let m = 0; m < this.ledgers.length; m++) {
      const ledger = this.ledgers[m]!;
      free += (ledger.cash - ledger.settings.cash) * ledger.poolRate;
      for (const one of this.#allowed[m]!) {
        count++;
        if (one.book.units === 0) {
          if (one.units !== 0) this.#allow(one, 0);
          // Long and short lots that offset each other stand at the same whatever the price is.
          free += one.book.profitAt(0) * one.rate;
        } else if (hasChanged(one)) {
          changed++;
          free += profitOf(one);
        } else {
          if (this.#looksAtAll && one.promised + profitOf(one) <= 0) return this.#shareAgain(nowMs);
          free -= one.promised;
        }
      }
    }
    this.#looksAtAll = false;
    // Who closed with more than it was allowed to lose, through a gap or by costs, has lost what was promised to others.
    if (free <= 0) return this.#shareAgain(nowMs);
    this.#isCovered = true;
    if (changed === 0) return;
    this.#underWayMs = nowMs + this.longestBarMs;
    const equal = this.#shared / count;
    const share = Math.min(equal, (free * PROMISED_PART) / changed);
    if (equal <= 0 || share < equal * LEAST_PART) return this.#shareAgain(nowMs);
    for (const ledger of this.#allowed) for (const one of ledger) if (one.book.units !== 0 && hasChanged(one)) this.#allow(one, share);
  }

  #shareAgain(nowMs: number): void {
    this.#underWayMs = nowMs + this.longestBarMs;
    const { equity } = this;
    this.#shared = equity;
    this.#looksAtAll = false;
    this.#isCovered = equity > 0;
    let held = 0;
    for (const ledger of this.#allowed) for (const { book } of ledger) if (book.units !== 0) held++;
    const share = (Math.max(0, equity) * PROMISED_PART) / held;
    for (const ledger of this.#allowed) for (const one of ledger) if (one.book.units !== 0) this.#allow(one, share);
  }

  #allow(one: Allowed, share: number): void {
    const { book, rate } = one;
    one.units = book.units;
    one.basis = book.basisMoney;
    one.promised = share - profitOf(one);
    book.watchRuin(share / rate);
  }
}

const allowedOf = ({ books, poolRate }: Account): Allowed[] =>
  books.map((book) => ({ book, rate: poolRate, units: 0, basis: 0, promised: 0 }));

const hasChanged = ({ book, units, basis }: Allowed): boolean => book.units !== units || book.basisMoney !== basis;

/** Pool money that a position stands at; nothing before its instrument has closed a bar. */
function profitOf({ book, rate }: Pick<Allowed, "book" | "rate">): number {
  const { mark } = book;
  return Number.isNaN(mark) ? 0 : book.profitAt(mark) * rate;
}
