/** The vocabulary of the simulation: orders, lots, fills and trades. Plain data; the rules live in `book.ts`. */

/** 1 buys, -1 sells; for a position: long and short. */
export type Side = 1 | -1;

export type OrderKind = "market" | "stop" | "limit";

/** `enter` opens or adds (and reduces an opposite position first), `exit` only closes, `reverse` closes what is opposite and then opens its own quantity. */
export type OrderIntent = "enter" | "exit" | "reverse";

export type OrderState = "working" | "filled" | "cancelled" | "refused" | "expired";

/** Where an attached exit stands: an absolute price, or a distance from the entry fill. */
export interface Distance {
  readonly unit: "price" | "ticks" | "percent" | "money";
  /** Price units, ticks, percent of the entry fill, or money for the whole lot. */
  readonly value: number;
}

/** How long an order works (R3.4). `bars` counts the bar on which it can first fill as the first. */
export type TimeInForce =
  | { readonly until: "cancelled" }
  | { readonly until: "session" }
  | { readonly until: "bars"; readonly bars: number }
  | { readonly until: "time"; readonly timeMs: number };

export interface OrderRequest {
  readonly side: Side;
  readonly kind: OrderKind;
  /** NaN for a market order. */
  readonly price: number;
  /** Units; Infinity with intent `exit` closes all. */
  readonly quantity: number;
  readonly intent: OrderIntent;
  readonly tag: string;
  readonly stopLoss: Distance | null;
  readonly target: Distance | null;
  readonly timeInForce: TimeInForce;
  /** Orders of one group: the first fill cancels the rest (R3.5). Empty for none. */
  readonly group: string;
  /** Line of the plan's source that sent it, 0 where unknown. */
  readonly line: number;
  /** Why a trade that this order closes ended. */
  readonly reason: ExitReason;
}

export interface Order extends OrderRequest {
  readonly id: number;
  price: number;
  quantity: number;
  state: OrderState;
  /** Why it was refused, cancelled or expired. */
  note: string;
  readonly submittedBar: number;
  readonly submittedTime: number;
  readonly expiresBar: number;
  readonly expiresTime: number;
  fillPrice: number;
  fillTime: number;
  fillBar: number;
}

/** An order on its way to a venue: nothing has become of it yet. */
export type OrderTicket = Omit<Order, "id" | "state" | "note" | "fillPrice" | "fillTime" | "fillBar">;

export type ExitReason = "stop" | "target" | "signal" | "reverse" | "time" | "session end" | "end of data";

export interface Fill {
  readonly orderId: number;
  /** The exit it came from, or "order". */
  readonly source: "order" | "stop" | "target" | "end of data";
  readonly side: Side;
  readonly quantity: number;
  readonly price: number;
  readonly timeMs: number;
  readonly barIndex: number;
  readonly commission: number;
  readonly spread: number;
  readonly slippage: number;
  readonly tag: string;
  readonly line: number;
}

/** One level that a protective stop or target had, from a bar on: the rails of a chart. */
export interface RailPoint {
  readonly barIndex: number;
  readonly stop: number | null;
  readonly target: number | null;
}

/** A closed round trip, or a closed part of a lot (R5.2). Money is account currency. */
export interface Trade {
  readonly id: number;
  readonly orderId: number;
  readonly side: Side;
  readonly quantity: number;
  readonly entryTime: number;
  readonly entryBar: number;
  readonly entryPrice: number;
  readonly entryTag: string;
  readonly entryLine: number;
  readonly exitTime: number;
  readonly exitBar: number;
  readonly exitPrice: number;
  readonly exitTag: string;
  readonly exitLine: number;
  readonly reason: ExitReason;
  /** Result before every cost: net + commission + spread + slippage. */
  readonly gross: number;
  readonly commission: number;
  readonly spread: number;
  readonly slippage: number;
  readonly net: number;
  readonly barsHeld: number;
  /** Largest move against and for the trade in money, along the path from fill to fill; both >= 0. */
  readonly mae: number;
  readonly mfe: number;
  /** Money lost at the first stop level, null when no stop was known at the entry. */
  readonly risk: number | null;
  /** net / risk. */
  readonly r: number | null;
  /** Whether O-H-L-C and O-L-H-C give it different results (R4.4), and by how much money. */
  readonly pathDependent: boolean;
  readonly atStake: number;
  readonly rails: readonly RailPoint[];
}

export type LogLevel = "info" | "notice" | "warning";

export interface LogLine {
  readonly barIndex: number;
  readonly timeMs: number;
  readonly level: LogLevel;
  readonly text: string;
}
