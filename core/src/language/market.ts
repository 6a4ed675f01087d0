/** One market of a run as a plan sees it: bars, orders and position of one instrument. */
import type { Instrument } from "../market/instrument.ts";
import { parseTimeframe } from "../market/timeframe.ts";
import { newColumn, startAt } from "../studies/growth.ts";
import { Column } from "./columns.ts";
import { AccountView, Orders } from "./order-handle.ts";
import type { Position } from "./position.ts";
import { higherScope, type Scope } from "./scope.ts";
import type { NumberEntry } from "./study-store.ts";
import type { Trading } from "./trading.ts";

/** The scope of a plan's bars, undefined when it is something else. */
export let scopeOfBars: (bars: unknown) => Scope | undefined;

const FIELDS = ["open", "high", "low", "close", "volume", "spread"] as const;

export function priceEntry(scope: Scope, field: (typeof FIELDS)[number]): NumberEntry {
  // Data without spreads have none.
  return scope.store.number(field, 0, [], (bars) => ({ values: bars[field] ?? newColumn(bars.length, 0).fill(0, startAt(0)), first: 0 }));
}

/** The bars of one series. */
export class PlanBars {
  readonly #scope: Scope;
  readonly #instrument: Instrument;
  readonly #columns = new Map<string, Column>();

  static {
    scopeOfBars = (bars) => (typeof bars === "object" && bars !== null && #scope in bars ? bars.#scope : undefined);
  }

  constructor(scope: Scope, instrument: Instrument) {
    this.#scope = scope;
    this.#instrument = instrument;
  }

  #column(field: (typeof FIELDS)[number]): Column {
    let column = this.#columns.get(field);
    if (!column) {
      column = new Column(this.#scope, priceEntry(this.#scope, field));
      this.#columns.set(field, column);
    }
    return column;
  }

  get open(): Column {
    return this.#column("open");
  }

  get high(): Column {
    return this.#column("high");
  }

  get low(): Column {
    return this.#column("low");
  }

  get close(): Column {
    return this.#column("close");
  }

  get volume(): Column {
    return this.#column("volume");
  }

  get spread(): Column {
    return this.#column("spread");
  }

  get timeframe(): string {
    return this.#scope.store.bars.timeframe;
  }

  get instrument(): object {
    const { symbol, name, tickSize, pipSize, pointValue, decimals, minQuantity, quantityStep, currency } = this.#instrument;
    return { symbol, name, tickSize, pipSize, pointValue, decimals, minQuantity, quantityStep, currency };
  }

  /** The same instrument in a higher timeframe; a column of it gives the value of its last completed bar (R1.5). */
  at(timeframe: string): PlanBars {
    const text = String(timeframe);
    parseTimeframe(text);
    if (text === this.timeframe) return this;
    return new PlanBars(higherScope(this.#scope.base ?? this.#scope, text), this.#instrument);
  }
}

/** Everything of one market that a plan can reach. */
export class Market {
  readonly bars: PlanBars;
  readonly #trading: Trading;
  readonly #orders: Orders;
  readonly #onClose: (handler: unknown) => void;

  constructor(bars: PlanBars, trading: Trading, onClose: (handler: unknown) => void) {
    this.bars = bars;
    this.#trading = trading;
    this.#orders = new Orders(trading.run.broker, () => trading.plansOrders());
    this.#onClose = onClose;
  }

  get symbol(): string {
    return this.#trading.run.instrument.symbol;
  }

  get enter(): unknown {
    return this.#trading.enter;
  }

  get exit(): unknown {
    return this.#trading.exit;
  }

  get position(): Position {
    return this.#trading.position;
  }

  get orders(): Orders {
    return this.#orders;
  }

  get account(): AccountView {
    return new AccountView(this.#trading.run.broker);
  }

  /** Runs at the close of each bar of this market. */
  onBarClose(handler: unknown): void {
    this.#onClose(handler);
  }
}
