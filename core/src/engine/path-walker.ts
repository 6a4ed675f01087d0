/**
 * Moves price through a book: along the path of a bar, from trigger to trigger, in the order in which price meets them; at
 * each point what can fill there fills first (R2.1, R3.3, R4).
 */
import type { BookState } from "./book-state.ts";
import type { Ledger } from "./ledger.ts";
import type { LotExits } from "./lot-exits.ts";
import { closableBy, TRIGGER, type Trigger, withoutNoise } from "./lots.ts";
import type { Order } from "./orders.ts";
import type { WorkingOrders } from "./working-orders.ts";

/** What the account says to a fill before it happens: why it is refused, or "". */
export type Refusal = (order: Order, closing: number, opening: number, price: number) => string;

export interface WalkerParts {
  readonly state: BookState;
  readonly orders: WorkingOrders;
  readonly ledger: Ledger;
  readonly exits: LotExits;
  /** Whether stops are taken before targets inside a bar (R4.3). */
  readonly isAdverse: boolean;
  /** null where no fill is refused. */
  readonly refusal: Refusal | null;
}

/** A path O-A-B-C has so many legs. */
export const LEGS = 3;

export class PathWalker {
  /** Somebody acts inside the bar: told at the open and at each turning point of the path, from where new orders work at once (R2.4). */
  onPrice: ((x: number) => void) | null = null;
  readonly #state: BookState;
  readonly #orders: WorkingOrders;
  readonly #ledger: Ledger;
  readonly #exits: LotExits;
  readonly #isAdverse: boolean;
  readonly #isNetting: boolean;
  readonly #refusal: Refusal | null;

  constructor({ state, orders, ledger, exits, isAdverse, refusal }: WalkerParts) {
    this.#state = state;
    this.#orders = orders;
    this.#ledger = ledger;
    this.#exits = exits;
    this.#isAdverse = isAdverse;
    this.#isNetting = state.settings.positions === "netting";
    this.#refusal = refusal;
  }

  /** A bar opens: lots whose time limit is over close first, then everything else fills that can at its open price (R2.1). */
  fillAtOpen(x: number, range: number): void {
    const state = this.#state;
    const { triggers } = state;
    state.inBar = true;
    state.pathPrice = x;
    triggers.step++;
    triggers.isAtOpen = true;
    state.barRange = range;
    state.touch(x, x);
    const { dueBar, dueTime } = triggers;
    if (state.lots.length > 0 && (state.barIndex >= dueBar || state.timeMs >= dueTime)) this.#closeOverdue(x);
    this.#settleAt(x);
    triggers.isAtOpen = false;
    this.#tellPrice(x);
  }

  #closeOverdue(x: number): void {
    const { lots, barIndex, timeMs, triggers } = this.#state;
    for (const lot of [...lots])
      if (lot.quantity > 0 && (barIndex >= lot.dueBar || timeMs >= lot.dueTime))
        this.#ledger.close(lot, triggers.quoteOf(lot, x), this.#ledger.slipNow(), "time");
  }

  /** Moves price along one path O-A-B-C; `first` tells which extreme comes first. The open has been dealt with already. */
  alongPath(open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    for (let leg = 0; leg < LEGS; leg++) this.alongLeg(leg, open, high, low, close, first);
  }

  /** One leg of that path, 0 to 2; those before it have been walked. */
  alongLeg(leg: number, open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    if (leg === 0) {
      if (this.#isAdverse) this.#exits.beginAdverse(high, low, close);
      this.#moveTo(open, first === "high" ? high : low);
    } else if (leg === 1) this.#moveTo(this.#state.pathPrice, first === "high" ? low : high);
    else {
      this.#moveTo(this.#state.pathPrice, close);
      if (this.#isAdverse) this.#endAdverse(close);
    }
  }

  /** Fills what can fill where price stands: orders that came while it stood still. */
  settle(): void {
    this.#settleAt(this.#state.pathPrice);
  }

  #tellPrice(x: number): void {
    if (!this.onPrice) return;
    this.onPrice(x);
    this.#settleAt(x);
  }

  /** The session closes at price x: what waits for it fills, as market orders do (R2.6). */
  fillAtSessionClose(x: number): void {
    const { closing } = this.#orders;
    this.#state.pathPrice = x;
    // What one of them fills may end others; what its handlers send for a close is meant for the next.
    for (const order of [...closing]) {
      if (order.state !== "working") continue;
      closing.splice(closing.indexOf(order), 1);
      this.#fillOrder(order, x, this.#state.triggers.quote(order.side, x), this.#ledger.slipNow());
    }
    this.#settleAt(x);
  }

  /** Adverse paths: stops that count as hit, wherever on its path the bar was (R4.3). */
  #endAdverse(close: number): void {
    const state = this.#state;
    for (const lot of [...state.lots]) {
      const stop = this.#exits.hitStop(lot);
      if (!stop) continue;
      const x = state.triggers.levelOf(stop);
      state.pathPrice = x;
      // Its own extremes only: no other lot need have seen this price.
      if (x > lot.high) lot.high = x;
      if (x < lot.low) lot.low = x;
      this.#ledger.close(lot, stop.price, this.#ledger.slipNow(), lot.stopReason);
    }
    state.pathPrice = close;
    this.#exits.endAdverse();
  }

  #moveTo(from: number, to: number): void {
    const state = this.#state;
    const { triggers } = state;
    let x = from;
    for (;;) {
      this.#settleAt(x);
      const next = triggers.nextBetween(x, to);
      if (!next) break;
      x = triggers.levelOf(next);
      triggers.step++;
      state.pathPrice = x;
      state.touch(x, x);
      this.#exits.trail(x);
      this.#fire(next, x, true);
    }
    triggers.step++;
    state.pathPrice = to;
    state.touch(Math.min(x, to), Math.max(x, to));
    this.#exits.trail(to);
    if (this.onPrice && to !== from) this.#tellPrice(to);
  }

  /** Fills what can fill without price moving, until nothing is left: waiting market orders, then triggers whose condition holds. */
  #settleAt(x: number): void {
    const { waiting } = this.#orders;
    const { triggers } = this.#state;
    this.#exits.trail(x);
    for (;;) {
      if (waiting.length > 0) {
        const order = waiting.shift()!;
        this.#fillOrder(order, x, triggers.quote(order.side, x), this.#ledger.slipNow());
        continue;
      }
      const holding = triggers.holdingAt(x);
      if (!holding) return;
      this.#fire(holding, x, false);
    }
  }

  /** Fires a trigger at path price x. `reached`: price moved onto its level, so it fills there; else it gapped past. */
  #fire(trigger: Trigger, x: number, reached: boolean): void {
    const { lot, order } = trigger;
    const { triggers } = this.#state;
    if (trigger.role === TRIGGER.stopMove) {
      this.#exits.moveStop(lot!, x);
      return;
    }
    if (!lot && order.kind === "stop-limit") {
      triggers.drop(trigger);
      order.kind = "limit";
      order.price = order.limitPrice;
      this.#orders.work(order);
      return;
    }
    const price = triggers.fillPrice(trigger, x, reached);
    const slip = trigger.isStop ? this.#ledger.slipNow() : 0;
    this.#state.touch(x, x);
    if (lot) this.#ledger.close(lot, price, slip, trigger.isStop ? lot.stopReason : "target");
    else {
      triggers.drop(trigger);
      this.#fillOrder(order, x, price, slip);
    }
  }

  #fillOrder(order: Order, x: number, quoted: number, slip: number): void {
    const state = this.#state;
    const { instrument } = state;
    state.triggers.changed();
    const closable = order.intent === "enter" && !this.#isNetting ? 0 : closableBy(state.lots, order, instrument);
    const quantity = quantityOf(order, closable);
    if (!(quantity > 0)) {
      state.end(order, "cancelled", "there was no position to close");
      return;
    }
    const price = quoted + order.side * slip;
    const closing = Math.min(quantity, closable);
    const opening = withoutNoise(quantity - closing, instrument);
    const problem = opening > 0 && this.#refusal ? this.#refusal(order, closing, opening, price) : "";
    if (problem) {
      state.end(order, "refused", problem);
      return;
    }
    order.state = "filled";
    order.fillPrice = price;
    order.fillTime = state.timeMs;
    order.fillBar = state.barIndex;
    order.endBar = state.barIndex;
    const fill = this.#ledger.fill(order, "order", order.side, quantity, price, slip, order.tag);
    const kept = order.group ? this.#orders.keptInGroup(order, quantity) : null;
    if (closing > 0) this.#ledger.reduce(order, closing, fill, opening > 0 ? "reverse" : order.reason);
    const lot = opening > 0 ? this.#ledger.open(order, opening, fill, x) : null;
    if (kept) this.#orders.settleGroup(order, kept);
    this.#orders.cancelOrphans();
    if (state.outcome) state.report(order.id, `fill ${quantity} ${price}`, -fill.commission);
    state.listener?.filled(fill, order);
    if (lot) state.listener?.opened(lot);
  }
}

/** Units that an order trades: an exit no more than there is to close, a reversal that on top of its own. */
function quantityOf({ intent, quantity }: Order, closable: number): number {
  if (intent === "exit") return Math.min(quantity, closable);
  return intent === "reverse" ? quantity + closable : quantity;
}
