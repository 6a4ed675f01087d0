/** The vocabulary of the simulation: orders, fills and trades. Plain data; the rules live in `book.ts`. */

/** 1 buys, -1 sells; for a position: long and short. */
export type Side = 1 | -1;

/** A stop-limit order triggers as a stop and goes on as a limit order at its `limitPrice`. */
export type OrderKind = "market" | "stop" | "limit" | "stop-limit";

/** `enter` opens or adds (under netting it reduces an opposite position first), `exit` only closes, `reverse` closes what is opposite and then opens its own quantity. */
export type OrderIntent = "enter" | "exit" | "reverse";

export type OrderState = "working" | "filled" | "cancelled" | "refused" | "expired";

export const DISTANCE_UNITS = ["price", "points", "ticks", "pips", "percent", "money", "money per unit", "R"] as const;
export type DistanceUnit = (typeof DISTANCE_UNITS)[number];

/** Where an attached exit stands: an absolute price, or a distance from the entry fill (R3.6). */
export interface Distance {
  readonly unit: DistanceUnit;
  /** An absolute price; price units, ticks or pips; percent of the entry fill; money for the whole lot or for one unit; or multiples of the initial risk. */
  readonly value: number;
}

/** A stop that follows the best price since the fill (R3.7). */
export interface Trail {
  readonly distance: Distance;
  /** It starts once the profit is this large; at the fill when null. */
  readonly after: Distance | null;
  /** It moves in whole steps of this size; continuously when null. */
  readonly step: Distance | null;
}

/** Once the profit is `after`, the stop moves to the entry plus `keep`, which may be below, at or above it (R3.8). */
export interface Lock {
  readonly after: Distance;
  readonly keep: Distance;
  readonly reason: "break-even" | "lock";
}

/** A lot is closed at the open of the bar that is so many bars, or milliseconds, after its entry. */
export type TimeLimit = { readonly bars: number } | { readonly milliseconds: number };

/** How the exits of a lot move and end, besides its stop and target. */
export interface ExitMoves {
  readonly trail: Trail | null;
  readonly locks: readonly Lock[];
  readonly timeLimit: TimeLimit | null;
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
  /** Stop or limit price; of a stop-limit order the stop. NaN for a market order. */
  readonly price: number;
  /** Of a stop-limit order, else NaN. */
  readonly limitPrice: number;
  /** Units; Infinity with intent `exit` closes all. */
  readonly quantity: number;
  readonly intent: OrderIntent;
  readonly tag: string;
  readonly stopLoss: Distance | null;
  readonly target: Distance | null;
  readonly moves: ExitMoves | null;
  readonly timeInForce: TimeInForce;
  /** Orders of one group: the first fill cancels the rest (R3.5). Empty for none. */
  readonly group: string;
  /** Whose order it is: plans on one account touch only their own lots. */
  readonly owner: string;
  /** With intent `exit`: closes only lots whose entry has this tag. Empty for any. */
  readonly onlyTag: string;
  /** Line of the plan's source that sent it, 0 where unknown. */
  readonly line: number;
  /** Why a trade that this order closes ended. */
  readonly reason: ExitReason;
  /** A market order that fills at the session's close rather than at the next open (R2.6). */
  readonly atClose?: boolean;
}

/** What an order has where its sender says nothing else. */
export const PLAIN_ORDER = Object.freeze({
  price: Number.NaN,
  limitPrice: Number.NaN,
  tag: "",
  stopLoss: null,
  target: null,
  moves: null,
  timeInForce: Object.freeze({ until: "cancelled" as const }),
  group: "",
  owner: "",
  onlyTag: "",
  line: 0,
  reason: "signal" as const,
});

export interface Order extends OrderRequest {
  readonly id: number;
  kind: OrderKind;
  price: number;
  limitPrice: number;
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
  /** Bar on which it filled, or was cancelled, refused or expired; -1 while it works. */
  endBar: number;
}

/** An order on its way to a venue: nothing has become of it yet. */
export type OrderTicket = Omit<Order, "id" | "state" | "note" | "fillPrice" | "fillTime" | "fillBar" | "endBar">;

export const EXIT_REASONS = [
  "stop",
  "target",
  "trail",
  "break-even",
  "lock",
  "time",
  "signal",
  "reverse",
  "session end",
  "margin",
  "account limit",
  "ruin",
  "end of data",
] as const;
export type ExitReason = (typeof EXIT_REASONS)[number];

/** Reasons of orders that an account sends itself: a plan can neither see nor cancel them. */
const OF_ACCOUNT: readonly ExitReason[] = ["margin", "account limit", "ruin"];
export const isOfAccount = (reason: ExitReason): boolean => OF_ACCOUNT.includes(reason);

/** Who set the level of a protective stop: the reason of the trade that it ends. */
export type StopReason = "stop" | "trail" | "break-even" | "lock";

export interface Fill {
  readonly orderId: number;
  /** The exit it came from, or "order". */
  readonly source: "order" | StopReason | "target" | "time" | "end of data";
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
  readonly symbol: string;
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
  /** Result before every cost: net + commission + spread + slippage + financing. */
  readonly gross: number;
  readonly commission: number;
  readonly spread: number;
  readonly slippage: number;
  /** Paid (or, negative, earned) for the nights held. */
  readonly financing: number;
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

export const LOG_LEVELS = ["info", "notice", "warning", "alert"] as const;
export type LogLevel = (typeof LOG_LEVELS)[number];

export interface LogLine {
  readonly barIndex: number;
  readonly timeMs: number;
  readonly level: LogLevel;
  readonly text: string;
}
