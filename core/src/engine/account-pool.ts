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
  /** Pool money that it may lose from then on, and what it stood at. */
  share: number;
  profit: number;
}

/** A new position is given no less than this part of an equal share: else what is left is shared again among all. */
const LEAST_PART = 0.25;

export class AccountPool implements LedgerPool {
  readonly ledgers: Account[] = [];
  /** Of the account; each ledger begins with the cash of its own settings, of which only changes count. */
  readonly cash: number;
  readonly #ruin: EngineSettings["ruin"];
  readonly limits: LimitWatch | null;
  /** Close at which equity of all was first 0 or less (R5.6), UTC milliseconds; NaN before. */
  ruinMs = Number.NaN;
  isRuinStale = true;
  #allowed: Allowed[] = [];

  constructor(cash: number, ruin: EngineSettings["ruin"], limits: AccountLimits | null = null) {
    this.limits = limits && new LimitWatch(limits, cash);
    this.cash = cash;
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

  /**
   * Every position has a price up to which it can't use up equity, whatever the others lose within theirs. A position that
   * has changed is given a part of what the others don't need; only where that is too little is all shared again, for a price
   * that moves makes its instrument look for its next moment again.
   */
  watchRuin(): void {
    if (!this.isRuinStale) return;
    this.isRuinStale = false;
    const allowed = this.#all();
    const equity = this.equity;
    let [promised, changed] = [0, 0];
    for (let i = 0; i < allowed.length; i++) {
      const one = allowed[i]!;
      const { units } = one.book;
      if (units === 0) {
        if (one.units !== 0) this.#allow(one, 0);
        continue;
      }
      if (units !== one.units || one.book.basisMoney !== one.basis) changed++;
      else {
        const left = one.share + profitOf(one) - one.profit;
        // It has reached its price.
        if (left <= 0) return this.#shareAgain(equity);
        promised += left;
      }
    }
    // Who closed with more than it was allowed to lose, through a gap or by costs, has lost what was promised to others.
    if (promised > equity) return this.#shareAgain(equity);
    if (changed === 0) return;
    const equal = equity / allowed.length;
    const share = Math.min(equal, (equity - promised) / changed);
    if (share < equal * LEAST_PART) return this.#shareAgain(equity);
    for (const one of allowed)
      if (one.book.units !== 0 && (one.book.units !== one.units || one.book.basisMoney !== one.basis)) this.#allow(one, share);
  }

  #all(): Allowed[] {
    if (this.#allowed.length === 0)
      this.#allowed = this.ledgers.flatMap(({ books, poolRate }) =>
        books.map((book) => ({ book, rate: poolRate, units: 0, basis: 0, share: 0, profit: 0 })),
      );
    return this.#allowed;
  }

  #shareAgain(equity: number): void {
    const allowed = this.#all();
    const held = allowed.filter(({ book }) => book.units !== 0).length;
    for (const one of allowed) if (one.book.units !== 0) this.#allow(one, Math.max(0, equity) / held);
  }

  #allow(one: Allowed, share: number): void {
    const { book, rate } = one;
    one.units = book.units;
    one.basis = book.basisMoney;
    one.share = share;
    one.profit = profitOf(one);
    book.watchRuin(share / rate);
  }
}

/** Pool money that a position stands at; nothing before its instrument has closed a bar. */
function profitOf({ book, rate }: Allowed): number {
  const { mark } = book;
  return Number.isNaN(mark) ? 0 : book.profitAt(mark) * rate;
}
