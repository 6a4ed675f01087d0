/**
 * The book of one instrument on one account: working orders, open lots and cash, and the rules by which a price path
 * fills them (R3 to R5). It knows nothing of plans or of bars as a series: a caller moves price through it.
 *
 *   beginBar -> fillAtOpen -> alongPath (one or more price paths) -> mark at the close
 *
 * Price `x` below is always the path price; ask(x) and bid(x) are x shifted by the two halves of the spread.
 */
import type { Instrument } from "../market/instrument.ts";
import { isOnGrid, toGrid } from "../market/price-grid.ts";
import type { BookCounts, BookListener, BookSnapshot, Lot, Outcome, Trigger } from "./lots.ts";
import { commissionOf, exitLevel, roundQuantity } from "./money.ts";
import type { Distance, ExitReason, Fill, Order, OrderKind, OrderRequest, Side, Trade } from "./orders.ts";
import type { EngineSettings } from "./settings.ts";

/** An order in a fill handler that fills at once and sends the next would never end: this many on one bar is a missing guard. */
const MOST_ORDERS_A_BAR = 1000;

export class Book {
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  listener: BookListener | null;
  cash: number;
  readonly lots: Lot[] = [];
  readonly triggers: Trigger[] = [];
  readonly waiting: Order[] = [];
  /** Signed units and the sum of signed units x entry price, kept for marking to market. */
  units = 0;
  basisMoney = 0;
  barIndex = -1;
  timeMs = 0;
  /** Keeps no rails: for runs of which nobody looks at a single trade. */
  isLean = false;
  /** Path price of now, for orders that start to work inside a bar. */
  pathPrice = Number.NaN;
  /** Whether price is at an open or along a path, so that market orders fill at once. */
  inBar = false;
  readonly counts: BookCounts = { orders: 0, trades: 0, offGrid: 0 };
  /** Roots whose result depends on the path of this bar, with the money at stake. */
  dependent: Map<number, number> | null = null;
  outcome: Outcome | null = null;

  /** Price levels that nothing triggers between; found anew when they are asked for after a change. */
  #upLevel = Number.POSITIVE_INFINITY;
  #downLevel = Number.NEGATIVE_INFINITY;
  #levelsAreStale = false;
  #askOffset = 0;
  #bidOffset = 0;
  #slip: number;
  #through: number;
  readonly #tolerance: number;
  #sequence = 0;
  #mayExpire = false;
  #floodBar = -1;
  #floodCount = 0;

  constructor(instrument: Instrument, settings: EngineSettings, listener: BookListener | null) {
    this.instrument = instrument;
    this.settings = settings;
    this.listener = listener;
    this.cash = settings.cash;
    this.#tolerance = instrument.tickSize * 1e-6;
    this.#slip = settings.costs.slippageTicks * instrument.tickSize;
    this.#through = settings.throughTicks * instrument.tickSize;
    this.setSpread(settings.costs.spreadTicks * instrument.tickSize);
  }

  /** Sets the spread in price units from here on (R1.4). */
  setSpread(spread: number): void {
    this.#askOffset = this.settings.basis === "bid" ? spread : spread / 2;
    this.#bidOffset = this.settings.basis === "bid" ? 0 : spread / 2;
    this.refreshLevels();
  }

  get idle(): boolean {
    return this.lots.length === 0 && this.triggers.length === 0 && this.waiting.length === 0;
  }

  /** Equity with open lots marked at a path price (R5.3). */
  equityAt(price: number): number {
    return this.units === 0 ? this.cash : this.cash + (this.units * price - this.basisMoney) * this.instrument.pointValue;
  }

  /** Mean entry price of the open lots, NaN when flat. */
  get averagePrice(): number {
    return this.units === 0 ? Number.NaN : this.basisMoney / this.units;
  }

  // --- orders -------------------------------------------------------------------------------------------------

  /** Takes an order: it works from the current path point inside a bar, else from the next open. A bad one is refused (R3.9). */
  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    const { side, kind, quantity, intent, tag, stopLoss, target, timeInForce, group, line, reason } = request;
    // Spelled out: a spread of objects takes a slow way once prototypes are frozen.
    const order: Order = {
      side,
      kind,
      price: kind === "market" ? Number.NaN : this.#gridPrice(side, kind, request.price),
      quantity,
      intent,
      tag,
      stopLoss,
      target,
      timeInForce,
      group,
      line,
      reason,
      id: ++this.#sequence,
      state: "working",
      note: "",
      submittedBar: this.barIndex,
      submittedTime: this.timeMs,
      expiresBar,
      expiresTime,
      fillPrice: Number.NaN,
      fillTime: Number.NaN,
      fillBar: -1,
    };
    this.counts.orders++;
    if (expiresBar !== Infinity || expiresTime !== Infinity) this.#mayExpire = true;
    const refusal = this.#refusalOf(order);
    if (refusal) this.#end(order, "refused", refusal);
    else this.#work(order);
    return order;
  }

  /** From here on the order waits for the open, or works at its price. */
  #work(order: Order): void {
    const { side, kind, price, id } = order;
    if (kind === "market") this.waiting.push(order);
    else this.#addTrigger({ side, isStop: kind === "stop", price, sequence: id, rank: 0, order, lot: null });
  }

  cancel(order: Order, note = "cancelled by the plan"): boolean {
    if (order.state !== "working") return false;
    this.#remove(order);
    this.#end(order, "cancelled", note);
    return true;
  }

  /** Moves a working stop or limit order to another price, at once (R3.9). */
  move(order: Order, price: number): boolean {
    const trigger = this.triggers.find((candidate) => candidate.order === order && candidate.lot === null);
    if (!trigger || !(price > 0)) {
      this.listener?.log(
        "warning",
        trigger ? `order ${order.id} not moved: price ${price} is not above 0` : `order ${order.id} not moved: it is ${order.state}`,
      );
      return false;
    }
    order.price = this.#gridPrice(order.side, order.kind, price);
    trigger.price = order.price;
    this.refreshLevels();
    return true;
  }

  /** Sets the stop or target level of a lot; null takes it away. A stop only tightens unless `mayLoosen`. */
  setExit(lot: Lot, which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    const current = lot[which];
    if (price === null) {
      if (current && which === "stop" && !mayLoosen) return false;
      this.#detach(lot, which);
      this.#rail(lot);
      return true;
    }
    const isStop = which === "stop";
    const level = toGrid(price, this.instrument.tickSize, lot.side > 0 === isStop ? "down" : "up");
    if (!(level > 0)) return false;
    if (current) {
      if (isStop && !mayLoosen && (level - current.price) * lot.side <= 0) return false;
      current.price = level;
    } else this.#attach(lot, which, level);
    this.refreshLevels();
    this.#rail(lot);
    return true;
  }

  /** The same for every open lot; true when any changed. */
  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    let changed = false;
    for (const lot of [...this.lots]) changed = this.setExit(lot, which, price, mayLoosen) || changed;
    return changed;
  }

  /** Orders that wait or work, in order of submission. */
  workingOrders(): Order[] {
    const orders = [...this.waiting];
    for (const trigger of this.triggers) if (trigger.lot === null) orders.push(trigger.order);
    return orders.sort((a, b) => a.id - b.id);
  }

  /** Lets orders expire whose time is over: the first thing at a bar's open (R3.4). */
  expire(barIndex: number, timeMs: number): void {
    for (const order of this.workingOrders())
      if (barIndex >= order.expiresBar || timeMs >= order.expiresTime) {
        this.#remove(order);
        this.#end(order, "expired", "its time in force is over");
      }
  }

  /** Whether any working order can expire at all. */
  get hasExpiry(): boolean {
    return this.#mayExpire && this.workingOrders().some((order) => order.expiresBar !== Infinity || order.expiresTime !== Infinity);
  }

  #gridPrice(side: Side, kind: OrderKind, price: number): number {
    const { tickSize } = this.instrument;
    if (!Number.isFinite(price)) return price;
    if (!isOnGrid(price, tickSize) && this.counts.offGrid++ === 0)
      this.listener?.log("notice", `price ${price} is off the grid of ${tickSize}: stops and limits are put on it (R1.4; said once a run)`);
    return toGrid(price, tickSize, side > 0 === (kind === "stop") ? "up" : "down");
  }

  #refusalOf(order: Order): string {
    if (this.#floodBar !== this.barIndex) {
      this.#floodBar = this.barIndex;
      this.#floodCount = 0;
    }
    if (++this.#floodCount > MOST_ORDERS_A_BAR) return `more than ${MOST_ORDERS_A_BAR} orders on one bar: a guard is missing`;
    if (order.kind !== "market" && !(order.price > 0 && Number.isFinite(order.price)))
      return `price ${order.price} is not a number above 0`;
    if (order.intent === "exit" && order.quantity > 0) return "";
    if (!(order.quantity > 0) || !Number.isFinite(order.quantity)) return `quantity ${order.quantity} is not a number above 0`;
    if (order.quantity < this.instrument.minQuantity)
      return `quantity ${order.quantity} is below the minimum of ${this.instrument.minQuantity} (R3.10)`;
    return distanceProblem("stopLoss", order.stopLoss) || distanceProblem("target", order.target);
  }

  #addTrigger(trigger: Trigger): void {
    this.triggers.push(trigger);
    this.refreshLevels();
  }

  #remove(order: Order): void {
    const at = this.triggers.findIndex((trigger) => trigger.order === order && trigger.lot === null);
    if (at >= 0) this.triggers.splice(at, 1);
    const queued = this.waiting.indexOf(order);
    if (queued >= 0) this.waiting.splice(queued, 1);
    this.refreshLevels();
  }

  #end(order: Order, state: "cancelled" | "refused" | "expired", note: string): void {
    order.state = state;
    order.note = note;
    this.listener?.ended(order);
  }

  #attach(lot: Lot, which: "stop" | "target", price: number): void {
    const isStop = which === "stop";
    const trigger: Trigger = {
      side: -lot.side as Side,
      isStop,
      price,
      sequence: lot.order.id,
      rank: isStop ? 1 : 2,
      order: lot.order,
      lot,
    };
    lot[which] = trigger;
    this.#addTrigger(trigger);
  }

  #detach(lot: Lot, which: "stop" | "target"): void {
    const trigger = lot[which];
    if (!trigger) return;
    lot[which] = null;
    dropFrom(this.triggers, trigger);
    this.refreshLevels();
  }

  #rail(lot: Lot): void {
    if (this.isLean) return;
    lot.rails.push({ barIndex: this.barIndex, stop: lot.stop?.price ?? null, target: lot.target?.price ?? null });
  }

  // --- price --------------------------------------------------------------------------------------------------

  /** Path price at or above which something may trigger. */
  get upLevel(): number {
    if (this.#levelsAreStale) this.#findLevels();
    return this.#upLevel;
  }

  /** Path price at or below which something may trigger. */
  get downLevel(): number {
    if (this.#levelsAreStale) this.#findLevels();
    return this.#downLevel;
  }

  /** Triggers or the spread have changed. */
  refreshLevels(): void {
    this.#levelsAreStale = true;
  }

  /** The two path prices between which no trigger can fire. A hair wide, so that rounding never hides a fill. */
  #findLevels(): void {
    this.#levelsAreStale = false;
    let up = Number.POSITIVE_INFINITY;
    let down = Number.NEGATIVE_INFINITY;
    const { triggers } = this;
    for (let k = 0; k < triggers.length; k++) {
      const trigger = triggers[k]!;
      const level = this.#levelOf(trigger);
      if (risesTo(trigger)) {
        if (level < up) up = level;
      } else if (level > down) down = level;
    }
    this.#upLevel = up - this.#tolerance;
    this.#downLevel = down + this.#tolerance;
  }

  /** Path price at which a trigger fires. */
  #levelOf({ side, isStop, price }: Trigger): number {
    if (isStop) return side > 0 ? price - this.#askOffset : price + this.#bidOffset;
    return side > 0 ? price - this.#through - this.#askOffset : price + this.#through + this.#bidOffset;
  }

  #holds(trigger: Trigger, x: number): boolean {
    const level = this.#levelOf(trigger);
    return risesTo(trigger) ? x >= level - this.#tolerance : x <= level + this.#tolerance;
  }

  /** Everything at the bar's open price: waiting market orders in order of submission, then stops and limits (R2.1). */
  fillAtOpen(x: number): void {
    this.inBar = true;
    this.pathPrice = x;
    this.touch(x, x);
    this.#settleAt(x);
  }

  /** Moves price along one bar's path O-A-B-C; `first` tells which extreme comes first. The open has been dealt with already. */
  alongPath(open: number, high: number, low: number, close: number, first: "high" | "low"): void {
    this.#moveTo(open, first === "high" ? high : low);
    this.#moveTo(this.pathPrice, first === "high" ? low : high);
    this.#moveTo(this.pathPrice, close);
  }

  /** Ends the bar: market orders from here on wait for the next open. */
  endBar(): void {
    this.inBar = false;
  }

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
      const next = this.#nextBetween(x, to);
      if (!next) break;
      x = this.#levelOf(next);
      this.pathPrice = x;
      this.touch(x, x);
      this.#fire(next, x, true);
    }
    this.pathPrice = to;
    this.touch(Math.min(from, to), Math.max(from, to));
  }

  /** Fills what can fill without price moving, until nothing is left: waiting market orders, then triggers whose condition holds. */
  #settleAt(x: number): void {
    for (;;) {
      const order = this.waiting.shift();
      if (order) {
        this.#fillOrder(order, x, order.side > 0 ? x + this.#askOffset : x - this.#bidOffset, this.#slip);
        continue;
      }
      let holding: Trigger | null = null;
      const { triggers } = this;
      for (let k = 0; k < triggers.length; k++) {
        const trigger = triggers[k]!;
        if (this.#holds(trigger, x) && (!holding || comesBefore(trigger, holding))) holding = trigger;
      }
      if (!holding) return;
      this.#fire(holding, x, false);
    }
  }

  /** The first trigger that price meets on its way from x to `to`; ties by submission. */
  #nextBetween(x: number, to: number): Trigger | null {
    const rising = to > x;
    let best: Trigger | null = null;
    let bestLevel = 0;
    const { triggers } = this;
    for (let k = 0; k < triggers.length; k++) {
      const trigger = triggers[k]!;
      if (risesTo(trigger) !== rising || !this.#holds(trigger, to)) continue;
      const level = this.#levelOf(trigger);
      const ahead = best ? (rising ? bestLevel - level : level - bestLevel) : Number.POSITIVE_INFINITY;
      if (ahead > this.#tolerance || (ahead > -this.#tolerance && best && comesBefore(trigger, best))) {
        best = trigger;
        bestLevel = level;
      }
    }
    return best;
  }

  /** Fills a trigger at path price x. `reached`: price moved onto its level, so it fills there; else it gapped past. */
  #fire(trigger: Trigger, x: number, reached: boolean): void {
    const quote = trigger.side > 0 ? x + this.#askOffset : x - this.#bidOffset;
    const through = trigger.isStop ? 0 : -trigger.side * this.#through;
    const price = reached || Math.abs(quote - trigger.price - through) < this.#tolerance ? trigger.price + through : quote;
    const slip = trigger.isStop ? this.#slip : 0;
    if (trigger.lot) this.#closeByExit(trigger, trigger.lot, x, price, slip);
    else {
      dropFrom(this.triggers, trigger);
      this.#fillOrder(trigger.order, x, price, slip);
    }
  }

  // --- fills --------------------------------------------------------------------------------------------------

  #fillOrder(order: Order, x: number, quoted: number, slip: number): void {
    this.refreshLevels();
    const opposite = this.#oppositeUnits(order.side);
    const quantity =
      order.intent === "exit"
        ? Math.min(order.quantity, opposite)
        : order.intent === "reverse"
          ? order.quantity + opposite
          : order.quantity;
    if (!(quantity > 0)) {
      this.#end(order, "cancelled", "there was no position to close");
      return;
    }
    const price = quoted + order.side * slip;
    order.state = "filled";
    order.fillPrice = price;
    order.fillTime = this.timeMs;
    order.fillBar = this.barIndex;
    const fill = this.#fillOf(order, "order", order.side, quantity, price, slip, order.tag, order.line);
    this.cash -= fill.commission;
    const closing = Math.min(quantity, opposite);
    const opening = this.#clean(quantity - closing);
    if (closing > 0) this.#reduce(order, closing, fill, opening > 0 ? "reverse" : order.reason);
    const lot = opening > 0 ? this.#openLot(order, opening, fill, x) : null;
    if (order.group) this.#cancelGroup(order);
    if (this.outcome) this.#report(order.id, `fill ${quantity} ${price}`, -fill.commission);
    this.listener?.filled(fill, order);
    if (lot) this.listener?.opened(lot);
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
    const { pointValue } = this.instrument;
    const offset = side > 0 ? this.#askOffset : this.#bidOffset;
    return {
      orderId: order.id,
      source,
      side,
      quantity,
      price,
      timeMs: this.timeMs,
      barIndex: this.barIndex,
      commission: commissionOf(this.settings.costs, quantity, price, pointValue),
      spread: offset * quantity * pointValue,
      slippage: slip * quantity * pointValue,
      tag,
      line,
    };
  }

  #oppositeUnits(side: Side): number {
    return this.units * side < 0 ? Math.abs(this.units) : 0;
  }

  /** Sums of quantities, freed of rounding noise. */
  #clean(quantity: number): number {
    return roundQuantity(quantity + this.instrument.quantityStep * 1e-7, this.instrument);
  }

  /** Closes lots first in, first out (R5.1). */
  #reduce(order: Order, quantity: number, fill: Fill, reason: ExitReason): void {
    let left = quantity;
    while (left > 0 && this.lots.length > 0) {
      const lot = this.lots[0]!;
      const part = Math.min(left, lot.quantity);
      this.#closePart(lot, part, fill, reason, order.tag, order.line);
      left = this.#clean(left - part);
    }
  }

  #openLot(order: Order, quantity: number, fill: Fill, x: number): Lot {
    const per = 1 / fill.quantity;
    const stopLevel = order.stopLoss ? exitLevel(order.stopLoss, order.side, -1, fill.price, quantity, this.instrument) : null;
    const targetLevel = order.target ? exitLevel(order.target, order.side, 1, fill.price, quantity, this.instrument) : null;
    const lot: Lot = {
      order,
      side: order.side,
      quantity,
      entryPrice: fill.price,
      entryTime: this.timeMs,
      entryBar: this.barIndex,
      high: x,
      low: x,
      commissionPerUnit: fill.commission * per,
      spreadPerUnit: fill.spread * per,
      slippagePerUnit: fill.slippage * per,
      riskPerUnit: stopLevel === null ? null : Math.abs(fill.price - stopLevel),
      stop: null,
      target: null,
      pathDependent: this.dependent?.has(order.id) ?? false,
      atStake: this.dependent?.get(order.id) ?? 0,
      rails: [],
    };
    this.lots.push(lot);
    this.#recount();
    if (stopLevel !== null && stopLevel > 0) this.#attach(lot, "stop", stopLevel);
    if (targetLevel !== null && targetLevel > 0) this.#attach(lot, "target", targetLevel);
    if (lot.stop || lot.target) this.#rail(lot);
    return lot;
  }

  #closeByExit(trigger: Trigger, lot: Lot, x: number, quoted: number, slip: number): void {
    const reason: ExitReason = trigger.isStop ? "stop" : "target";
    const price = quoted + trigger.side * slip;
    this.touch(x, x);
    const fill = this.#fillOf(lot.order, reason, trigger.side, lot.quantity, price, slip, lot.order.tag, lot.order.line);
    this.cash -= fill.commission;
    if (this.outcome) this.#report(lot.order.id, `${reason} ${price}`, -fill.commission);
    this.#closePart(lot, lot.quantity, fill, reason, "", lot.order.line);
    this.listener?.filled(fill, lot.order);
  }

  #closePart(lot: Lot, quantity: number, fill: Fill, reason: ExitReason, exitTag: string, exitLine: number): void {
    const { pointValue } = this.instrument;
    const share = fill.quantity > 0 ? quantity / fill.quantity : 0;
    const commission = lot.commissionPerUnit * quantity + fill.commission * share;
    const spread = lot.spreadPerUnit * quantity + fill.spread * share;
    const slippage = lot.slippagePerUnit * quantity + fill.slippage * share;
    const realised = lot.side * (fill.price - lot.entryPrice) * quantity * pointValue;
    const net = realised - commission;
    const risk = lot.riskPerUnit ? lot.riskPerUnit * quantity * pointValue : null;
    const adverse = lot.side > 0 ? lot.entryPrice - lot.low : lot.high - lot.entryPrice;
    const favourable = lot.side > 0 ? lot.high - lot.entryPrice : lot.entryPrice - lot.low;
    const trade: Trade = {
      id: ++this.counts.trades,
      orderId: lot.order.id,
      side: lot.side,
      quantity,
      entryTime: lot.entryTime,
      entryBar: lot.entryBar,
      entryPrice: lot.entryPrice,
      entryTag: lot.order.tag,
      entryLine: lot.order.line,
      exitTime: this.timeMs,
      exitBar: this.barIndex,
      exitPrice: fill.price,
      exitTag,
      exitLine,
      reason,
      gross: net + commission + spread + slippage,
      commission,
      spread,
      slippage,
      net,
      barsHeld: this.barIndex - lot.entryBar,
      mae: Math.max(0, adverse) * quantity * pointValue,
      mfe: Math.max(0, favourable) * quantity * pointValue,
      risk,
      r: risk ? net / risk : null,
      pathDependent: lot.pathDependent || (this.dependent?.has(lot.order.id) ?? false),
      atStake: Math.max(lot.atStake, this.dependent?.get(lot.order.id) ?? 0),
      // What is left of a lot goes on moving its exits; a closed part keeps the rails it had.
      rails: quantity < lot.quantity ? lot.rails.slice() : lot.rails,
    };
    this.cash += realised;
    lot.quantity = this.#clean(lot.quantity - quantity);
    if (!(lot.quantity > 0)) {
      this.#detach(lot, "stop");
      this.#detach(lot, "target");
      if (this.lots.length === 1) this.lots.pop();
      else this.lots.splice(this.lots.indexOf(lot), 1);
    }
    this.#recount();
    if (this.outcome) this.#report(lot.order.id, `close ${quantity} ${fill.price}`, realised);
    this.listener?.closed(trade);
  }

  #recount(): void {
    let units = 0;
    let money = 0;
    const { lots } = this;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      units += lot.side * lot.quantity;
      money += lot.side * lot.quantity * lot.entryPrice;
    }
    this.units = units;
    this.basisMoney = money;
  }

  #cancelGroup(filled: Order): void {
    for (const order of this.workingOrders())
      if (order !== filled && order.group === filled.group) {
        this.#remove(order);
        this.#end(order, "cancelled", `order ${filled.id} of its group filled first`);
      }
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
  }

  // --- keeping an account over a restart -------------------------------------------------------------------------

  /** Everything of the account that `restore` needs, as plain structured-clone data. */
  snapshot(): BookSnapshot {
    return {
      cash: this.cash,
      sequence: this.#sequence,
      counts: { ...this.counts },
      lots: this.lots.map(({ stop, target, ...lot }) => ({ ...lot, stopPrice: stop?.price ?? null, targetPrice: target?.price ?? null })),
      orders: this.workingOrders(),
    };
  }

  restore(snapshot: BookSnapshot): void {
    this.cash = snapshot.cash;
    this.#sequence = snapshot.sequence;
    Object.assign(this.counts, snapshot.counts);
    for (const { stopPrice, targetPrice, ...plain } of snapshot.lots) {
      const lot: Lot = { ...plain, stop: null, target: null };
      this.lots.push(lot);
      if (stopPrice !== null) this.#attach(lot, "stop", stopPrice);
      if (targetPrice !== null) this.#attach(lot, "target", targetPrice);
    }
    for (const order of snapshot.orders) this.#work(order);
    this.#mayExpire = true;
    this.#recount();
    this.refreshLevels();
  }

  // --- forks for R4.4 -----------------------------------------------------------------------------------------

  /** How many things could happen to price between low and high: two or more make the order of the extremes matter. */
  eventsWithin(low: number, high: number): number {
    let events = 0;
    const { triggers } = this;
    for (let k = 0; k < triggers.length; k++) {
      const trigger = triggers[k]!;
      const level = this.#levelOf(trigger);
      if (level < low - this.#tolerance || level > high + this.#tolerance) continue;
      events += trigger.lot ? 1 : 1 + (trigger.order.stopLoss ? 1 : 0) + (trigger.order.target ? 1 : 0);
    }
    return events;
  }

  /** What each root order comes to on one path from here, on a copy without a listener. */
  outcomeOf(open: number, high: number, low: number, close: number, first: "high" | "low"): Outcome {
    const fork = new Book(this.instrument, this.settings, null);
    fork.#askOffset = this.#askOffset;
    fork.#bidOffset = this.#bidOffset;
    fork.#sequence = this.#sequence;
    fork.outcome = new Map();
    fork.barIndex = this.barIndex;
    fork.inBar = true;
    const lotOf = new Map<Lot, Lot>();
    for (const lot of this.lots) {
      const copy = { ...lot, rails: [], stop: null, target: null };
      lotOf.set(lot, copy);
      fork.lots.push(copy);
    }
    for (const trigger of this.triggers) {
      const lot = trigger.lot ? lotOf.get(trigger.lot)! : null;
      const copy: Trigger = { ...trigger, lot, order: lot ? lot.order : { ...trigger.order } };
      fork.triggers.push(copy);
      if (lot) lot[copy.isStop ? "stop" : "target"] = copy;
    }
    fork.#recount();
    fork.refreshLevels();
    fork.pathPrice = open;
    fork.alongPath(open, high, low, close, first);
    for (const lot of fork.lots)
      fork.#report(lot.order.id, "", lot.side * (close - lot.entryPrice) * lot.quantity * this.instrument.pointValue);
    return fork.outcome;
  }

  #report(rootId: number, event: string, money: number): void {
    if (!this.outcome) return;
    const entry = this.outcome.get(rootId) ?? { trail: "", money: 0 };
    entry.trail += `${event};`;
    entry.money += money;
    this.outcome.set(rootId, entry);
  }
}

function distanceProblem(name: string, distance: Distance | null): string {
  if (!distance || (distance.value > 0 && Number.isFinite(distance.value))) return "";
  return `${name} of ${distance.value} ${distance.unit} is not above 0`;
}

/** Takes an entry out of a list whose order has no meaning. */
function dropFrom<T>(list: T[], entry: T): void {
  const last = list.pop();
  if (last === undefined || last === entry) return;
  list[list.indexOf(entry)] = last;
}

/** Whether a trigger fires as price rises: buy stops and sell limits. */
function risesTo(trigger: Trigger): boolean {
  return trigger.side > 0 === trigger.isStop;
}

function comesBefore(a: Trigger, b: Trigger): boolean {
  return a.sequence !== b.sequence ? a.sequence < b.sequence : a.rank < b.rank;
}
