/**
 * The exits of open lots at work: stops and targets as triggers, stops that move with price or once a profit is there, and
 * what adverse paths hold back until a bar is over (R3.6 to R3.8, R4.3).
 */
import type { Instrument } from "../market/instrument.ts";
import { toGrid } from "../market/price-grid.ts";
import type { BookState } from "./book-state.ts";
import { type FirstExits, followPrice, startTrail } from "./exits.ts";
import { type Lot, TRIGGER, type TrailState, type Trigger } from "./lots.ts";
import type { RailPoint, Side, StopReason } from "./orders.ts";
import type { Triggers } from "./triggers.ts";

export class LotExits {
  readonly #state: BookState;
  readonly #triggers: Triggers;
  readonly #lots: readonly Lot[];
  readonly #instrument: Instrument;
  readonly #isAdverse: boolean;
  /** The path that is being walked, for adverse exits: its range and its end. NaN outside. */
  #pathLow = Number.NaN;
  #pathHigh = Number.NaN;
  #pathClose = Number.NaN;

  constructor(state: BookState, isAdverse: boolean) {
    this.#state = state;
    this.#triggers = state.triggers;
    this.#lots = state.lots;
    this.#instrument = state.instrument;
    this.#isAdverse = isAdverse;
  }

  /** Notes the levels of a lot from this bar on. */
  #rail(lot: Lot): void {
    const { isLean, barIndex } = this.#state;
    if (isLean) return;
    const point: RailPoint = { barIndex, stop: lot.stop?.price ?? null, target: lot.target?.price ?? null };
    // Most lots keep the levels of their entry: a list of one takes no room for more.
    if (lot.rails.length === 0) lot.rails = [point];
    else lot.rails.push(point);
  }

  // --- stop and target ----------------------------------------------------------------------------------------

  /** Puts the exits of a new lot to work. */
  begin(lot: Lot, exits: FirstExits): void {
    if (exits.stop !== null && exits.stop > 0) this.attach(lot, "stop", exits.stop);
    if (exits.trail?.started) this.#tighten(lot, exits.trail.level, "trail");
    if (exits.target !== null && exits.target > 0) this.attach(lot, "target", exits.target);
    if (exits.pendingMoves.length > 0) this.watchNextMove(lot);
    if (lot.stop || lot.target) this.#rail(lot);
    lot.isOnEntryPath = this.#isOnAdversePath;
    this.#judge(lot);
  }

  get #isOnAdversePath(): boolean {
    return this.#isAdverse && !Number.isNaN(this.#pathClose);
  }

  /** What a bar that is walked makes of a lot's exits, also of those that a handler sets on the way (R4.3). */
  #judge(lot: Lot): void {
    if (!this.#isOnAdversePath) return;
    if (lot.isOnEntryPath) this.#judgeEntryBar(lot);
    else lot.targetIsOff = this.#isInPath(lot.stop) && this.#isInPath(lot.target);
  }

  attach(lot: Lot, which: "stop" | "target", price: number): void {
    const isStop = which === "stop";
    const trigger: Trigger = {
      side: -lot.side as Side,
      isStop,
      price,
      since: 0,
      sequence: lot.order.id,
      role: isStop ? TRIGGER.stop : TRIGGER.target,
      order: lot.order,
      lot,
    };
    if (isStop) lot.stop = trigger;
    else lot.target = trigger;
    this.#triggers.add(trigger);
  }

  #detach(lot: Lot, which: "stop" | "target" | "moveTrigger"): void {
    // By name: a key that is not known ahead takes a slow way.
    const trigger = which === "stop" ? lot.stop : which === "target" ? lot.target : lot.moveTrigger;
    if (!trigger) return;
    if (which === "stop") lot.stop = null;
    else if (which === "target") lot.target = null;
    else lot.moveTrigger = null;
    this.#triggers.drop(trigger);
  }

  detachAll(lot: Lot): void {
    this.#detach(lot, "stop");
    this.#detach(lot, "target");
    this.#detach(lot, "moveTrigger");
  }

  /** Sets the stop or target level of a lot; null takes it away. A stop only tightens unless `mayLoosen`. */
  set(lot: Lot, which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    const isStop = which === "stop";
    const current = isStop ? lot.stop : lot.target;
    if (price === null) {
      if (current && isStop && !mayLoosen) return false;
      this.#detach(lot, which);
      if (isStop) lot.trail = null;
      this.#judge(lot);
      this.#rail(lot);
      return true;
    }
    const level = toGrid(price, this.#instrument.tickSize, lot.side > 0 === isStop ? "down" : "up");
    if (!(level > 0)) return false;
    if (isStop && current && !mayLoosen && (level - current.price) * lot.side <= 0) return false;
    if (isStop) lot.stopReason = "stop";
    if (current) this.#triggers.move(current, level);
    else this.attach(lot, which, level);
    this.#judge(lot);
    this.#rail(lot);
    return true;
  }

  // --- stops that move ----------------------------------------------------------------------------------------

  /** Puts the nearest move of a lot's stop on watch. */
  watchNextMove(lot: Lot): void {
    this.#detach(lot, "moveTrigger");
    const next = lot.pendingMoves[0];
    if (!next) return;
    lot.moveTrigger = {
      side: -lot.side as Side,
      isStop: false,
      price: next.at,
      since: 0,
      sequence: lot.order.id,
      role: TRIGGER.stopMove,
      order: lot.order,
      lot,
    };
    this.#triggers.add(lot.moveTrigger);
  }

  /** The profit is there: the stop moves, or the trailing stop starts. */
  moveStop(lot: Lot, x: number): void {
    const move = lot.pendingMoves.shift()!;
    this.watchNextMove(lot);
    if (move.level !== null) this.#tighten(lot, move.level, move.reason);
    else if (lot.trail) {
      startTrail(lot.trail, lot.side, this.#triggers.quoteOf(lot, x), this.#instrument);
      this.#followTrail(lot, lot.trail);
    }
  }

  #tighten(lot: Lot, level: number, reason: StopReason): void {
    if (!(level > 0)) return;
    if (!lot.stop) this.attach(lot, "stop", level);
    else if ((level - lot.stop.price) * lot.side > 0) {
      lot.stop.price = level;
      this.#triggers.changed();
    } else return;
    lot.stopReason = reason;
    this.#rail(lot);
  }

  /** Trailing stops follow price to path point x (R3.7). */
  trail(x: number): void {
    const lots = this.#lots;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      if (lot.trail?.started && followPrice(lot.trail, lot.side, this.#triggers.quoteOf(lot, x), this.#instrument))
        this.#followTrail(lot, lot.trail);
    }
  }

  /** The stop goes where its trail has moved; on adverse paths, which leave it where it was at the open, once the bar is over. */
  #followTrail(lot: Lot, trail: TrailState): void {
    trail.isAhead = this.#isAdverse && !Number.isNaN(this.#pathClose);
    if (!trail.isAhead) this.#tighten(lot, trail.level, "trail");
  }

  // --- adverse paths ------------------------------------------------------------------------------------------

  /** A path begins: a bar that holds both stop and target of a lot gives the stop. */
  beginAdverse(high: number, low: number, close: number): void {
    this.#pathHigh = high;
    this.#pathLow = low;
    this.#pathClose = close;
    for (const lot of this.#lots) lot.targetIsOff = this.#isInPath(lot.stop) && this.#isInPath(lot.target);
  }

  /** On the bar of an entry inside it: a stop in its range is hit, a target needs the close. */
  #judgeEntryBar(lot: Lot): void {
    lot.stopIsHit = this.#isInPath(lot.stop);
    const { target } = lot;
    // Asked afresh: a target that is off never holds.
    lot.targetIsOff = false;
    lot.targetIsOff = lot.stopIsHit || (target !== null && !this.#triggers.holds(target, this.#pathClose));
  }

  /** The stop of a lot that counts as hit on this path, or null. */
  hitStop(lot: Lot): Trigger | null {
    return lot.stopIsHit && this.#isInPath(lot.stop) ? lot.stop : null;
  }

  /** The path is over: stops follow what trails have moved. */
  endAdverse(): void {
    this.#pathHigh = this.#pathLow = this.#pathClose = Number.NaN;
    for (const lot of this.#lots) {
      lot.targetIsOff = lot.stopIsHit = lot.isOnEntryPath = false;
      if (lot.trail?.isAhead) this.#followTrail(lot, lot.trail);
    }
  }

  #isInPath(trigger: Trigger | null): boolean {
    if (!trigger) return false;
    const level = this.#triggers.levelOf(trigger);
    const { tolerance } = this.#triggers;
    return level >= this.#pathLow - tolerance && level <= this.#pathHigh + tolerance;
  }
}
