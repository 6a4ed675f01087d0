/**
 * The exits of one lot as data: their first levels, and how a stop moves with price (R3.6 to R3.8). A quote `q` is the
 * bid for a long lot and the ask for a short one.
 */
import type { Instrument } from "../market/instrument.ts";
import { toGrid } from "../market/price-grid.ts";
import type { PendingStopMove, TrailState } from "./lots.ts";
import { type EntryFacts, exitLevel, moveOf } from "./money.ts";
import type { ExitMoves, Order, Side } from "./orders.ts";

/** Levels and moves with which a lot starts. */
export interface FirstExits {
  readonly stop: number | null;
  readonly target: number | null;
  readonly trail: TrailState | null;
  readonly pendingMoves: PendingStopMove[];
  /** Price units to the stop loss, or to the trailing stop where there is only that; null when no stop was known. */
  readonly risk: number | null;
}

const NO_MOVES: readonly PendingStopMove[] = Object.freeze([]);

/** Exits of an entry that has just filled. Notes the risk in `entry`, once it is known: a target may be a multiple of it. */
export function firstExits(order: Order, entry: EntryFacts, quote: number, instrument: Instrument): FirstExits {
  const stop = order.stopLoss ? exitLevel(order.stopLoss, -1, entry, instrument) : null;
  const risk = stop === null ? null : Math.abs(entry.price - stop);
  if (risk !== null) entry.risk = risk;
  const target = order.target ? exitLevel(order.target, 1, entry, instrument) : null;
  return order.moves
    ? { stop, target, ...movingExits(order.moves, entry, risk, quote, instrument) }
    : { stop, target, trail: null, pendingMoves: NO_MOVES as PendingStopMove[], risk };
}

function movingExits(
  moves: ExitMoves,
  entry: EntryFacts,
  riskOfStop: number | null,
  quote: number,
  instrument: Instrument,
): Pick<FirstExits, "trail" | "pendingMoves" | "risk"> {
  const { side } = entry;
  const price = (gain: number): number => entry.price + side * gain;
  const pendingMoves: PendingStopMove[] = moves.locks.map(({ after, keep, reason }) => ({
    at: price(moveOf(after, entry, instrument)),
    level: stopOnGrid(price(moveOf(keep, entry, instrument)), side, instrument),
    reason,
  }));
  let trail: TrailState | null = null;
  let risk = riskOfStop;
  if (moves.trail) {
    const { distance, after, step } = moves.trail;
    trail = {
      distance: moveOf(distance, entry, instrument),
      step: step ? moveOf(step, entry, instrument) : 0,
      started: false,
      anchor: Number.NaN,
      level: Number.NaN,
      isAhead: false,
    };
    if (after) pendingMoves.push({ at: price(moveOf(after, entry, instrument)), level: null, reason: "trail" });
    else {
      startTrail(trail, side, quote, instrument);
      risk ??= Math.abs(entry.price - trail.level);
    }
  }
  if (pendingMoves.length > 1) pendingMoves.sort((a, b) => (a.at - b.at) * side);
  return { trail, pendingMoves, risk };
}

const stopOnGrid = (price: number, side: Side, instrument: Instrument): number =>
  toGrid(price, instrument.tickSize, side > 0 ? "down" : "up");

export function startTrail(trail: TrailState, side: Side, quote: number, instrument: Instrument): void {
  trail.started = true;
  trail.anchor = stopOnGrid(quote - side * trail.distance, side, instrument);
  trail.level = trail.anchor;
}

/** Moves a trailing stop to where price has brought it; true when it moved. It never loosens. */
export function followPrice(trail: TrailState, side: Side, quote: number, instrument: Instrument): boolean {
  let level = quote - side * trail.distance;
  if (trail.step > 0) {
    const steps = Math.floor(((level - trail.anchor) * side) / trail.step + 1e-9);
    if (steps < 1) return false;
    level = trail.anchor + side * steps * trail.step;
  }
  level = stopOnGrid(level, side, instrument);
  if (!((level - trail.level) * side > 0)) return false;
  trail.level = level;
  return true;
}
