/**
 * What passes between a plan at work and the venue that carries out its orders: plain data, so that the two may be in
 * one process, in two, or on two machines. A plan says `PlanCommand`s, numbered; a venue says `VenueWord`s.
 */
import type { EntryBlock, LimitHit } from "../engine/account-limits.ts";
import type { OrderChange } from "../engine/order-change.ts";
import type { Fill, Order, OrderTicket, Side, StopReason, TimeLimit, Trade } from "../engine/orders.ts";
import type { MinuteBar } from "../market/bar-frame.ts";

/** An open lot as a venue tells of it. */
export interface LotReport {
  /** Number of the entry order, as its sender numbered it. */
  readonly orderId: number;
  readonly side: Side;
  readonly quantity: number;
  readonly entryPrice: number;
  /** UTC milliseconds. */
  readonly entryTime: number;
  readonly tag: string;
  readonly line: number;
  /** Highest and lowest path price since the entry. */
  readonly high: number;
  readonly low: number;
  readonly riskPerUnit: number | null;
  readonly stop: number | null;
  readonly stopReason: StopReason;
  readonly target: number | null;
  readonly timeLimit: TimeLimit | null;
}

/** What one owner has open and waiting on one instrument. */
export interface BookReport {
  readonly symbol: string;
  /** The minute that is open lies partly in the past: what is asked for works from the next open (R2.4). */
  readonly isAsleep: boolean;
  /** Price is at an open or along a path: market orders fill at once. */
  readonly isInBar: boolean;
  readonly pathPrice: number;
  /** The first time from which an order sent now can fill: of the minute that opens or moves, else of the next one. */
  readonly fillsFromMs: number;
  readonly lots: readonly LotReport[];
  readonly orders: readonly Order[];
  /** Numbers of those that were sent while it sleeps: they can be changed and cancelled at once. */
  readonly asleep: readonly number[];
}

/** An account as one owner sees it. */
export interface AccountReport {
  readonly cash: number;
  readonly books: readonly BookReport[];
  /** How many of the owner's commands have been dealt with. */
  readonly commandsDone: number;
  /** The highest number that an order of the owner has had. */
  readonly lastOrderId: number;
  /** Why entries are refused for now; left out where they are not. */
  readonly block?: EntryBlock;
}

/** Something that happened to an owner's orders or lots, in the order in which it did. Numbers of orders are the owner's. */
export type AccountEvent =
  /** The account itself sent an order: a margin call, a ruin, or one given by hand. */
  | { readonly kind: "accepted"; readonly symbol: string; readonly order: Order }
  | { readonly kind: "filled"; readonly symbol: string; readonly fill: Fill }
  | { readonly kind: "opened"; readonly symbol: string; readonly lot: LotReport }
  | { readonly kind: "closed"; readonly symbol: string; readonly trade: Trade }
  | { readonly kind: "ended"; readonly symbol: string; readonly order: Order }
  /** A limit on losses of the account is hit; the symbol is that of its first instrument. */
  | { readonly kind: "limited"; readonly symbol: string; readonly hit: LimitHit };

export interface EventReport {
  /** Counts up by one for each owner: a repeated report is known by it, and a missing one. */
  readonly number: number;
  readonly event: AccountEvent;
  /** Orders that have stopped working since the report before. */
  readonly left: readonly Order[];
  readonly account: AccountReport;
}

/** What a venue says to the plan of one owner. Times are UTC milliseconds of the venue's clock. */
export type VenueWord =
  /** Minutes of these instruments are about to open: what is sent now fills at the open. */
  | { readonly type: "opening"; readonly timeMs: number; readonly symbols: readonly string[]; readonly account: AccountReport | null }
  /** Minutes are over, or a time has come without any. */
  | {
      readonly type: "closing";
      readonly timeMs: number;
      readonly minutes: readonly { readonly symbol: string; readonly bar: MinuteBar }[];
      readonly account: AccountReport | null;
    }
  /** Price inside the minute that opened at a time. */
  | {
      readonly type: "price";
      readonly timeMs: number;
      readonly symbol: string;
      readonly price: number;
      readonly account: AccountReport | null;
    }
  | ({ readonly type: "report"; readonly timeMs: number } & EventReport)
  /** How the account is after the line was broken, and the last report that it includes. */
  | { readonly type: "account"; readonly timeMs: number; readonly account: AccountReport; readonly lastReport: number };

/** What a plan asks of its account. Numbers of orders are its own; none is used twice. */
export type PlanCommand =
  | { readonly kind: "submit"; readonly symbol: string; readonly orderId: number; readonly ticket: OrderTicket }
  | { readonly kind: "cancel"; readonly symbol: string; readonly orderId: number; readonly note: string; readonly isExpiry: boolean }
  | { readonly kind: "modify"; readonly symbol: string; readonly orderId: number; readonly change: OrderChange }
  | {
      readonly kind: "exits";
      readonly symbol: string;
      readonly which: "stop" | "target";
      readonly price: number | null;
      readonly mayLoosen: boolean;
    }
  /** The lots of an entry order are past their limit in bars: they close at the open that is due. */
  | { readonly kind: "due"; readonly symbol: string; readonly orderId: number };
