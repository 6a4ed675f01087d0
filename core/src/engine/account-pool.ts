/**
 * One account on which several plans trade. Each plan has a ledger of its own (`Account`): what it made is exactly what it
 * would have made alone. Equity, margin, the limit of positions and ruin are those of all together.
 */
import type { Account, AccountBook, LedgerPool } from "./account.ts";
import type { EngineSettings } from "./settings.ts";

export class AccountPool implements LedgerPool {
  readonly ledgers: Account[] = [];
  /** Of the account; each ledger begins with the cash of its own settings, of which only changes count. */
  readonly cash: number;
  readonly #ruin: EngineSettings["ruin"];
  /** Close at which equity of all was first 0 or less (R5.6), UTC milliseconds; NaN before. */
  ruinMs = Number.NaN;
  isRuinStale = true;

  constructor(cash: number, ruin: EngineSettings["ruin"]) {
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
  noteClose(timeMs: number): void {
    if (!(this.equity <= 0) || !Number.isNaN(this.ruinMs)) return;
    this.ruinMs = timeMs;
    for (const ledger of this.ledgers) ledger.ruinMs = timeMs;
    if (this.isOver) for (const book of this.books) book.endAll();
  }

  /** As of an account: what is left is shared equally among the positions of all. */
  watchRuin(): void {
    if (!this.isRuinStale) return;
    this.isRuinStale = false;
    let held = 0;
    for (const { books } of this.ledgers) for (const book of books) if (book.units !== 0) held++;
    const share = held > 0 ? Math.max(0, this.equity) / held : 0;
    for (const { books, poolRate } of this.ledgers) for (const book of books) book.watchRuin(share / poolRate);
  }
}
