/** What a book holds and says: triggers, open lots, its listener, its snapshot. Plain data; the rules live in `book.ts`. */
import type { Instrument } from "../market/instrument.ts";
import type { LimitHit } from "./account-limits.ts";
import { roundQuantity } from "./money.ts";
import type { Fill, Order, RailPoint, Side, StopReason, TimeLimit, Trade } from "./orders.ts";

/**
 * What stands at a price. `order` fills its order, `stop` and `target` close their lot, `stopMove` moves the stop of its lot
 * once the profit is large enough. Their numbers are the tie order on one path point (R3.3).
 */
export const TRIGGER = { order: 0, stopMove: 1, stop: 2, target: 3 } as const;
export type TriggerRole = (typeof TRIGGER)[keyof typeof TRIGGER];

export interface Trigger {
  readonly side: Side;
  /** Stops give way to price, limits wait for it: a stop move and a target are met like limits. */
  readonly isStop: boolean;
  price: number;
  /** The step of the path (`Triggers.step`) from which on it stands at this price. */
  since: number;
  /** Tie order on one path point: submission, then the role. */
  readonly sequence: number;
  readonly role: TriggerRole;
  readonly order: Order;
  /** The lot an attached exit belongs to; null for an order's own trigger. */
  readonly lot: Lot | null;
}

/** A move of a lot's stop that waits for a profit: to `level`, or the start of its trailing stop when that is null. */
export interface PendingStopMove {
  /** Quote (bid for a long lot, ask for a short one) at which it happens. */
  readonly at: number;
  readonly level: number | null;
  readonly reason: StopReason;
}

/** A trailing stop at work. All are price units. */
export interface TrailState {
  readonly distance: number;
  /** 0 when it moves continuously. */
  readonly step: number;
  started: boolean;
  /** Its level when it started, from which steps count, and now. */
  anchor: number;
  level: number;
  /** Adverse paths: it has moved inside the bar, and its stop follows at the bar's end (R4.3). */
  isAhead: boolean;
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
  /** Paid for nights so far, for one unit. */
  financingPerUnit: number;
  /** Price distance to the first stop level, null when there was none. */
  readonly riskPerUnit: number | null;
  stop: Trigger | null;
  stopReason: StopReason;
  target: Trigger | null;
  trail: TrailState | null;
  /** Moves that wait, nearest first, and the trigger of the nearest. */
  pendingMoves: PendingStopMove[];
  moveTrigger: Trigger | null;
  /** When its time limit is over: bar index and time, Infinity for none. */
  dueBar: number;
  dueTime: number;
  /** Adverse paths, this bar only (R4.3): the target may not fill; the stop counts as hit. */
  targetIsOff: boolean;
  stopIsHit: boolean;
  /** Adverse paths: the bar that is walked is the one inside which it was opened. */
  isOnEntryPath: boolean;
  pathDependent: boolean;
  atStake: number;
  rails: RailPoint[];
}

/** Whether an order closes a lot: one of the other side and of its owner, and of its tag where it names one. */
export const isClosedBy = (lot: Lot, { side, owner, onlyTag }: Pick<Order, "side" | "owner" | "onlyTag">): boolean =>
  lot.side !== side && lot.order.owner === owner && (onlyTag === "" || lot.order.tag === onlyTag);

/** A sum of quantities, freed of rounding noise. */
export const withoutNoise = (quantity: number, instrument: Instrument): number =>
  roundQuantity(quantity + instrument.quantityStep * 1e-7, instrument);

/** Units that an order may close. */
export function closableBy(lots: readonly Lot[], order: Pick<Order, "side" | "owner" | "onlyTag">, instrument: Instrument): number {
  let units = 0;
  for (let k = 0; k < lots.length; k++) if (isClosedBy(lots[k]!, order)) units += lots[k]!.quantity;
  return lots.length > 1 ? withoutNoise(units, instrument) : units;
}

export const dueOf = (limit: TimeLimit | null | undefined, bar: number, time: number): { bar: number; time: number } => ({
  bar: limit && "bars" in limit ? bar + limit.bars : Number.POSITIVE_INFINITY,
  time: limit && "milliseconds" in limit ? time + limit.milliseconds : Number.POSITIVE_INFINITY,
});

/** Running numbers of a book. */
export interface BookCounts {
  orders: number;
  trades: number;
  offGrid: number;
}

/** A lot as it can be written down: levels instead of triggers. */
export type LotSnapshot = Omit<Lot, "stop" | "target" | "moveTrigger"> & {
  readonly stopPrice: number | null;
  readonly targetPrice: number | null;
};

/** Where a book stands in time and price. */
export interface BookPlace {
  readonly barIndex: number;
  readonly timeMs: number;
  readonly barRange: number;
  /** Price units. */
  readonly spread: number;
  readonly inBar: boolean;
  readonly pathPrice: number;
  readonly isAsleep: boolean;
  /** Numbers of the orders that were asked for while it slept. */
  readonly asleep: readonly number[];
  /** Orders whose result depends on the bar's path, with the money at stake. */
  readonly dependent: ReadonlyMap<number, number> | null;
}

/** An account as it can be written down and taken up again. */
export interface BookSnapshot {
  readonly cash: number;
  readonly sequence: number;
  readonly counts: Readonly<BookCounts>;
  readonly lots: readonly LotSnapshot[];
  readonly orders: readonly Order[];
  /** null: nothing has happened yet, or an earlier version has written it between two bars. */
  readonly place: BookPlace | null;
}

/** What the book tells its owner, in the order in which it happens. */
export interface BookListener {
  accepted?(order: Order): void;
  filled(fill: Fill, order: Order): void;
  closed(trade: Trade): void;
  opened(lot: Lot): void;
  ended(order: Order): void;
  /** A limit of the account is hit: told of its first instrument, ahead of what it brings about and once all of that is done. */
  limited?(hit: LimitHit): void;
  obeyed?(): void;
  log(level: "notice" | "warning", text: string): void;
}

/** What one root order came to on a forked path: used to compare two paths (R4.4). */
export type Outcome = Map<number, { trail: string; money: number }>;
