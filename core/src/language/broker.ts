/** What a plan needs of whatever carries out its orders: the book of a backtest, or the mirror of an account at a venue. */
import type { Order, OrderRequest, Side } from "../engine/orders.ts";

export interface BrokerLot {
  readonly side: Side;
  readonly quantity: number;
  readonly entryBar: number;
  readonly entryTime: number;
  readonly stop: { readonly price: number } | null;
  readonly target: { readonly price: number } | null;
}

export interface Broker {
  /** Signed units of the open position. */
  readonly units: number;
  /** Mean entry price, NaN when flat. */
  readonly averagePrice: number;
  readonly cash: number;
  readonly lots: readonly BrokerLot[];
  equityAt(price: number): number;
  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order;
  cancel(order: Order): boolean;
  move(order: Order, price: number): boolean;
  /** Sets stop or target of every open lot. */
  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean;
  workingOrders(): readonly Order[];
}
