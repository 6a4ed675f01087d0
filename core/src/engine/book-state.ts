/**
 * What the parts of a book share: whose it is, where price and time are, what stands at a price, the open lots, and who is
 * told. It decides nothing.
 */
import type { Costs, Instrument } from "../market/instrument.ts";
import type { Account } from "./account.ts";
import type { BookCounts, BookListener, Lot, Outcome } from "./lots.ts";
import type { Order } from "./orders.ts";
import { costsIn, type EngineSettings } from "./settings.ts";
import type { TradeTotals } from "./trade-totals.ts";
import { Triggers } from "./triggers.ts";

export class BookState {
  readonly instrument: Instrument;
  readonly account: Account;
  readonly settings: EngineSettings;
  readonly costs: Costs;
  readonly lots: Lot[] = [];
  readonly triggers: Triggers;
  readonly counts: BookCounts = { orders: 0, trades: 0, offGrid: 0 };
  listener: BookListener | null;

  // --- now ----------------------------------------------------------------------------------------------------

  barIndex = -1;
  #timeMs = 0;
  /** Close times while it stands at the close of bar `barIndex`; looked up when somebody asks for the time. */
  #closeTimes: Float64Array | null = null;
  /** Path price of now, for orders that start to work inside a bar. */
  pathPrice = Number.NaN;
  /** Whether price is at an open or along a path, so that market orders fill at once. */
  inBar = false;
  /** Range of the bar in price units, for slippage. */
  barRange = 0;
  /** Account currency for one unit of the instrument's currency. */
  rate = 1;

  // --- what is open -------------------------------------------------------------------------------------------

  /** Signed units and the sum of signed units x entry price, kept for marking to market. */
  units = 0;
  basisMoney = 0;
  /** Units of all lots, long and short added up: what a position is worth. */
  grossUnits = 0;

  // --- what is kept -------------------------------------------------------------------------------------------

  /** Keeps no history of exit levels: for runs of which nobody looks at a single trade. */
  isLean = false;
  /** Takes the sums of trades in place of trades; a fill then lasts only until the next. */
  totals: TradeTotals | null = null;
  /** Roots whose result depends on the path of this bar, with the money at stake. */
  dependent: Map<number, number> | null = null;
  /** On a fork: what each root order comes to. */
  outcome: Outcome | null = null;

  // --- who is asked or told -----------------------------------------------------------------------------------

  /** On a watch: why an order is not let through now, or "". */
  gate: ((order: Order) => string) | null = null;
  /** What an order is called by who sent it: an account of several owners numbers them anew. */
  numberOf: (id: number) => number = (id) => id;
  /** Set where several instruments share a clock: told before orders or exits are changed. */
  onTouched: (() => void) | null = null;
  /**
   * Makes up for quiet bars that were crossed without looking at extremes; set by whoever crosses them. Called before the
   * open lots change, and when somebody asks for their highest or lowest price.
   */
  settleQuiet: (() => void) | null = null;
  /** Forgets them: nobody will ask for the extremes of a lot that is gone. */
  dropQuiet: (() => void) | null = null;

  constructor(instrument: Instrument, account: Account, listener: BookListener | null) {
    const { settings } = account;
    this.instrument = instrument;
    this.account = account;
    this.settings = settings;
    this.listener = listener;
    this.costs = costsIn(settings, instrument.symbol);
    this.triggers = new Triggers(this.lots, instrument.tickSize, settings);
    this.triggers.setSpread(this.costs.spreadTicks * instrument.tickSize);
  }

  get timeMs(): number {
    return this.#closeTimes ? this.#closeTimes[this.barIndex]! : this.#timeMs;
  }

  set timeMs(timeMs: number) {
    this.#timeMs = timeMs;
    this.#closeTimes = null;
  }

  /** At the close of a bar. */
  standAtClose(barIndex: number, closeTimes: Float64Array): void {
    this.barIndex = barIndex;
    this.#closeTimes = closeTimes;
  }

  /** Account currency for a move of 1.0 of one unit. */
  get pointMoney(): number {
    return this.instrument.pointValue * this.rate;
  }

  /** Takes note that price went between `low` and `high` with nothing happening. */
  touch(low: number, high: number): void {
    const { lots } = this;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      if (high > lot.high) lot.high = high;
      if (low < lot.low) lot.low = low;
    }
  }

  /** An order has come to its end without a fill. */
  end(order: Order, state: "cancelled" | "refused" | "expired", note: string): void {
    order.state = state;
    order.endBar = this.barIndex;
    order.note = note;
    this.listener?.ended(order);
  }

  /** On a fork: what became of the order that all this comes from. */
  report(rootId: number, event: string, money: number): void {
    if (!this.outcome) return;
    const entry = this.outcome.get(rootId) ?? { trail: "", money: 0 };
    entry.trail += `${event};`;
    entry.money += money;
    this.outcome.set(rootId, entry);
  }
}
