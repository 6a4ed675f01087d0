/**
 * The book of one instrument on one account: working orders and open lots, and the rules by which a price path fills
 * them (R3 to R5). It knows nothing of plans or of bars as a series: a caller moves price through it.
 *
 *   beginBar -> fillAtOpen -> alongPath (one or more price paths) -> endBar -> mark at the close
 *
 * Price `x` below is always the path price; ask(x) and bid(x) are x shifted by the two parts of the spread.
 */

import type { Costs, Instrument } from "../market/instrument.ts";
import { isOnGrid, toGrid } from "../market/price-grid.ts";
import type { Account } from "./account.ts";
import { tradeOf } from "./closed-trade.ts";
import { firstExits } from "./exits.ts";
import { LotExits } from "./lot-exits.ts";
import { type BookCounts, type BookListener, type BookSnapshot, dueOf, type Lot, type Outcome, TRIGGER, type Trigger } from "./lots.ts";
import { commissionOf, roundQuantity } from "./money.ts";
import { requestProblem } from "./order-checks.ts";
import {
  type ExitReason,
  type Fill,
  type Order,
  type OrderRequest,
  PLAIN_ORDER,
  type RailPoint,
  type Side,
  type StopReason,
} from "./orders.ts";
import { costsIn, type EngineSettings } from "./settings.ts";
import type { TradeTally } from "./tally.ts";
import { Triggers } from "./triggers.ts";

/** An order in a fill handler that fills at once and sends the next would never end: this many on one bar is a missing guard. */
const MOST_ORDERS_A_BAR = 1000;
/** Orders and exits that stand at a price at once; every bar that price moves in asks each of them. */
const MOST_AT_WORK = 5000;

export class Book {
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  readonly costs: Costs;
  readonly account: Account;
  listener: BookListener | null;
  readonly lots: Lot[] = [];
  readonly triggers: Triggers;
  readonly waiting: Order[] = [];
  /** Market orders that wait for the session's close (R2.6). */
  readonly closing: Order[] = [];
  /** Signed units and the sum of signed units x entry price, kept for marking to market. */
  units = 0;
  basisMoney = 0;
  /** Units of all lots, long and short added up: what a position is worth. */
  grossUnits = 0;
  barIndex = -1;
  #timeMs = 0;
  /** Close times while it stands at the close of bar `barIndex`; looked up when somebody asks for the time. */
  #closeTimes: Float64Array | null = null;
  #mark = Number.NaN;
  /** Where the last known close is looked up when somebody asks; null where it is set as bars go by. */
  markOf: (() => number) | null = null;
  /** Account currency for one unit of the instrument's currency. */
  rate = 1;
  /** Keeps no rails: for runs of which nobody looks at a single trade. */
  isLean = false;
  /** Takes the sums of trades in place of trades; a fill then lasts only until the next. */
  tally: TradeTally | null = null;
  /** Path price of now, for orders that start to work inside a bar. */
  pathPrice = Number.NaN;
  /** Set where several instruments share a clock: told before orders or exits are changed. */
  onTouched: (() => void) | null = null;
  /** The first bar on which an order that is sent now can fill; null where it is the one after the last completed bar. */
  firstFillBar: (() => number) | null = null;
  /** The bar that is open lies partly in the past: what is asked for works from the next open (R2.4). */
  isAsleep = false;
  /** What was asked for meanwhile, in order. */
  readonly #later: (() => void)[] = [];
  readonly #sleeping = new Set<Order>();
  /** Whether price is at an open or along a path, so that market orders fill at once. */
  inBar = false;
  readonly counts: BookCounts = { orders: 0, trades: 0, offGrid: 0 };
  /** Roots whose result depends on the path of this bar, with the money at stake. */
  dependent: Map<number, number> | null = null;
  outcome: Outcome | null = null;

  readonly #slip: number;
  readonly #isAdverse: boolean;
  readonly #isNetting: boolean;
  #mayExpire = false;
  #floodBar = -1;
  #floodCount = 0;
  readonly #exits: LotExits;
  /** Range of the bar in price units, for slippage. */
  barRange = 0;

  constructor(instrument: Instrument, account: Account, listener: BookListener | null, isFork = false) {
    const { settings } = account;
    this.instrument = instrument;
    this.account = account;
    this.settings = settings;
    this.listener = listener;
    this.triggers = new Triggers(this.lots, instrument.tickSize, settings);
    if (!isFork) this.triggers.beforeLevels = () => account.watchRuin();
    this.costs = costsIn(settings, instrument.symbol);
    this.#slip = this.costs.slippageTicks * instrument.tickSize;
    // Two paths are compared as they are assumed, whichever way the run's own exits are decided (R4.4).
    this.#isAdverse = settings.path === "adverse" && !isFork;
    this.#isNetting = settings.positions === "netting";
    this.#exits = new LotExits(this.triggers, this.lots, instrument, this.#isAdverse, (lot) => this.#rail(lot));
    this.setSpread(this.costs.spreadTicks * instrument.tickSize);
    if (!isFork) account.books.push(this);
  }

  /** The last known close. */
  get mark(): number {
    return this.markOf ? this.markOf() : this.#mark;
  }

  set mark(price: number) {
    this.#mark = price;
  }

  get timeMs(): number {
    return this.#closeTimes ? this.#closeTimes[this.barIndex]! : this.#timeMs;
  }

  set timeMs(timeMs: number) {
    this.#timeMs = timeMs;
    this.#closeTimes = null;
  }

  /** At the close of a bar. */
  standAtClose(barIndex: number, closeTimes: Float64Array): void {
    this.barIndex = barIndex;
    this.#closeTimes = closeTimes;
  }

  /** Sets the spread in price units from here on (R1.4). */
  setSpread(spread: number): void {
    this.triggers.setSpread(spread);
  }

  get idle(): boolean {
    return this.lots.length === 0 && this.triggers.list.length === 0 && this.waiting.length === 0 && this.closing.length === 0;
  }

  /** The next open has come: what was asked for while the book slept is done. */
  wake(): void {
    this.isAsleep = false;
    if (this.#later.length === 0) return;
    for (const act of this.#later.splice(0)) act();
    this.#sleeping.clear();
  }

  /** Whether something has to wait for the next open. An order that has not begun to work can be changed at once. */
  #mustWait(order: Order | null): boolean {
    return this.isAsleep && !(order && this.#sleeping.has(order));
  }

  /** Account currency for a move of 1.0 of one unit. */
  get pointMoney(): number {
    return this.instrument.pointValue * this.rate;
  }

  /** Price of this moment: along the path inside a bar, else the last close. */
  get priceNow(): number {
    return this.inBar ? this.pathPrice : this.mark;
  }

  /** Open profit with lots marked at a path price (R5.3), account currency. */
  profitAt(price: number): number {
    return this.units === 0 && this.basisMoney === 0 ? 0 : (this.units * price - this.basisMoney) * this.pointMoney;
  }

  /** Margin of some units at a price (R5.5). */
  marginOf(quantity: number, price: number): number {
    const { margin } = this.settings;
    if (!margin) return 0;
    return margin.by === "unit" ? quantity * margin.value : (quantity * Math.abs(price) * this.pointMoney) / margin.value;
  }

  // --- orders -------------------------------------------------------------------------------------------------

  /** Takes an order: it works from the current path point inside a bar, else from the next open. A bad one is refused (R3.9). */
  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    this.onTouched?.();
    const {
      side,
      kind,
      quantity,
      intent,
      tag,
      stopLoss,
      target,
      moves,
      timeInForce,
      group,
      owner,
      onlyTag,
      line,
      reason,
      atClose = false,
    } = request;
    const isLimit = kind === "stop-limit";
    // Spelled out: a spread of objects takes a slow way once prototypes are frozen.
    const order: Order = {
      side,
      kind,
      price: kind === "market" ? Number.NaN : this.#gridPrice(side, kind !== "limit", request.price),
      limitPrice: isLimit ? this.#gridPrice(side, false, request.limitPrice) : Number.NaN,
      quantity,
      intent,
      tag,
      stopLoss,
      target,
      moves,
      timeInForce,
      group,
      owner,
      onlyTag,
      line,
      reason,
      atClose,
      id: ++this.account.sequence,
      state: "working",
      note: "",
      submittedBar: this.barIndex,
      submittedTime: this.timeMs,
      expiresBar,
      expiresTime,
      fillPrice: Number.NaN,
      fillTime: Number.NaN,
      fillBar: -1,
      endBar: -1,
    };
    this.counts.orders++;
    if (expiresBar !== Infinity || expiresTime !== Infinity) this.#mayExpire = true;
    const refusal = this.#ruinProblem(reason) || this.#floodProblem() || requestProblem(order, this.instrument);
    if (refusal) this.#end(order, "refused", refusal);
    else {
      if (this.isAsleep) this.#workLater(order);
      else this.#work(order);
      this.listener?.accepted?.(order);
    }
    return order;
  }

  /** From here on the order waits for the open, or works at its price. */
  #work(order: Order): void {
    const { side, kind, price, id } = order;
    if (order.atClose) this.closing.push(order);
    else if (kind === "market") this.waiting.push(order);
    else this.triggers.add({ side, isStop: kind !== "limit", price, since: 0, sequence: id, role: TRIGGER.order, order, lot: null });
  }

  #workLater(order: Order): void {
    this.#sleeping.add(order);
    this.#later.push(() => {
      if (order.state === "working") this.#work(order);
    });
  }

  cancel(order: Order, note = "cancelled by the plan"): boolean {
    if (order.state !== "working") return false;
    this.onTouched?.();
    if (this.#mustWait(order)) {
      this.#later.push(() => void this.cancel(order, note));
      return true;
    }
    this.#remove(order);
    this.#end(order, "cancelled", note);
    return true;
  }

  /**
   * Changes a working order at once (R3.9): its price, the limit of a stop-limit order, its quantity; undefined leaves as it is.
   * @returns why it was refused, or "".
   */
  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    const problem = this.#modifyProblem(order, price, quantity, limitPrice);
    if (problem) {
      this.listener?.log("warning", `order ${order.id} not changed: ${problem}`);
      return problem;
    }
    this.onTouched?.();
    if (this.#mustWait(order)) {
      this.#later.push(() => {
        if (order.state === "working") this.modify(order, price, quantity, limitPrice);
      });
      return "";
    }
    if (quantity !== undefined) order.quantity = roundQuantity(quantity, this.instrument);
    if (limitPrice !== undefined) order.limitPrice = this.#gridPrice(order.side, false, limitPrice);
    if (price !== undefined) {
      order.price = this.#gridPrice(order.side, order.kind !== "limit", price);
      const trigger = this.triggers.of(order);
      if (trigger) this.triggers.move(trigger, order.price);
    }
    this.triggers.changed();
    return "";
  }

  #modifyProblem(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    if (order.state !== "working") return `it is ${order.state} (R3.9)`;
    if (price !== undefined && order.kind === "market") return "price of a market order can't be set (R3.9)";
    if (limitPrice !== undefined && order.kind !== "stop-limit") return `limit price: it is a ${order.kind} order (R3.9)`;
    for (const [name, value] of [
      ["price", price],
      ["limit price", limitPrice],
    ] as const)
      if (value !== undefined && !(value > 0 && Number.isFinite(value))) return `${name} ${value} is not a number above 0 (R3.9)`;
    if (quantity === undefined) return "";
    const rounded = roundQuantity(quantity, this.instrument);
    return rounded >= this.instrument.minQuantity && Number.isFinite(rounded)
      ? ""
      : `quantity ${quantity} is below the minimum of ${this.instrument.minQuantity} (R3.10)`;
  }

  /** Sets the stop or target level of a lot; null takes it away. A stop only tightens unless `mayLoosen`. */
  setExit(lot: Lot, which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    this.onTouched?.();
    if (this.#mustWait(null)) {
      this.#later.push(() => {
        if (this.lots.includes(lot)) this.setExit(lot, which, price, mayLoosen);
      });
      return true;
    }
    return this.#exits.set(lot, which, price, mayLoosen);
  }

  /** The same for every open lot of an owner; true when any changed. */
  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean, owner = ""): boolean {
    let changed = false;
    for (const lot of [...this.lots]) if (lot.order.owner === owner) changed = this.setExit(lot, which, price, mayLoosen) || changed;
    return changed;
  }

  /** Orders that wait or work, in order of submission. */
  workingOrders(): Order[] {
    const orders = [...this.waiting, ...this.closing];
    for (const order of this.#sleeping) if (order.state === "working") orders.push(order);
    for (const trigger of this.triggers.list) if (trigger.role === TRIGGER.order) orders.push(trigger.order);
    return orders.sort((a, b) => a.id - b.id);
  }

  /** Lets orders expire whose time is over: the first thing at a bar's open (R3.4). */
  expire(barIndex: number, timeMs: number): void {
    if (!this.#mayExpire) return;
    for (const order of this.workingOrders())
      if (barIndex >= order.expiresBar || timeMs >= order.expiresTime) {
        this.#remove(order);
        this.#end(order, "expired", "its time in force is over");
      }
  }

  #gridPrice(side: Side, isStop: boolean, price: number): number {
    const { tickSize } = this.instrument;
    if (!Number.isFinite(price)) return price;
    if (!isOnGrid(price, tickSize) && this.counts.offGrid++ === 0)
      this.listener?.log("notice", `price ${price} is off the grid of ${tickSize}: stops and limits are put on it (R1.4; said once a run)`);
    return toGrid(price, tickSize, side > 0 === isStop ? "up" : "down");
  }

  #ruinProblem(reason: ExitReason): string {
    return this.account.isOver && reason !== "ruin" ? "the account is wiped out: it can trade no more (R5.6)" : "";
  }

  #floodProblem(): string {
    if (this.#floodBar !== this.barIndex) {
      this.#floodBar = this.barIndex;
      this.#floodCount = 0;
    }
    if (this.triggers.list.length + this.waiting.length > MOST_AT_WORK)
      return `more than ${MOST_AT_WORK} active orders: the plan has no guard against repeated entries`;
    return ++this.#floodCount > MOST_ORDERS_A_BAR
      ? `more than ${MOST_ORDERS_A_BAR} orders on one bar: the plan has no guard against repeated entries`
      : "";
  }

  #remove(order: Order): void {
    const trigger = this.triggers.of(order);
    if (trigger) this.triggers.drop(trigger);
    for (const queue of [this.waiting, this.closing]) {
      const queued = queue.indexOf(order);
      if (queued >= 0) queue.splice(queued, 1);
    }
    this.triggers.changed();
  }

  #end(order: Order, state: "cancelled" | "refused" | "expired", note: string): void {
    order.state = state;
    order.endBar = this.barIndex;
    order.note = note;
    this.listener?.ended(order);
  }

  // --- price --------------------------------------------------------------------------------------------------

  /** Notes the levels of a lot from this bar on. */
  #rail(lot: Lot): void {
    if (this.isLean) return;
    const point: RailPoint = { barIndex: this.barIndex, stop: lot.stop?.price ?? null, target: lot.target?.price ?? null };
    // Most lots keep the levels of their entry: a list of one takes no room for more.
    if (lot.rails.length === 0) lot.rails = [point];
    else lot.rails.push(point);
  }

  /** A bar opens: lots whose time limit is over close first, then everything else fills that can at its open price (R2.1). */
  fillAtOpen(x: number, range = 0): void {
    this.inBar = true;
    this.pathPrice = x;
    this.triggers.step++;
    this.triggers.isAtOpen = true;
    this.barRange = range;
    this.touch(x, x);
    const { dueBar, dueTime } = this.triggers;
    if (this.lots.length > 0 && (this.barIndex >= dueBar || this.timeMs >= dueTime)) this.#closeOverdue(x);
    this.#settleAt(x);
    this.triggers.isAtOpen = false;
    this.#tellPrice(x);
  }

  #closeOverdue(x: number): void {
    for (const lot of [...this.lots])
      if (lot.quantity > 0 && (this.barIndex >= lot.dueBar || this.timeMs >= lot.dueTime))
        this.#closeLot(lot, this.triggers.quoteOf(lot, x), this.#slipNow(), "time");
  }

  /** Moves price along one path O-A-B-C; `first` tells which extreme comes first. The open has been dealt with already. */
  alongPath(open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    if (this.#isAdverse) this.#exits.beginAdverse(high, low, close);
    this.#moveTo(open, first === "high" ? high : low);
    this.#moveTo(this.pathPrice, first === "high" ? low : high);
    this.#moveTo(this.pathPrice, close);
    if (this.#isAdverse) this.#endAdverse(close);
  }

  /** Somebody acts inside the bar: told at the open and at each turning point of the path, from where new orders work at once (R2.4). */
  onPrice: ((x: number) => void) | null = null;

  #tellPrice(x: number): void {
    if (!this.onPrice) return;
    this.onPrice(x);
    this.#settleAt(x);
  }

  /** The session closes at price x: what waits for it fills, as market orders do (R2.6). */
  fillAtSessionClose(x: number): void {
    this.pathPrice = x;
    // What one of them fills may end others; what its handlers send for a close is meant for the next.
    for (const order of [...this.closing]) {
      if (order.state !== "working") continue;
      this.closing.splice(this.closing.indexOf(order), 1);
      this.#fillOrder(order, x, this.triggers.quote(order.side, x), this.#slipNow());
    }
    this.#settleAt(x);
  }

  /** Ends the bar: market orders from here on wait for the next open. */
  endBar(): void {
    this.inBar = false;
  }

  /** Adverse paths: stops that count as hit, wherever on its path the bar was (R4.3). */
  #endAdverse(close: number): void {
    for (const lot of [...this.lots]) {
      const stop = this.#exits.hitStop(lot);
      if (!stop) continue;
      const x = this.triggers.levelOf(stop);
      this.pathPrice = x;
      // Its own extremes only: no other lot need have seen this price.
      if (x > lot.high) lot.high = x;
      if (x < lot.low) lot.low = x;
      this.#closeLot(lot, stop.price, this.#slipNow(), lot.stopReason);
    }
    this.pathPrice = close;
    this.#exits.endAdverse();
  }

  /**
   * Makes up for quiet bars that were crossed without looking at extremes; set by whoever crosses them. Called before the
   * open lots change, and when somebody asks for their highest or lowest price.
   */
  settleQuiet: (() => void) | null = null;
  /** Forgets them: nobody will ask for the extremes of a lot that is gone. */
  dropQuiet: (() => void) | null = null;

  /** Takes note that price went between `low` and `high` with nothing happening. */
  touch(low: number, high: number): void {
    const { lots } = this;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      if (high > lot.high) lot.high = high;
      if (low < lot.low) lot.low = low;
    }
  }

  #moveTo(from: number, to: number): void {
    let x = from;
    for (;;) {
      this.#settleAt(x);
      const next = this.triggers.nextBetween(x, to);
      if (!next) break;
      x = this.triggers.levelOf(next);
      this.triggers.step++;
      this.pathPrice = x;
      this.touch(x, x);
      this.#exits.trail(x);
      this.#fire(next, x, true);
    }
    this.triggers.step++;
    this.pathPrice = to;
    this.touch(Math.min(x, to), Math.max(x, to));
    this.#exits.trail(to);
    if (this.onPrice && to !== from) this.#tellPrice(to);
  }

  /** Fills what can fill without price moving, until nothing is left: waiting market orders, then triggers whose condition holds. */
  #settleAt(x: number): void {
    this.#exits.trail(x);
    for (;;) {
      if (this.waiting.length > 0) {
        const order = this.waiting.shift()!;
        this.#fillOrder(order, x, this.triggers.quote(order.side, x), this.#slipNow());
        continue;
      }
      const holding = this.triggers.holdingAt(x);
      if (!holding) return;
      this.#fire(holding, x, false);
    }
  }

  /** Fires a trigger at path price x. `reached`: price moved onto its level, so it fills there; else it gapped past. */
  #fire(trigger: Trigger, x: number, reached: boolean): void {
    const { lot, order } = trigger;
    if (trigger.role === TRIGGER.arm) {
      this.#exits.fireArm(lot!, x);
      return;
    }
    if (!lot && order.kind === "stop-limit") {
      this.triggers.drop(trigger);
      order.kind = "limit";
      order.price = order.limitPrice;
      this.#work(order);
      return;
    }
    const price = this.triggers.fillPrice(trigger, x, reached);
    const slip = trigger.isStop ? this.#slipNow() : 0;
    this.touch(x, x);
    if (lot) this.#closeLot(lot, price, slip, trigger.isStop ? lot.stopReason : "target");
    else {
      this.triggers.drop(trigger);
      this.#fillOrder(order, x, price, slip);
    }
  }

  // --- fills --------------------------------------------------------------------------------------------------

  /** Slippage of a market or stop fill at this moment, price units (R5.4). */
  #slipNow(): number {
    const { slippageRange, slippageRandomTicks } = this.costs;
    let slip = this.#slip;
    if (slippageRange > 0) slip += slippageRange * this.barRange;
    if (slippageRandomTicks > 0) slip += (this.outcome ? 0.5 : this.account.draw()) * slippageRandomTicks * this.instrument.tickSize;
    return slip;
  }

  #fillOrder(order: Order, x: number, quoted: number, slip: number): void {
    this.triggers.changed();
    const closable = order.intent === "enter" && !this.#isNetting ? 0 : this.closableBy(order);
    const quantity =
      order.intent === "exit"
        ? Math.min(order.quantity, closable)
        : order.intent === "reverse"
          ? order.quantity + closable
          : order.quantity;
    if (!(quantity > 0)) {
      this.#end(order, "cancelled", "there was no position to close");
      return;
    }
    const price = quoted + order.side * slip;
    const closing = Math.min(quantity, closable);
    const opening = this.#clean(quantity - closing);
    if (opening > 0 && (this.settings.margin || this.settings.maxPositions !== null) && !this.outcome) {
      const problem = this.account.positionsProblem(this, order) || this.#marginProblem(closing, opening, price);
      if (problem) {
        this.#end(order, "refused", problem);
        return;
      }
    }
    order.state = "filled";
    order.fillPrice = price;
    order.fillTime = this.timeMs;
    order.fillBar = this.barIndex;
    order.endBar = this.barIndex;
    const fill = this.#fillOf(order, "order", order.side, quantity, price, slip, order.tag, order.line);
    this.account.cash -= fill.commission;
    const kept = order.group ? this.#keptInGroup(order, quantity) : null;
    if (closing > 0) this.#reduce(order, closing, fill, opening > 0 ? "reverse" : order.reason);
    const lot = opening > 0 ? this.#openLot(order, opening, fill, x) : null;
    if (kept) this.#settleGroup(order, kept);
    this.#endOrphans();
    if (this.outcome) this.report(order.id, `fill ${quantity} ${price}`, -fill.commission);
    this.listener?.filled(fill, order);
    if (lot) this.listener?.opened(lot);
  }

  #marginProblem(closing: number, opening: number, price: number): string {
    return this.settings.margin ? this.account.marginProblem(this, closing, opening, price) : "";
  }

  #fillOf(
    order: Order,
    source: Fill["source"],
    side: Side,
    quantity: number,
    price: number,
    slip: number,
    tag: string,
    line: number,
  ): Fill {
    const money = quantity * this.pointMoney;
    const offset = this.triggers.spreadPaid(side);
    const commission = commissionOf(this.costs, quantity, price, this.pointMoney);
    const scratch = this.#scratch;
    if (scratch && this.tally) {
      scratch.orderId = order.id;
      scratch.source = source;
      scratch.side = side;
      scratch.quantity = quantity;
      scratch.price = price;
      scratch.commission = commission;
      scratch.spread = offset * money;
      scratch.slippage = slip * money;
      return scratch;
    }
    const fill = {
      orderId: order.id,
      source,
      side,
      quantity,
      price,
      timeMs: this.timeMs,
      barIndex: this.barIndex,
      commission,
      spread: offset * money,
      slippage: slip * money,
      tag,
      line,
    };
    if (this.tally) this.#scratch = fill;
    return fill;
  }

  /** The one fill of a book that only keeps sums. */
  #scratch: { -readonly [Field in keyof Fill]: Fill[Field] } | null = null;

  /** Units that an order of this side may close: opposite lots of its owner, and of its tag where it names one. */
  closableBy(order: Pick<Order, "side" | "owner" | "onlyTag">): number {
    let units = 0;
    const { lots } = this;
    for (let k = 0; k < lots.length; k++) if (isClosedBy(lots[k]!, order)) units += lots[k]!.quantity;
    return lots.length > 1 ? this.#clean(units) : units;
  }

  /** Sums of quantities, freed of rounding noise. */
  #clean(quantity: number): number {
    return roundQuantity(quantity + this.instrument.quantityStep * 1e-7, this.instrument);
  }

  /** Closes lots first in, first out (R5.1). */
  #reduce(order: Order, quantity: number, fill: Fill, reason: ExitReason): void {
    let left = quantity;
    for (let k = 0; left > 0 && k < this.lots.length; ) {
      const lot = this.lots[k]!;
      if (!isClosedBy(lot, order)) {
        k++;
        continue;
      }
      const part = Math.min(left, lot.quantity);
      this.#closePart(lot, part, fill, reason, order.tag, order.line);
      left = this.#clean(left - part);
      if (this.lots[k] === lot && left > 0) break;
    }
  }

  #openLot(order: Order, quantity: number, fill: Fill, x: number): Lot {
    this.settleQuiet?.();
    const per = 1 / fill.quantity;
    const { side } = order;
    const entry = { price: fill.price, side, quantity, pointValue: this.pointMoney, risk: Number.NaN };
    const exits = firstExits(order, entry, this.triggers.quote(-side as Side, x), this.instrument);
    const limit = order.moves?.timeLimit;
    const due = limit ? dueOf(limit, this.barIndex, this.timeMs) : null;
    const lot: Lot = {
      order,
      side,
      quantity,
      entryPrice: fill.price,
      entryTime: this.timeMs,
      entryBar: this.barIndex,
      high: x,
      low: x,
      commissionPerUnit: fill.commission * per,
      spreadPerUnit: fill.spread * per,
      slippagePerUnit: fill.slippage * per,
      financingPerUnit: 0,
      riskPerUnit: exits.risk,
      stop: null,
      stopReason: "stop",
      target: null,
      trail: exits.trail,
      arms: exits.arms,
      arm: null,
      dueBar: due ? due.bar : Number.POSITIVE_INFINITY,
      dueTime: due ? due.time : Number.POSITIVE_INFINITY,
      targetIsOff: false,
      stopIsHit: false,
      isOnEntryPath: false,
      pathDependent: this.dependent?.has(order.id) ?? false,
      atStake: this.dependent?.get(order.id) ?? 0,
      rails: [],
    };
    this.lots.push(lot);
    this.recount();
    this.#exits.begin(lot, exits);
    return lot;
  }

  /** Closes all of a lot: its stop or target, or its time limit. */
  #closeLot(lot: Lot, quoted: number, slip: number, source: StopReason | "target" | "time"): void {
    const side = -lot.side as Side;
    const price = quoted + side * slip;
    const { order } = lot;
    const fill = this.#fillOf(order, source, side, lot.quantity, price, slip, order.tag, order.line);
    this.account.cash -= fill.commission;
    if (this.outcome) this.report(order.id, `${source} ${price}`, -fill.commission);
    this.#closePart(lot, lot.quantity, fill, source, "", order.line);
    this.#endOrphans();
    this.listener?.filled(fill, order);
  }

  #closePart(lot: Lot, quantity: number, fill: Fill, reason: ExitReason, exitTag: string, exitLine: number): void {
    if (this.isLean && this.lots.length === 1 && quantity >= lot.quantity) this.dropQuiet?.();
    else this.settleQuiet?.();
    const { pointMoney } = this;
    const share = fill.quantity > 0 ? quantity / fill.quantity : 0;
    const commission = lot.commissionPerUnit * quantity + fill.commission * share;
    const spread = lot.spreadPerUnit * quantity + fill.spread * share;
    const slippage = lot.slippagePerUnit * quantity + fill.slippage * share;
    const financing = lot.financingPerUnit * quantity;
    const realised = lot.side * (fill.price - lot.entryPrice) * quantity * pointMoney;
    const net = realised - commission - financing;
    this.counts.trades++;
    this.account.trades++;
    if (this.tally)
      this.tally.add(
        net,
        commission,
        spread,
        slippage,
        financing,
        lot.pathDependent || (this.dependent?.has(lot.order.id) ?? false),
        this.instrument.tickSize * this.instrument.pointValue * quantity,
        (lot.riskPerUnit ?? 0) * quantity * pointMoney,
      );
    const trade = this.tally
      ? null
      : tradeOf(
          lot,
          quantity,
          { reason, exitTag, exitLine, commission, spread, slippage, financing, net },
          {
            id: this.account.trades,
            symbol: this.instrument.symbol,
            price: fill.price,
            timeMs: this.timeMs,
            barIndex: this.barIndex,
            pointMoney,
            atStake: this.dependent?.get(lot.order.id),
          },
        );
    this.account.cash += realised;
    lot.quantity = this.#clean(lot.quantity - quantity);
    if (!(lot.quantity > 0)) {
      this.#exits.detachAll(lot);
      if (this.lots.length === 1) this.lots.pop();
      else this.lots.splice(this.lots.indexOf(lot), 1);
    }
    this.recount();
    if (this.waiting.length + this.closing.length + this.triggers.list.length + this.#sleeping.size > 0) this.#shrinkExits(lot);
    if (this.outcome) this.report(lot.order.id, `close ${quantity} ${fill.price}`, realised);
    if (trade) this.listener?.closed(trade);
  }

  /** Units and basis, after the lots have changed. */
  recount(): void {
    let units = 0;
    let gross = 0;
    let money = 0;
    const { lots } = this;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      gross += lot.quantity;
      units += lot.side * lot.quantity;
      money += lot.side * lot.quantity * lot.entryPrice;
    }
    if (units !== this.units || money !== this.basisMoney) this.account.isRuinStale = true;
    this.units = units;
    this.grossUnits = gross;
    this.basisMoney = money;
  }

  /** A position has become smaller: exits close no more than what is left of it, and end with it (R3.5). */
  #shrinkExits(closed: Lot): void {
    const { list } = this.triggers;
    for (let k = 0; k < list.length; k++) if (list[k]!.role === TRIGGER.order) this.#shrinkExit(list[k]!.order, closed);
    for (const order of this.waiting) this.#shrinkExit(order, closed);
    for (const order of this.closing) this.#shrinkExit(order, closed);
    for (const order of this.#sleeping) this.#shrinkExit(order, closed);
  }

  #shrinkExit(order: Order, closed: Lot): void {
    if (order.intent !== "exit" || order.state !== "working" || !isClosedBy(closed, order)) return;
    const left = this.closableBy(order);
    if (!(left > 0)) this.#orphans.push(order);
    else if (order.group && order.quantity > left && order.quantity !== Number.POSITIVE_INFINITY) order.quantity = left;
  }

  /** Exits that have nothing left to close; they end when the fill that closed it is complete. */
  readonly #orphans: Order[] = [];

  #endOrphans(): void {
    while (this.#orphans.length > 0) {
      const order = this.#orphans.pop()!;
      if (order.state !== "working") continue;
      this.#remove(order);
      this.#end(order, "cancelled", "what it was there to close has been closed");
    }
  }

  /** Others of a group that outlive this fill: exits of which it closes only a part (R3.5). */
  #keptInGroup(filled: Order, quantity: number): Order[] {
    if (filled.intent !== "exit") return [];
    return this.workingOrders().filter(
      (order) =>
        order !== filled &&
        order.group === filled.group &&
        order.intent === "exit" &&
        order.quantity > quantity &&
        this.closableBy(order) > quantity,
    );
  }

  /** One of a group has filled: the rest is cancelled. */
  #settleGroup(filled: Order, kept: readonly Order[]): void {
    for (const order of this.workingOrders()) {
      if (order === filled || order.group !== filled.group || order.owner !== filled.owner || kept.includes(order)) continue;
      this.#remove(order);
      this.#end(order, "cancelled", `order ${filled.id} of its group filled first`);
    }
  }

  /** Charges open lots for nights held (R5.4). */
  chargeNights(nights: number): void {
    const { financingLong, financingShort } = this.costs;
    for (const lot of this.lots) {
      const perUnit = nights * (lot.side > 0 ? financingLong : financingShort);
      lot.financingPerUnit += perUnit;
      this.account.cash -= perUnit * lot.quantity;
    }
    this.account.isRuinStale = true;
    this.triggers.changed();
  }

  /** Equity is under the maintenance level: everything closes at the next open (R5.5). */
  callMargin(): void {
    this.#closeAllAtOpen("margin", "margin call");
  }

  #closeAllAtOpen(reason: "margin" | "ruin", tag: string): void {
    for (const lot of this.lots) {
      const already = this.workingOrders().some(
        (order) => order.reason === reason && order.side === -lot.side && order.owner === lot.order.owner,
      );
      if (already) continue;
      this.submit(
        {
          ...PLAIN_ORDER,
          side: -lot.side as Side,
          kind: "market",
          quantity: Number.POSITIVE_INFINITY,
          intent: "exit",
          tag,
          owner: lot.order.owner,
          reason,
        },
        Number.POSITIVE_INFINITY,
        Number.POSITIVE_INFINITY,
      );
    }
  }

  /** The account is wiped out: working orders are cancelled, and what is open closes at the next open (R5.6). */
  endAll(): void {
    for (const order of this.workingOrders()) this.cancel(order, "the account is wiped out (R5.6)");
    this.#closeAllAtOpen("ruin", "wiped out");
  }

  /**
   * Sets the path price at which equity would be gone.
   * @param share what this position may lose of it, from the last close on; null where it is the only one.
   */
  watchRuin(share: number | null): void {
    const { triggers, units, pointMoney } = this;
    // Case: flat, as before.
    if (units === 0 && triggers.ruinUp === Number.POSITIVE_INFINITY && triggers.ruinDown === Number.NEGATIVE_INFINITY) return;
    triggers.ruinUp = Number.POSITIVE_INFINITY;
    triggers.ruinDown = Number.NEGATIVE_INFINITY;
    if (units !== 0) {
      const mark = Number.isFinite(this.mark) ? this.mark : this.basisMoney / units;
      const level =
        share === null ? (this.basisMoney * pointMoney - this.account.cash) / (units * pointMoney) : mark - share / (units * pointMoney);
      if (units > 0) triggers.ruinDown = level;
      else triggers.ruinUp = level;
    }
    this.onTouched?.();
    triggers.changed();
  }

  /** Marks open positions out at a price without costs (R5.6). */
  markOut(price: number): void {
    for (const lot of [...this.lots]) {
      const fill: Fill = {
        ...this.#fillOf(lot.order, "end of data", -lot.side as Side, lot.quantity, price, 0, "", 0),
        commission: 0,
        spread: 0,
      };
      this.#closePart(lot, lot.quantity, fill, "end of data", "", 0);
    }
    // Orders stay as they are: nothing has closed, the data is over.
    this.#orphans.length = 0;
  }

  // --- keeping an account over a restart -------------------------------------------------------------------------

  /** Everything of the account that `restore` needs, as plain structured-clone data. */
  snapshot(): BookSnapshot {
    return {
      cash: this.account.cash,
      sequence: this.account.sequence,
      counts: { ...this.counts },
      lots: this.lots.map(({ stop, target, arm: _arm, ...lot }) => ({
        ...lot,
        stopPrice: stop?.price ?? null,
        targetPrice: target?.price ?? null,
      })),
      orders: this.workingOrders(),
    };
  }

  restore(snapshot: BookSnapshot): void {
    this.account.cash = snapshot.cash;
    this.account.sequence = snapshot.sequence;
    this.account.trades = snapshot.counts.trades;
    Object.assign(this.counts, snapshot.counts);
    for (const { stopPrice, targetPrice, ...plain } of snapshot.lots) {
      const lot: Lot = { ...plain, stop: null, target: null, arm: null };
      this.lots.push(lot);
      if (stopPrice !== null) this.#exits.attach(lot, "stop", stopPrice);
      if (targetPrice !== null) this.#exits.attach(lot, "target", targetPrice);
      if (lot.arms.length > 0) this.#exits.watchArm(lot);
    }
    for (const order of snapshot.orders) this.#work(order);
    this.#mayExpire = true;
    this.recount();
    this.triggers.changed();
  }

  /** On a fork: what became of the order that all this comes from. */
  report(rootId: number, event: string, money: number): void {
    if (!this.outcome) return;
    const entry = this.outcome.get(rootId) ?? { trail: "", money: 0 };
    entry.trail += `${event};`;
    entry.money += money;
    this.outcome.set(rootId, entry);
  }
}

function isClosedBy(lot: Lot, order: Pick<Order, "side" | "owner" | "onlyTag">): boolean {
  return lot.side !== order.side && lot.order.owner === order.owner && (order.onlyTag === "" || lot.order.tag === order.onlyTag);
}
