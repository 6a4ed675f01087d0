/** What a book holds and says: triggers, open lots, its listener, its snapshot. Plain data; the rules live in `book.ts`. */
import type { Fill, Order, RailPoint, Side, Trade } from "./orders.ts";

/** A price at which something fills: a working stop or limit order, or an attached exit of a lot. */
export interface Trigger {
  readonly side: Side;
  readonly isStop: boolean;
  price: number;
  /** Tie order on one path point: submission, then the order itself (0), its stop (1), its target (2). */
  readonly sequence: number;
  readonly rank: 0 | 1 | 2;
  readonly order: Order;
  /** The lot an attached exit closes; null for an order's own trigger. */
  readonly lot: Lot | null;
}

export interface Lot {
  readonly order: Order;
  readonly side: Side;
  quantity: number;
  readonly entryPrice: number;
  readonly entryTime: number;
  readonly entryBar: number;
  /** Highest and lowest path price since the entry. */
  high: number;
  low: number;
  /** Costs of the entry for one unit. */
  readonly commissionPerUnit: number;
  readonly spreadPerUnit: number;
  readonly slippagePerUnit: number;
  /** Price distance to the first stop level, null when there was none. */
  readonly riskPerUnit: number | null;
  stop: Trigger | null;
  target: Trigger | null;
  pathDependent: boolean;
  atStake: number;
  rails: RailPoint[];
}

/** Running numbers of a book. */
export interface BookCounts {
  orders: number;
  trades: number;
  offGrid: number;
}

/** An account as it can be written down and taken up again. */
export interface BookSnapshot {
  readonly cash: number;
  readonly sequence: number;
  readonly counts: Readonly<BookCounts>;
  readonly lots: readonly (Omit<Lot, "stop" | "target"> & { readonly stopPrice: number | null; readonly targetPrice: number | null })[];
  readonly orders: readonly Order[];
}

/** What the book tells its owner, in the order in which it happens. */
export interface BookListener {
  filled(fill: Fill, order: Order): void;
  closed(trade: Trade): void;
  opened(lot: Lot): void;
  ended(order: Order): void;
  log(level: "notice" | "warning", text: string): void;
}

/** What one root order came to on a forked path: used to compare two paths (R4.4). */
export type Outcome = Map<number, { trail: string; money: number }>;
