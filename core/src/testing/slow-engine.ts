/**
 * The fill engine once more, slow and written for reading, rule by rule from docs/engine-rules.md. Price walks in steps of
 * an eighth of a tick and every rule is asked at every step, so nothing is jumped over. All prices are whole eighths:
 * no rounding, no tolerance. The differential test holds the real engine against it.
 */
import type { ExitReason, Fill, OrderState, Side, StopReason } from "../engine/orders.ts";

/** Eighths of a tick. */
type Eighths = number;
export const PER_TICK = 8;

/** A distance of an attached exit: ticks, or multiples of the initial risk. */
export interface SlowDistance {
  readonly unit: "ticks" | "R";
  readonly value: number;
}

export interface SlowRequest {
  readonly side: Side;
  readonly kind: "market" | "stop" | "limit" | "stop-limit";
  readonly price: Eighths;
  readonly limit: Eighths;
  readonly quantity: number;
  readonly intent: "enter" | "exit" | "reverse";
  readonly tag: string;
  readonly onlyTag: string;
  readonly group: string;
  /** Bars that it works; null until cancelled. */
  readonly goodFor: number | null;
  readonly stopLoss: number | null;
  readonly target: SlowDistance | null;
  readonly trail: { readonly distance: number; readonly after: number | null; readonly step: number | null } | null;
  readonly locks: readonly { readonly after: SlowDistance; readonly keep: number; readonly reason: "break-even" | "lock" }[];
  readonly timeLimit: number | null;
  /** A market order that waits for the session's close. */
  readonly atClose: boolean;
}

export interface SlowOrder extends SlowRequest {
  readonly id: number;
  kind: SlowRequest["kind"];
  price: Eighths;
  quantity: number;
  state: OrderState;
  /** Sent while its instrument's bar lay partly in the past: it works from the next open. */
  isSleeping: boolean;
  /** It has stood at a point of this bar's path at which it did not fill: price moves onto it, not past it. */
  isApproached: boolean;
  readonly expiresBar: number;
}

interface SlowLot {
  readonly order: SlowOrder;
  readonly side: Side;
  quantity: number;
  readonly entry: Eighths;
  readonly entryBar: number;
  readonly costPerUnit: number;
  stop: Eighths | null;
  stopReason: StopReason;
  target: Eighths | null;
  /** Profit locks that wait: a quote to reach, and the stop that it earns. */
  locks: { at: Eighths; level: Eighths; reason: StopReason }[];
  /** Quote at which the trailing stop starts, or "started" or "none". */
  trailStart: Eighths | "started" | "none";
  trailAnchor: Eighths;
  trailLevel: Eighths;
  /** Its level has moved and the stop has yet to follow. */
  trailIsAhead: boolean;
  readonly dueBar: number;
  high: Eighths;
  low: Eighths;
  targetIsApproached: boolean;
  targetIsOff: boolean;
  stopIsHit: boolean;
  /** Opened inside the bar that is walked. */
  isOnEntryPath: boolean;
  dependent: boolean;
}

export interface SlowFill {
  readonly orderId: number;
  readonly source: Fill["source"];
  readonly side: Side;
  readonly quantity: number;
  readonly price: Eighths;
  readonly bar: number;
}

export interface SlowTrade {
  readonly orderId: number;
  readonly side: Side;
  readonly quantity: number;
  readonly entry: Eighths;
  readonly exit: Eighths;
  readonly entryBar: number;
  readonly exitBar: number;
  readonly reason: ExitReason;
  readonly net: number;
  readonly mae: number;
  readonly mfe: number;
  dependent: boolean;
}

/** [open, high, low, close] in eighths. */
export type SlowBar = readonly [Eighths, Eighths, Eighths, Eighths];

export interface SlowSettings {
  readonly spread: Eighths;
  readonly basis: "last" | "bid" | "ask";
  readonly slip: Eighths;
  readonly through: Eighths;
  readonly path: "assumed" | "adverse" | "finer";
  readonly positions: "netting" | "independent";
  /** Money of one eighth of one unit. */
  readonly money: number;
  readonly commissionPerUnit: number;
  readonly commissionMinimum: number;
}

interface State {
  orders: SlowOrder[];
  lots: SlowLot[];
  waiting: number[];
  /** Orders that wait for the session's close. */
  closing: number[];
  cash: number;
  bar: number;
}

/** Ways that a stop sits above price and a target below, and the other way round, in one word. */
const better = (side: Side, a: Eighths, b: Eighths): boolean => (a - b) * side > 0;
const gridDown = (price: Eighths): Eighths => Math.floor(price / PER_TICK) * PER_TICK;
const gridUp = (price: Eighths): Eighths => Math.ceil(price / PER_TICK) * PER_TICK;
/** R1.4: buy stops and sell limits up, sell stops and buy limits down. */
const onGrid = (price: Eighths, side: Side, isStop: boolean): Eighths => (side > 0 === isStop ? gridUp(price) : gridDown(price));

/** What is special about a bar. */
export interface SlowMoments {
  /** What a plan does at the open of the j-th of its finer bars, from the second on. */
  readonly atFine: (j: number) => void;
  readonly closesSession: boolean;
}

export class SlowEngine {
  readonly fills: SlowFill[] = [];
  readonly trades: SlowTrade[] = [];
  readonly equity: number[] = [];
  readonly #settings: SlowSettings;
  #state: State = { orders: [], lots: [], waiting: [], closing: [], cash: 0, bar: -1 };
  /** What became of each order on the path that is being walked, in words; kept only while two paths are compared. */
  #story: Map<number, string> | null = null;
  /** Orders whose story depends on the path of this bar (R4.4). */
  #dependent = new Set<number>();

  constructor(settings: SlowSettings, cash: number) {
    this.#settings = settings;
    this.#state.cash = cash;
  }

  get orders(): readonly SlowOrder[] {
    return this.#state.orders;
  }

  #ask(x: Eighths): Eighths {
    const { basis, spread } = this.#settings;
    return basis === "bid" ? x + spread : basis === "ask" ? x : x + spread / 2;
  }

  #bid(x: Eighths): Eighths {
    return this.#ask(x) - this.#settings.spread;
  }

  /** The price at which this side trades. */
  #quote(side: Side, x: Eighths): Eighths {
    return side > 0 ? this.#ask(x) : this.#bid(x);
  }

  /** What a lot of this side could be closed at. */
  #closing(lot: SlowLot, x: Eighths): Eighths {
    return this.#quote(-lot.side as Side, x);
  }

  // --- what a plan does ----------------------------------------------------------------------------------------------

  /** Set while a bar that lies partly in the past is open: what is asked for waits for the next open (R2.4). */
  isAsleep = false;
  #later: (() => void)[] = [];
  /** Told of each fill, as a plan's handler would be. */
  onFill: (() => void) | null = null;

  #wake(): void {
    this.isAsleep = false;
    for (const act of this.#later.splice(0)) act();
  }

  /** An order that does not work yet can be changed at once. */
  #waits(order: SlowOrder | undefined): boolean {
    return this.isAsleep && order !== undefined && !order.isSleeping;
  }

  submit(request: SlowRequest): void {
    const { orders, bar } = this.#state;
    const order: SlowOrder = {
      ...request,
      price: onGrid(request.price, request.side, request.kind !== "limit"),
      limit: onGrid(request.limit, request.side, false),
      id: orders.length + 1,
      state: "working",
      // The bar that is open counts only for what can still fill on it: at its open, or on its path from a fill on.
      expiresBar: request.goodFor === null ? Number.POSITIVE_INFINITY : bar + (this.#canFillOnThisBar ? 0 : 1) + request.goodFor,
      isSleeping: this.isAsleep,
      isApproached: false,
    } as SlowOrder;
    orders.push(order);
    const work = (): void => {
      order.isSleeping = false;
      if (order.kind !== "market" || order.state !== "working") return;
      (order.atClose ? this.#state.closing : this.#state.waiting).push(order.id);
    };
    if (this.isAsleep) this.#later.push(work);
    else work();
  }

  #isInside = false;
  /** Whether finer bars of the bar that is open are still to come. */
  #hasMoreFine = false;

  get #canFillOnThisBar(): boolean {
    return this.#isInside || this.#hasMoreFine;
  }

  /** R3.9: acts at once, on a working order only. */
  cancel(id: number): void {
    const order = this.#order(id);
    if (this.#waits(order)) this.#later.push(() => this.cancel(id));
    else if (order?.state === "working") order.state = "cancelled";
  }

  modify(id: number, price: Eighths): void {
    const order = this.#order(id);
    if (this.#waits(order)) this.#later.push(() => this.modify(id, price));
    else if (order?.state === "working" && order.kind !== "market") {
      order.price = onGrid(price, order.side, order.kind !== "limit");
      order.isApproached = false;
    }
  }

  resize(id: number, quantity: number): void {
    const order = this.#order(id);
    if (this.#waits(order)) this.#later.push(() => this.resize(id, quantity));
    else if (order?.state === "working") order.quantity = quantity;
  }

  /** For every open lot; a stop only tightens unless said otherwise (R3.7). */
  setExit(which: "stop" | "target", price: Eighths, mayLoosen: boolean): void {
    const { lots } = this.#state;
    if (this.isAsleep) {
      const then = [...lots];
      this.#later.push(() =>
        this.#setExitOf(
          then.filter((lot) => this.#state.lots.includes(lot)),
          which,
          price,
          mayLoosen,
        ),
      );
    } else this.#setExitOf(lots, which, price, mayLoosen);
  }

  #setExitOf(lots: readonly SlowLot[], which: "stop" | "target", price: Eighths, mayLoosen: boolean): void {
    for (const lot of lots) {
      if (which === "target") {
        lot.target = onGrid(price, -lot.side as Side, false);
        lot.targetIsApproached = false;
      } else {
        const level = onGrid(price, -lot.side as Side, true);
        if (lot.stop !== null && !mayLoosen && !better(lot.side, level, lot.stop)) continue;
        lot.stop = level;
        lot.stopReason = "stop";
      }
      this.#judgeAgain(lot);
    }
  }

  #order(id: number): SlowOrder | undefined {
    return this.#state.orders[id - 1];
  }

  // --- one bar -------------------------------------------------------------------------------------------------------

  /** `finer` are the bars inside; empty when there are none (R4.2). */
  bar(bar: SlowBar, finer: readonly SlowBar[], { atFine, closesSession }: SlowMoments): void {
    this.beginBar();
    const paths = finer.length > 0 ? finer : [bar];
    paths.forEach((path, j) => {
      if (j > 0) this.beginFine(() => atFine(j));
      const hasMore = j + 1 < paths.length;
      this.openPath(path, hasMore);
      this.walkPath(path, closesSession && !hasMore);
    });
    this.equity.push(this.equityAt(bar[3]));
  }

  /** A bar opens: expiry first (R3.4). */
  beginBar(): void {
    const state = this.#state;
    state.bar++;
    this.#isInside = true;
    for (const order of state.orders) if (order.state === "working" && state.bar >= order.expiresBar) order.state = "expired";
  }

  /** @param hasMore whether finer bars of the same bar follow this one. */
  openPath(path: SlowBar, hasMore: boolean): void {
    this.#hasMoreFine = hasMore;
    this.#isInside = true;
    this.#open(path[0]);
    this.#isInside = false;
  }

  /** A finer bar is about to open: what a plan does at that time works from its open. */
  beginFine(act: () => void): void {
    this.#hasMoreFine = true;
    act();
  }

  /** The time of the bar that is open is over: what is asked for now is for the next one. */
  endTime(): void {
    this.#hasMoreFine = false;
  }

  /** @param closesSession whether the session closes at the end of this path. */
  walkPath(path: SlowBar, closesSession = false): void {
    const state = this.#state;
    this.isAsleep = false;
    this.#isInside = true;
    this.#markDependent(path);
    this.#walk(path, this.#highFirst(path), this.#settings.path === "adverse");
    for (const lot of state.lots) if (this.#dependent.has(lot.order.id)) lot.dependent = true;
    this.#dependent.clear();
    if (closesSession) this.closeSession(path[3]);
    this.#isInside = false;
    // Nothing happens to it before its next open: what waited for that is sent ahead of what is sent from now on.
    this.#wake();
  }

  /** R2.6: what waits for the close fills there, as market orders do. */
  closeSession(x: Eighths): void {
    const due = this.#state.closing.splice(0).filter((id) => this.#order(id)!.state === "working");
    if (due.length === 0) return;
    for (const id of due) {
      const order = this.#order(id)!;
      if (order.state === "working") this.#fill(order, this.#quote(order.side, x) + order.side * this.#settings.slip, x);
    }
    this.#settle(x);
  }

  get cash(): number {
    return this.#state.cash;
  }

  /** Money that lots and cash come to with price at x. */
  equityAt(x: Eighths): number {
    return this.#equityAt(x);
  }

  #equityAt(x: Eighths): number {
    const { cash, lots } = this.#state;
    return lots.reduce((sum, lot) => sum + lot.side * (x - lot.entry) * lot.quantity * this.#settings.money, cash);
  }

  /** R2.1, and lots whose time limit is over before all else. */
  #open(x: Eighths): void {
    const state = this.#state;
    for (const order of state.orders) order.isApproached = false;
    for (const lot of state.lots) lot.targetIsApproached = false;
    this.#touch(x);
    for (const lot of [...state.lots])
      if (state.bar >= lot.dueBar) this.#closeLot(lot, this.#closing(lot, x) - lot.side * this.#settings.slip, "time");
    this.#settle(x);
  }

  /** R4.1. */
  #highFirst([open, high, low, close]: SlowBar): boolean {
    const [up, down] = [high - open, open - low];
    return up === down ? close < open : up < down;
  }

  /** R2.2: price moves through every eighth of the way. */
  #walk([open, high, low, close]: SlowBar, highFirst: boolean, isAdverse: boolean): void {
    if (isAdverse) this.#judge(low, high);
    this.#adverse = isAdverse ? { low, high, close } : null;
    let x = open;
    this.#settle(x);
    for (const to of highFirst ? [high, low, close] : [low, high, close])
      while (x !== to) {
        x += Math.sign(to - x);
        this.#touch(x);
        this.#settle(x);
      }
    if (isAdverse) this.#takeHitStops();
    this.#adverse = null;
    if (isAdverse) this.#trail(close, true);
  }

  #adverse: { low: Eighths; high: Eighths; close: Eighths } | null = null;

  #touch(x: Eighths): void {
    for (const lot of this.#state.lots) {
      lot.high = Math.max(lot.high, x);
      lot.low = Math.min(lot.low, x);
    }
  }

  /** Everything that can happen with price at x: market orders, then by order and role, one at a time (R3.3). */
  #settle(x: Eighths): void {
    const state = this.#state;
    for (;;) {
      this.#trail(x, this.#adverse === null);
      const id = state.waiting.shift();
      if (id !== undefined) {
        const order = this.#order(id)!;
        if (order.state === "working") this.#fill(order, this.#quote(order.side, x) + order.side * this.#settings.slip, x);
        continue;
      }
      const next = this.#due(x).sort((a, b) => a.id - b.id || a.role - b.role)[0];
      if (!next) {
        for (const order of state.orders) order.isApproached = true;
        for (const lot of state.lots) lot.targetIsApproached = true;
        return;
      }
      next.happen();
    }
  }

  #due(x: Eighths): { id: number; role: number; happen: () => void }[] {
    const found: { id: number; role: number; happen: () => void }[] = [];
    for (const order of this.#state.orders) {
      if (order.state !== "working" || order.isSleeping || order.kind === "market" || !this.#triggers(order, x)) continue;
      found.push({ id: order.id, role: 0, happen: () => this.#trigger(order, x) });
    }
    for (const lot of this.#state.lots) {
      const { id } = lot.order;
      const quote = this.#closing(lot, x);
      const lock = lot.locks.findIndex(({ at }) => !better(lot.side, at, quote));
      const starts = typeof lot.trailStart === "number" && !better(lot.side, lot.trailStart, quote);
      const lockFirst = lock >= 0 && !(starts && better(lot.side, lot.locks[lock]!.at, lot.trailStart as Eighths));
      if (lockFirst) found.push({ id, role: 1, happen: () => this.#lock(lot, lock) });
      else if (starts) found.push({ id, role: 1, happen: () => this.#startTrail(lot, quote) });
      if (lot.stop !== null && !better(lot.side, quote, lot.stop))
        found.push({ id, role: 2, happen: () => this.#stopOut(lot, this.#worse(lot.side, lot.stop!, quote)) });
      if (lot.target !== null && !lot.targetIsOff && !better(lot.side, lot.target + lot.side * this.#settings.through, quote))
        found.push({ id, role: 3, happen: () => this.#closeLot(lot, lot.targetIsApproached ? lot.target! : quote, "target") });
    }
    return found;
  }

  #worse = (side: Side, a: Eighths, b: Eighths): Eighths => (side > 0 ? Math.min(a, b) : Math.max(a, b));
  #best = (side: Side, a: Eighths, b: Eighths): Eighths => (side > 0 ? Math.max(a, b) : Math.min(a, b));

  /** The table of R3. */
  #triggers({ side, kind, price }: SlowOrder, x: Eighths): boolean {
    const { through } = this.#settings;
    if (kind === "limit") return side > 0 ? this.#ask(x) <= price - through : this.#bid(x) >= price + through;
    return side > 0 ? this.#ask(x) >= price : this.#bid(x) <= price;
  }

  #trigger(order: SlowOrder, x: Eighths): void {
    const { side, kind, price, limit } = order;
    const quote = this.#quote(side, x);
    if (kind === "stop-limit") {
      order.kind = "limit";
      order.price = limit;
      order.isApproached = false;
    } else if (kind === "stop") this.#fill(order, this.#best(side, price, quote) + side * this.#settings.slip, x);
    else this.#fill(order, order.isApproached ? price : quote, x);
  }

  // --- moving exits --------------------------------------------------------------------------------------------------

  #tighten(lot: SlowLot, level: Eighths, reason: StopReason): void {
    if (lot.stop !== null && !better(lot.side, level, lot.stop)) return;
    lot.stop = level;
    lot.stopReason = reason;
  }

  /** R3.8. */
  #lock(lot: SlowLot, index: number): void {
    const [{ level, reason }] = lot.locks.splice(index, 1) as [SlowLot["locks"][number]];
    this.#tighten(lot, level, reason);
  }

  #startTrail(lot: SlowLot, quote: Eighths): void {
    const { distance } = lot.order.trail!;
    lot.trailStart = "started";
    lot.trailAnchor = onGrid(quote - lot.side * distance * PER_TICK, -lot.side as Side, true);
    lot.trailLevel = lot.trailAnchor;
    lot.trailIsAhead = true;
    if (!this.#adverse) this.#followTrail(lot);
  }

  #followTrail(lot: SlowLot): void {
    lot.trailIsAhead = false;
    this.#tighten(lot, lot.trailLevel, "trail");
  }

  /** R3.7; on adverse paths the stop itself waits for the end of the bar (R4.3). */
  #trail(x: Eighths, moves: boolean): void {
    for (const lot of this.#state.lots) {
      if (lot.trailStart !== "started") continue;
      const { distance, step } = lot.order.trail!;
      let level = this.#closing(lot, x) - lot.side * distance * PER_TICK;
      if (step) {
        const size = step * PER_TICK;
        const steps = Math.floor(((level - lot.trailAnchor) * lot.side) / size);
        level = lot.trailAnchor + lot.side * Math.max(0, steps) * size;
      }
      level = onGrid(level, -lot.side as Side, true);
      if (better(lot.side, level, lot.trailLevel)) {
        lot.trailLevel = level;
        lot.trailIsAhead = true;
      }
      // A stop that the plan has loosened by name stays there until the trail is better than ever before.
      if (moves && lot.trailIsAhead) this.#followTrail(lot);
    }
  }

  // --- adverse paths (R4.3) ------------------------------------------------------------------------------------------

  /** Path price at which a lot's exit triggers. */
  #exitLevel(lot: SlowLot, which: "stop" | "target"): Eighths | null {
    const price = lot[which];
    if (price === null) return null;
    const wanted = which === "stop" ? price : price + lot.side * this.#settings.through;
    return wanted - (this.#closing(lot, 0) - 0);
  }

  #isWithin(lot: SlowLot, which: "stop" | "target", low: Eighths, high: Eighths): boolean {
    const level = this.#exitLevel(lot, which);
    return level !== null && level >= low && level <= high;
  }

  #judge(low: Eighths, high: Eighths): void {
    for (const lot of this.#state.lots)
      lot.targetIsOff = this.#isWithin(lot, "stop", low, high) && this.#isWithin(lot, "target", low, high);
  }

  /** Also when a handler sets an exit on the way. */
  #judgeAgain(lot: SlowLot): void {
    if (!this.#adverse) return;
    const { low, high, close } = this.#adverse;
    if (!lot.isOnEntryPath) {
      lot.targetIsOff = this.#isWithin(lot, "stop", low, high) && this.#isWithin(lot, "target", low, high);
      return;
    }
    lot.stopIsHit = this.#isWithin(lot, "stop", low, high);
    const reached = lot.target !== null && !better(lot.side, this.#exitLevel(lot, "target")!, close);
    lot.targetIsOff = lot.stopIsHit || !reached;
  }

  #takeHitStops(): void {
    const { low, high } = this.#adverse!;
    for (const lot of [...this.#state.lots])
      if (lot.stopIsHit && this.#isWithin(lot, "stop", low, high)) {
        const x = this.#exitLevel(lot, "stop")!;
        lot.high = Math.max(lot.high, x);
        lot.low = Math.min(lot.low, x);
        this.#stopOut(lot, lot.stop!);
      }
    for (const lot of this.#state.lots) lot.targetIsOff = lot.stopIsHit = lot.isOnEntryPath = false;
  }

  // --- fills ---------------------------------------------------------------------------------------------------------

  #commission(quantity: number): number {
    return Math.max(this.#settings.commissionPerUnit * quantity, this.#settings.commissionMinimum);
  }

  #closable(order: SlowOrder): number {
    return this.#closes(order).reduce((sum, lot) => sum + lot.quantity, 0);
  }

  #closes(order: SlowOrder): SlowLot[] {
    return this.#state.lots.filter((lot) => lot.side !== order.side && (order.onlyTag === "" || lot.order.tag === order.onlyTag));
  }

  /** R5.1: closes what is opposite, first in first out, and opens a lot with the rest. */
  #fill(order: SlowOrder, price: Eighths, x: Eighths): void {
    const state = this.#state;
    const closable = this.#settings.positions === "independent" && order.intent === "enter" ? 0 : this.#closable(order);
    const quantity =
      order.intent === "exit"
        ? Math.min(order.quantity, closable)
        : order.intent === "reverse"
          ? order.quantity + closable
          : order.quantity;
    if (quantity === 0) {
      order.state = "cancelled";
      return;
    }
    order.state = "filled";
    this.#record({ orderId: order.id, source: "order", side: order.side, quantity, price, bar: state.bar });
    const commission = this.#commission(quantity);
    state.cash -= commission;
    // R3.5: exits of the group of which something is left to close stay, with what is left.
    const stays = state.orders.filter(
      (other) => other.intent === "exit" && order.intent === "exit" && other.quantity > quantity && this.#closable(other) > quantity,
    );
    let left = Math.min(quantity, closable);
    const opens = quantity - left;
    for (const lot of this.#closes(order)) {
      const part = Math.min(left, lot.quantity);
      if (part > 0) this.#closePart(lot, part, price, opens > 0 ? "reverse" : "signal", commission / quantity);
      left -= part;
    }
    if (opens > 0) this.#openLot(order, opens, price, x, commission / quantity);
    if (order.group !== "")
      for (const other of state.orders)
        if (other !== order && other.state === "working" && other.group === order.group && !stays.includes(other))
          other.state = "cancelled";
    this.#tell(order.id, `fill ${quantity} ${price}`);
    this.#tellPlan();
  }

  /** R3.6: every exit starts from the fill. */
  #openLot(order: SlowOrder, quantity: number, entry: Eighths, x: Eighths, costPerUnit: number): void {
    const { side, stopLoss, target, trail, locks, timeLimit } = order;
    const { bar, lots } = this.#state;
    const stop = stopLoss === null ? null : onGrid(entry - side * stopLoss * PER_TICK, -side as Side, true);
    const gain = (distance: SlowDistance): Eighths =>
      distance.unit === "ticks" ? distance.value * PER_TICK : distance.value * Math.abs(entry - stop!);
    const lot: SlowLot = {
      order,
      side,
      quantity,
      entry,
      entryBar: bar,
      costPerUnit,
      stop,
      stopReason: "stop",
      target: target === null ? null : onGrid(entry + side * gain(target), -side as Side, false),
      locks: locks.map(({ after, keep, reason }) => ({
        at: entry + side * gain(after),
        level: onGrid(entry + side * keep * PER_TICK, -side as Side, true),
        reason,
      })),
      trailStart: trail ? entry + side * (trail.after ?? 0) * PER_TICK : "none",
      trailAnchor: 0,
      trailLevel: 0,
      trailIsAhead: false,
      dueBar: timeLimit === null ? Number.POSITIVE_INFINITY : bar + timeLimit,
      high: x,
      low: x,
      targetIsApproached: false,
      targetIsOff: false,
      stopIsHit: false,
      isOnEntryPath: this.#adverse !== null,
      dependent: this.#dependent.has(order.id),
    };
    // Nearest first; of equal ones the first that was named, a trailing stop last.
    lot.locks.sort((a, b) => (a.at - b.at) * side);
    lots.push(lot);
    if (trail && trail.after === null) {
      this.#startTrail(lot, this.#closing(lot, x));
      this.#followTrail(lot);
    }
    this.#judgeAgain(lot);
  }

  #stopOut(lot: SlowLot, price: Eighths): void {
    this.#closeLot(lot, price - lot.side * this.#settings.slip, lot.stopReason);
  }

  #closeLot(lot: SlowLot, price: Eighths, source: StopReason | "target" | "time"): void {
    const commission = this.#commission(lot.quantity);
    this.#state.cash -= commission;
    this.#record({ orderId: lot.order.id, source, side: -lot.side as Side, quantity: lot.quantity, price, bar: this.#state.bar });
    this.#tell(lot.order.id, `${source} ${price}`);
    this.#closePart(lot, lot.quantity, price, source, commission / lot.quantity);
    this.#tellPlan();
  }

  #closePart(lot: SlowLot, quantity: number, price: Eighths, reason: ExitReason, exitCost: number): void {
    const state = this.#state;
    const { money } = this.#settings;
    const gross = lot.side * (price - lot.entry) * quantity * money;
    state.cash += gross;
    const [against, favour] = lot.side > 0 ? [lot.entry - lot.low, lot.high - lot.entry] : [lot.high - lot.entry, lot.entry - lot.low];
    if (!this.#story)
      this.trades.push({
        orderId: lot.order.id,
        side: lot.side,
        quantity,
        entry: lot.entry,
        exit: price,
        entryBar: lot.entryBar,
        exitBar: state.bar,
        reason,
        net: gross - (lot.costPerUnit + exitCost) * quantity,
        mae: Math.max(0, against) * quantity * money,
        mfe: Math.max(0, favour) * quantity * money,
        dependent: lot.dependent || this.#dependent.has(lot.order.id),
      });
    this.#tell(lot.order.id, `close ${quantity} ${price}`);
    lot.quantity -= quantity;
    if (lot.quantity === 0) state.lots.splice(state.lots.indexOf(lot), 1);
    for (const order of state.orders) {
      if (order.state !== "working" || order.intent !== "exit") continue;
      if (lot.side === order.side || (order.onlyTag !== "" && order.onlyTag !== lot.order.tag)) continue;
      const left = this.#closable(order);
      // R3.5: no exit outlives what it was there to close.
      if (left === 0) order.state = "cancelled";
      else if (order.group !== "" && order.quantity > left && Number.isFinite(order.quantity)) order.quantity = left;
    }
  }

  #record(fill: SlowFill): void {
    if (!this.#story) this.fills.push(fill);
  }

  #tellPlan(): void {
    if (!this.#story) this.onFill?.();
  }

  // --- R4.4 ----------------------------------------------------------------------------------------------------------

  #tell(orderId: number, text: string): void {
    this.#story?.set(orderId, `${this.#story.get(orderId) ?? ""}${text};`);
  }

  /** Walks the bar both ways on copies and compares what becomes of each order. */
  #markDependent(path: SlowBar): void {
    const kept = this.#state;
    const stories = [true, false].map((highFirst) => {
      this.#state = structuredClone(kept);
      this.#story = new Map();
      this.#walk(path, highFirst, false);
      for (const lot of this.#state.lots) this.#tell(lot.order.id, "still open");
      return this.#story;
    }) as [Map<number, string>, Map<number, string>];
    this.#state = kept;
    this.#story = null;
    for (const id of new Set([...stories[0].keys(), ...stories[1].keys()]))
      if (stories[0].get(id) !== stories[1].get(id)) this.#dependent.add(id);
  }

  /** R5.6. */
  finish(close: Eighths): void {
    // Orders stay as they are: nothing has closed, the data is over.
    const states = this.#state.orders.map(({ state }) => state);
    for (const lot of [...this.#state.lots]) this.#closePart(lot, lot.quantity, close, "end of data", 0);
    this.#state.orders.forEach((order, i) => {
      order.state = states[i]!;
    });
  }
}
