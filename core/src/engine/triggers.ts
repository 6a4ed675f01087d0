/**
 * What stands at a price in a book, and where the quotes lie around the path price: which trigger a path meets first
 * (R3.3), and the two prices between which it meets none.
 *
 * Price `x` is always the path price; ask(x) and bid(x) are x shifted by the two parts of the spread (R1.4).
 */
import { type Lot, TRIGGER, type Trigger } from "./lots.ts";
import type { Order, Side } from "./orders.ts";
import type { EngineSettings } from "./settings.ts";

export class Triggers {
  readonly list: Trigger[] = [];
  /** Path prices at which equity would be gone (R5.6): bars that reach them are looked at. */
  ruinUp = Number.POSITIVE_INFINITY;
  ruinDown = Number.NEGATIVE_INFINITY;
  /** Called before levels are worked out. */
  beforeLevels: (() => void) | null = null;
  /** Counts the points at which price has been. */
  step = 0;
  /** Price is at an open, to which it may have jumped. */
  isAtOpen = false;
  /** Counts changes of the levels. */
  version = 0;
  /** Rounding noise in price units: what is nearer than this is met. */
  readonly tolerance: number;
  readonly #lots: readonly Lot[];
  readonly #basis: EngineSettings["basis"];
  readonly #through: number;
  #spread = 0;
  #askOffset = 0;
  #bidOffset = 0;
  // Found anew when asked for after a change.
  #isStale = false;
  #upLevel = Number.POSITIVE_INFINITY;
  #downLevel = Number.NEGATIVE_INFINITY;
  #dueBar = Number.POSITIVE_INFINITY;
  #dueTime = Number.POSITIVE_INFINITY;

  /** @param lots the open lots, whose trailing stops and time limits count too. */
  constructor(lots: readonly Lot[], tickSize: number, { basis, throughTicks }: Pick<EngineSettings, "basis" | "throughTicks">) {
    this.#lots = lots;
    this.#basis = basis;
    this.#through = throughTicks * tickSize;
    this.tolerance = tickSize * 1e-6;
  }

  // --- quotes -------------------------------------------------------------------------------------------------

  /** Sets the spread in price units from here on. */
  setSpread(spread: number): void {
    const basis = this.#basis;
    this.#spread = spread;
    this.#askOffset = basis === "bid" ? spread : basis === "ask" ? 0 : spread / 2;
    this.#bidOffset = spread - this.#askOffset;
    this.changed();
  }

  /** In price units. */
  get spread(): number {
    return this.#spread;
  }

  /** Takes over the quotes of another book. */
  quoteLike(other: Triggers): void {
    this.#spread = other.#spread;
    this.#askOffset = other.#askOffset;
    this.#bidOffset = other.#bidOffset;
    this.changed();
  }

  /** What a buyer (1) pays or a seller (-1) gets at path price x. */
  quote(side: Side, x: number): number {
    return side > 0 ? x + this.#askOffset : x - this.#bidOffset;
  }

  /** Bid for a long lot, ask for a short one: what it would be closed at. */
  quoteOf(lot: Lot, x: number): number {
    return lot.side > 0 ? x - this.#bidOffset : x + this.#askOffset;
  }

  /** Price units of spread that a fill of this side pays. */
  spreadPaid(side: Side): number {
    return side > 0 ? this.#askOffset : this.#bidOffset;
  }

  // --- the list -----------------------------------------------------------------------------------------------

  add(trigger: Trigger): void {
    trigger.since = this.step;
    this.list.push(trigger);
    this.changed();
  }

  drop(trigger: Trigger): void {
    const { list } = this;
    const last = list.pop();
    if (last !== undefined && last !== trigger) {
      // Their order has no meaning.
      const at = list.indexOf(trigger);
      if (at < 0) list.push(last);
      else list[at] = last;
    }
    this.changed();
  }

  /** The trigger of a working order itself. */
  of(order: Order): Trigger | undefined {
    return this.list.find((candidate) => candidate.order === order && candidate.role === TRIGGER.order);
  }

  /** Triggers, lots or the spread have changed. */
  changed(): void {
    this.#isStale = true;
    this.version++;
  }

  // --- levels -------------------------------------------------------------------------------------------------

  /** Path price at or above which something may trigger. */
  get upLevel(): number {
    if (this.#isStale) this.#findLevels();
    return this.#upLevel;
  }

  /** Path price at or below which something may trigger. */
  get downLevel(): number {
    if (this.#isStale) this.#findLevels();
    return this.#downLevel;
  }

  /** The first bar, and the first time, at which an order expires or a lot's time limit is over. */
  get dueBar(): number {
    if (this.#isStale) this.#findLevels();
    return this.#dueBar;
  }

  get dueTime(): number {
    if (this.#isStale) this.#findLevels();
    return this.#dueTime;
  }

  /** The two path prices between which no trigger can fire. A hair wide, so that rounding never hides a fill. */
  #findLevels(): void {
    this.beforeLevels?.();
    this.#isStale = false;
    let up = this.ruinUp;
    let down = this.ruinDown;
    let dueBar = Number.POSITIVE_INFINITY;
    let dueTime = Number.POSITIVE_INFINITY;
    const { list } = this;
    for (let k = 0; k < list.length; k++) {
      const trigger = list[k]!;
      const level = this.levelOf(trigger);
      if (risesTo(trigger)) {
        if (level < up) up = level;
      } else if (level > down) down = level;
      if (trigger.role !== TRIGGER.order) continue;
      dueBar = Math.min(dueBar, trigger.order.expiresBar);
      dueTime = Math.min(dueTime, trigger.order.expiresTime);
    }
    const lots = this.#lots;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      dueBar = Math.min(dueBar, lot.dueBar);
      dueTime = Math.min(dueTime, lot.dueTime);
      // A trailing stop moves as soon as price betters its best: the level that a new step would need.
      if (!lot.trail?.started) continue;
      const { level, distance, step, anchor } = lot.trail;
      const steps = step > 0 ? Math.floor(((level - anchor) * lot.side) / step + 1e-9) + 1 : 0;
      const quote = (step > 0 ? anchor + lot.side * steps * step : level) + lot.side * distance;
      if (lot.side > 0) up = Math.min(up, quote + this.#bidOffset);
      else down = Math.max(down, quote - this.#askOffset);
    }
    this.#upLevel = up - this.tolerance;
    this.#downLevel = down + this.tolerance;
    this.#dueBar = dueBar;
    this.#dueTime = dueTime;
  }

  /** Path price at which a trigger fires. */
  levelOf({ side, isStop, price, role }: Trigger): number {
    if (isStop) return side > 0 ? price - this.#askOffset : price + this.#bidOffset;
    const through = role === TRIGGER.stopMove ? 0 : this.#through;
    return side > 0 ? price - through - this.#askOffset : price + through + this.#bidOffset;
  }

  /** Puts a trigger at another price: it starts to work there. */
  move(trigger: Trigger, price: number): void {
    trigger.price = price;
    trigger.since = this.step;
    this.changed();
  }

  /**
   * Price of a fill, before slippage: the trigger's own where price moved onto its level, else what is quoted after a gap or
   * when it starts to work. A limit that asks for more than a touch fills at its price all the same (R3.1).
   */
  fillPrice(trigger: Trigger, x: number, reached: boolean): number {
    const { side, price, isStop } = trigger;
    const quote = this.quote(side, x);
    const isMet = reached || (!isStop && this.#through > 0 && !this.isAtOpen && trigger.since < this.step);
    return isMet || Math.abs(quote - price) < this.tolerance ? price : quote;
  }

  // --- what a path meets --------------------------------------------------------------------------------------

  /** Whether it can fire at path price x. */
  holds(trigger: Trigger, x: number): boolean {
    if (trigger.role === TRIGGER.target && trigger.lot!.targetIsOff) return false;
    const level = this.levelOf(trigger);
    return risesTo(trigger) ? x >= level - this.tolerance : x <= level + this.tolerance;
  }

  /** Whether any may hold at x: says so before each of them is asked. */
  mayHoldAt(x: number): boolean {
    if (this.#isStale) this.#findLevels();
    return x >= this.#upLevel || x <= this.#downLevel;
  }

  /** The first, by order of submission, whose condition holds at x. */
  holdingAt(x: number): Trigger | null {
    if (!this.mayHoldAt(x)) return null;
    let holding: Trigger | null = null;
    const { list } = this;
    for (let k = 0; k < list.length; k++) {
      const trigger = list[k]!;
      if (this.holds(trigger, x) && (!holding || comesBefore(trigger, holding))) holding = trigger;
    }
    return holding;
  }

  /** The first that price meets on its way from x to `to`; ties by submission. */
  nextBetween(x: number, to: number): Trigger | null {
    if (!this.mayHoldAt(to)) return null;
    const rising = to > x;
    let best: Trigger | null = null;
    let bestLevel = 0;
    const { list } = this;
    for (let k = 0; k < list.length; k++) {
      const trigger = list[k]!;
      if (risesTo(trigger) !== rising || !this.holds(trigger, to)) continue;
      const level = this.levelOf(trigger);
      const ahead = best ? (rising ? bestLevel - level : level - bestLevel) : Number.POSITIVE_INFINITY;
      if (ahead > this.tolerance || (ahead > -this.tolerance && best && comesBefore(trigger, best))) {
        best = trigger;
        bestLevel = level;
      }
    }
    return best;
  }

  /** How many things could happen to price between low and high: two or more make the order of the extremes matter (R4.4). */
  eventsWithin(low: number, high: number): number {
    let events = 0;
    const { list } = this;
    const lots = this.#lots;
    for (let k = 0; k < list.length; k++) {
      const trigger = list[k]!;
      const level = this.levelOf(trigger);
      if (level < low - this.tolerance || level > high + this.tolerance) continue;
      const { stopLoss, target, moves, kind } = trigger.order;
      // A move of the stop may be followed by its hit.
      events +=
        trigger.role === TRIGGER.stopMove
          ? 2
          : trigger.lot
            ? 1
            : 1 + (kind === "stop-limit" ? 1 : 0) + (stopLoss ? 1 : 0) + (target ? 1 : 0) + (moves ? 1 : 0);
    }
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      // A trailing stop that this bar can both raise and hit.
      if (lot.trail?.started && (lot.side > 0 ? high - lot.trail.distance >= low : low + lot.trail.distance <= high)) events += 2;
    }
    return events;
  }
}

/** Whether a trigger fires as price rises: buy stops and sell limits. */
function risesTo(trigger: Trigger): boolean {
  return trigger.side > 0 === trigger.isStop;
}

function comesBefore(a: Trigger, b: Trigger): boolean {
  return a.sequence !== b.sequence ? a.sequence < b.sequence : a.role < b.role;
}
