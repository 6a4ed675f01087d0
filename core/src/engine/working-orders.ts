/**
 * The orders of a book: taken, refused, changed, cancelled, expired, and what one of a group does to the others (R3). Those
 * that stand at a price are triggers; the others wait for the open or for the session's close.
 */
import { isOnGrid, toGrid } from "../market/price-grid.ts";
import type { BookState } from "./book-state.ts";
import { closableBy, isClosedBy, type Lot, TRIGGER } from "./lots.ts";
import { roundQuantity } from "./money.ts";
import { requestProblem } from "./order-checks.ts";
import type { Order, OrderRequest, Side } from "./orders.ts";

/** An order in a fill handler that fills at once and sends the next would never end: this many on one bar is a missing guard. */
const MAX_ORDERS_ON_A_BAR = 1000;
/** Orders and exits that stand at a price at once; every bar that price moves in asks each of them. */
const MAX_ACTIVE = 5000;

export const EXPIRED = "its time in force is over";

export class WorkingOrders {
  /** Market orders that wait for the next open, or fill at once inside a bar. */
  readonly waiting: Order[] = [];
  /** Market orders that wait for the session's close (R2.6). */
  readonly closing: Order[] = [];
  /** The bar that is open lies partly in the past: what is asked for works from the next open (R2.4). */
  isAsleep = false;
  readonly #state: BookState;
  /** What was asked for meanwhile, in order. */
  readonly #later: (() => void)[] = [];
  readonly #sleeping = new Set<Order>();
  /** Exits that have nothing left to close; they end when the fill that closed it is complete. */
  readonly #orphans: Order[] = [];
  #mayExpire = false;
  #floodBar = -1;
  #floodCount = 0;

  constructor(state: BookState) {
    this.#state = state;
  }

  get isEmpty(): boolean {
    return this.#state.triggers.list.length === 0 && this.waiting.length === 0 && this.closing.length === 0;
  }

  /** Orders that wait or work, in order of submission. */
  list(): Order[] {
    const orders = [...this.waiting, ...this.closing];
    for (const order of this.#sleeping) if (order.state === "working") orders.push(order);
    for (const trigger of this.#state.triggers.list) if (trigger.role === TRIGGER.order) orders.push(trigger.order);
    return orders.sort((a, b) => a.id - b.id);
  }

  /** Those that were asked for while the book slept. */
  get asleep(): readonly Order[] {
    return [...this.#sleeping].filter(({ state }) => state === "working");
  }

  // --- asked for ----------------------------------------------------------------------------------------------

  /** Takes an order: it works from the current path point inside a bar, else from the next open. A bad one is refused (R3.9). */
  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    const state = this.#state;
    state.onTouched?.();
    const { side, kind } = request;
    // Spelled out: a spread of objects takes a slow way once prototypes are frozen.
    const order: Order = {
      side,
      kind,
      price: kind === "market" ? Number.NaN : this.#gridPrice(side, kind !== "limit", request.price),
      limitPrice: kind === "stop-limit" ? this.#gridPrice(side, false, request.limitPrice) : Number.NaN,
      quantity: request.quantity,
      intent: request.intent,
      tag: request.tag,
      stopLoss: request.stopLoss,
      target: request.target,
      moves: request.moves,
      timeInForce: request.timeInForce,
      group: request.group,
      owner: request.owner,
      onlyTag: request.onlyTag,
      line: request.line,
      reason: request.reason,
      atClose: request.atClose ?? false,
      id: state.account.numberFor(request.reason),
      state: "working",
      note: "",
      submittedBar: state.barIndex,
      submittedTime: state.timeMs,
      expiresBar,
      expiresTime,
      fillPrice: Number.NaN,
      fillTime: Number.NaN,
      fillBar: -1,
      endBar: -1,
    };
    state.counts.orders++;
    if (expiresBar !== Infinity || expiresTime !== Infinity) this.#mayExpire = true;
    const refusal =
      this.#accountProblem(order) || this.#floodProblem() || requestProblem(order, state.instrument) || (state.gate?.(order) ?? "");
    if (refusal) state.end(order, "refused", refusal);
    else {
      if (this.isAsleep) this.#workLater(order);
      else this.work(order);
      state.listener?.accepted?.(order);
    }
    return order;
  }

  /** From here on the order waits for the open, or works at its price. */
  work(order: Order): void {
    const { side, kind, price, id } = order;
    if (order.atClose) this.closing.push(order);
    else if (kind === "market") this.waiting.push(order);
    else this.#state.triggers.add({ side, isStop: kind !== "limit", price, since: 0, sequence: id, role: TRIGGER.order, order, lot: null });
  }

  #workLater(order: Order): void {
    this.#sleeping.add(order);
    this.#later.push(() => {
      // Others that waited are still to be done, and a plan may look at its orders meanwhile.
      this.#sleeping.delete(order);
      if (order.state === "working") this.work(order);
    });
  }

  cancel(order: Order, note: string, state: "cancelled" | "expired" = "cancelled"): boolean {
    if (order.state !== "working") return false;
    this.#state.onTouched?.();
    if (this.mustWait(order)) {
      this.later(() => void this.cancel(order, note, state));
      return true;
    }
    this.#remove(order);
    this.#state.end(order, state, note);
    return true;
  }

  /**
   * Changes a working order at once (R3.9): its price, the limit of a stop-limit order, its quantity; undefined leaves as it is.
   * @returns why it was refused, or "".
   */
  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    const { listener, onTouched, instrument, triggers } = this.#state;
    const problem = this.#modifyProblem(order, price, quantity, limitPrice);
    if (problem) {
      listener?.log("warning", `order ${order.id} not changed: ${problem}`);
      return problem;
    }
    onTouched?.();
    if (this.mustWait(order)) {
      this.later(() => {
        if (order.state === "working") this.modify(order, price, quantity, limitPrice);
      });
      return "";
    }
    if (quantity !== undefined) order.quantity = roundQuantity(quantity, instrument);
    if (limitPrice !== undefined) order.limitPrice = this.#gridPrice(order.side, false, limitPrice);
    if (price !== undefined) {
      order.price = this.#gridPrice(order.side, order.kind !== "limit", price);
      const trigger = triggers.of(order);
      if (trigger) triggers.move(trigger, order.price);
    }
    triggers.changed();
    return "";
  }

  #modifyProblem(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    const { instrument } = this.#state;
    if (order.state !== "working") return `it is ${order.state} (R3.9)`;
    if (price !== undefined && order.kind === "market") return "price of a market order can't be set (R3.9)";
    if (limitPrice !== undefined && order.kind !== "stop-limit") return `limit price: it is a ${order.kind} order (R3.9)`;
    for (const [name, value] of [
      ["price", price],
      ["limit price", limitPrice],
    ] as const)
      if (value !== undefined && !(value > 0 && Number.isFinite(value))) return `${name} ${value} is not a number above 0 (R3.9)`;
    if (quantity === undefined) return "";
    const rounded = roundQuantity(quantity, instrument);
    return rounded >= instrument.minQuantity && Number.isFinite(rounded)
      ? ""
      : `quantity ${quantity} is below the minimum of ${instrument.minQuantity} (R3.10)`;
  }

  #gridPrice(side: Side, isStop: boolean, price: number): number {
    const { instrument, counts, listener } = this.#state;
    const { tickSize } = instrument;
    if (!Number.isFinite(price)) return price;
    if (!isOnGrid(price, tickSize) && counts.offGrid++ === 0)
      listener?.log("notice", `price ${price} is off the grid of ${tickSize}: stops and limits are put on it (R1.4; said once a run)`);
    return toGrid(price, tickSize, side > 0 === isStop ? "up" : "down");
  }

  #accountProblem({ reason, intent }: Order): string {
    const { account, timeMs } = this.#state;
    if (account.isOver && reason !== "ruin") return "the account is wiped out: it can trade no more (R5.6)";
    return intent === "exit" ? "" : account.entryProblem(timeMs);
  }

  #floodProblem(): string {
    const { barIndex, triggers } = this.#state;
    if (this.#floodBar !== barIndex) {
      this.#floodBar = barIndex;
      this.#floodCount = 0;
    }
    if (triggers.list.length + this.waiting.length > MAX_ACTIVE)
      return `more than ${MAX_ACTIVE} active orders: the plan has no guard against repeated entries`;
    return ++this.#floodCount > MAX_ORDERS_ON_A_BAR
      ? `more than ${MAX_ORDERS_ON_A_BAR} orders on one bar: the plan has no guard against repeated entries`
      : "";
  }

  // --- asleep -------------------------------------------------------------------------------------------------

  /** Whether something has to wait for the next open. An order that has not begun to work can be changed at once. */
  mustWait(order: Order | null): boolean {
    return this.isAsleep && !(order && this.#sleeping.has(order));
  }

  /** To be done at the next open. */
  later(act: () => void): void {
    this.#later.push(act);
  }

  /** The next open has come: what was asked for while the book slept is done. */
  wake(): void {
    this.isAsleep = false;
    if (this.#later.length === 0) return;
    for (const act of this.#later.splice(0)) act();
    this.#sleeping.clear();
  }

  // --- ended by others ----------------------------------------------------------------------------------------

  /** Lets orders expire whose time is over: the first thing at a bar's open (R3.4). */
  expire(barIndex: number, timeMs: number): void {
    if (!this.#mayExpire) return;
    for (const order of this.list())
      if (order.state === "working" && (barIndex >= order.expiresBar || timeMs >= order.expiresTime)) {
        this.#remove(order);
        this.#state.end(order, "expired", EXPIRED);
      }
  }

  #remove(order: Order): void {
    const { triggers } = this.#state;
    const trigger = triggers.of(order);
    if (trigger) triggers.drop(trigger);
    for (const queue of [this.waiting, this.closing]) {
      const queued = queue.indexOf(order);
      if (queued >= 0) queue.splice(queued, 1);
    }
    triggers.changed();
  }

  /** A position has become smaller: exits close no more than what is left of it, and end with it (R3.5). */
  shrinkExits(closed: Lot): void {
    const { list } = this.#state.triggers;
    if (this.waiting.length + this.closing.length + list.length + this.#sleeping.size === 0) return;
    for (let k = 0; k < list.length; k++) if (list[k]!.role === TRIGGER.order) this.#shrinkExit(list[k]!.order, closed);
    for (const order of this.waiting) this.#shrinkExit(order, closed);
    for (const order of this.closing) this.#shrinkExit(order, closed);
    for (const order of this.#sleeping) this.#shrinkExit(order, closed);
  }

  #shrinkExit(order: Order, closed: Lot): void {
    if (order.intent !== "exit" || order.state !== "working" || !isClosedBy(closed, order)) return;
    const left = this.#closableBy(order);
    if (!(left > 0)) this.#orphans.push(order);
    else if (order.group && order.quantity > left && order.quantity !== Number.POSITIVE_INFINITY) order.quantity = left;
  }

  #closableBy(order: Order): number {
    return closableBy(this.#state.lots, order, this.#state.instrument);
  }

  /** The fill that left exits without a position is complete: they end in order of submission. */
  cancelOrphans(): void {
    if (this.#orphans.length > 1) this.#orphans.sort((a, b) => b.id - a.id);
    while (this.#orphans.length > 0) {
      const order = this.#orphans.pop()!;
      if (order.state !== "working") continue;
      this.#remove(order);
      this.#state.end(order, "cancelled", "what it was there to close has been closed");
    }
  }

  /** Exits without a position stay as they are: nothing has closed, the data is over. */
  leaveOrphans(): void {
    this.#orphans.length = 0;
  }

  /** Others of a group that outlive this fill: exits of which it closes only a part (R3.5). */
  keptInGroup(filled: Order, quantity: number): Order[] {
    if (filled.intent !== "exit") return [];
    return this.list().filter(
      (order) =>
        order !== filled &&
        order.group === filled.group &&
        order.intent === "exit" &&
        order.quantity > quantity &&
        this.#closableBy(order) > quantity,
    );
  }

  /** One of a group has filled: the rest is cancelled. */
  settleGroup(filled: Order, kept: readonly Order[]): void {
    for (const order of this.list()) {
      // Case: a handler has cancelled it when another of the group ended.
      if (order.state !== "working") continue;
      if (order === filled || order.group !== filled.group || order.owner !== filled.owner || kept.includes(order)) continue;
      this.#remove(order);
      this.#state.end(order, "cancelled", `order ${this.#state.numberOf(filled.id)} of its group filled first`);
    }
  }

  /** These orders work, and no others. */
  restore(orders: readonly Order[], asleep: readonly Order[] = []): void {
    const { triggers } = this.#state;
    for (const trigger of [...triggers.list]) if (trigger.role === TRIGGER.order) triggers.drop(trigger);
    this.waiting.length = this.closing.length = this.#later.length = this.#orphans.length = 0;
    this.#sleeping.clear();
    for (const order of orders) {
      if (asleep.includes(order)) this.#workLater(order);
      else this.work(order);
    }
    this.#mayExpire = true;
  }
}
