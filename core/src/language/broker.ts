/** What a plan needs of whatever carries out its orders: the book of a backtest, or the mirror of an account at a venue. */
import type { Book } from "../engine/book.ts";
import type { Lot } from "../engine/lots.ts";
import type { Order, OrderRequest, Side } from "../engine/orders.ts";
import { PlanTesterError } from "../errors.ts";

export interface BrokerLot {
  readonly side: Side;
  readonly quantity: number;
  readonly entryPrice: number;
  readonly entryBar: number;
  readonly entryTime: number;
  /** The order that opened it. */
  readonly order: { readonly tag: string };
  /** Highest and lowest path price since the entry. */
  readonly high: number;
  readonly low: number;
  readonly stop: { readonly price: number } | null;
  readonly target: { readonly price: number } | null;
}

/** Everything is one owner's: plans that share an account see and touch only what is theirs. */
export interface Broker {
  /** Signed units of the open position. */
  readonly units: number;
  /** Mean entry price, NaN when flat. */
  readonly averagePrice: number;
  readonly cash: number;
  /** Cash and open profit at the last closes, of the whole account. */
  readonly equity: number;
  /** Account currency for a move of 1.0 of one unit. */
  readonly pointMoney: number;
  readonly lots: readonly BrokerLot[];
  /** Money that the open lots make at a price. */
  profitAt(price: number): number;
  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order;
  cancel(order: Order): boolean;
  /** Changes a working order; why not, or "". */
  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string;
  /** Sets stop or target of every open lot. */
  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean;
  workingOrders(): readonly Order[];
  /** The first bar on which an order that is sent now can fill; null where it is the one after the last completed bar. */
  firstFillBar?(): number | null;
  /** Brings highest and lowest price of the lots up to date where that is left until asked for. */
  settleExtremes?(): void;
}

/** A broker with the money of another that does nothing. */
export const idleBroker = ({ cash, equity, pointMoney }: Broker): Broker => ({
  units: 0,
  averagePrice: Number.NaN,
  cash,
  equity,
  pointMoney,
  lots: [],
  profitAt: () => 0,
  submit: () => {
    throw new PlanTesterError("plan-error", "An idle broker takes no orders.");
  },
  cancel: () => false,
  modify: () => "nothing is traded here",
  setExits: () => false,
  workingOrders: () => [],
});

/** One owner's door to a book. */
export class BookBroker implements Broker {
  readonly #book: Book;
  readonly #owner: string;

  /** @param owner whose lots and orders; "" for the only one's */
  constructor(book: Book, owner = "") {
    this.#book = book;
    this.#owner = owner;
  }

  get #isAlone(): boolean {
    return this.#owner === "";
  }

  get #own(): readonly Lot[] {
    return this.#book.lots.filter((lot) => lot.order.owner === this.#owner);
  }

  get units(): number {
    return this.#isAlone ? this.#book.units : this.#own.reduce((sum, lot) => sum + lot.side * lot.quantity, 0);
  }

  get averagePrice(): number {
    const { units } = this;
    if (units === 0) return Number.NaN;
    if (this.#isAlone) return this.#book.basisMoney / units;
    return this.#own.reduce((sum, lot) => sum + lot.side * lot.quantity * lot.entryPrice, 0) / units;
  }

  get cash(): number {
    return this.#book.account.cash;
  }

  get equity(): number {
    return this.#book.account.equity;
  }

  get pointMoney(): number {
    return this.#book.pointMoney;
  }

  get lots(): readonly BrokerLot[] {
    return this.#isAlone ? this.#book.lots : this.#own;
  }

  profitAt(price: number): number {
    if (this.#isAlone) return this.#book.profitAt(price);
    return this.#own.reduce((sum, lot) => sum + lot.side * lot.quantity * (price - lot.entryPrice), 0) * this.pointMoney;
  }

  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    return this.#book.submit(request, expiresBar, expiresTime);
  }

  cancel(order: Order): boolean {
    return this.#book.cancel(order);
  }

  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    return this.#book.modify(order, price, quantity, limitPrice);
  }

  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    return this.#book.setExits(which, price, mayLoosen, this.#owner);
  }

  firstFillBar(): number | null {
    return this.#book.firstFillBar();
  }

  settleExtremes(): void {
    this.#book.settleExtremes();
  }

  workingOrders(): readonly Order[] {
    const all = this.#book.workingOrders();
    return this.#isAlone ? all : all.filter((order) => order.owner === this.#owner);
  }
}
