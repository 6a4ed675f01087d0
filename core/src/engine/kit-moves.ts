/** Levels of an exit kit taken elsewhere: the distance that has them there, in the unit it was given in. */
import { type KitDistance, type KitExits, plainDistance } from "./kit.ts";
import { distanceMove, type KitLevel, type KitLevelsAt } from "./kit-levels.ts";
import type { Side } from "./orders.ts";

/** Digits that a distance keeps: more than a tick needs, fewer than a division leaves. */
const DIGITS = 6;

/** Which of a level's two prices is taken elsewhere: its own, or that of the stop that it brings about. */
export type KitHandle = "level" | "stop";

/** To some digits: where that is farther out, towards 0, so that the grid, which rounds outwards, ends at the tick that was meant. */
function roundedInside(value: number): number {
  const rounded = Number(value.toPrecision(DIGITS));
  if (Math.abs(rounded) <= Math.abs(value) * (1 + 1e-12)) return rounded;
  const step = 10 ** (Math.floor(Math.log10(Math.abs(value))) + 1 - DIGITS);
  return Number((Math.sign(value) * Math.floor(Math.abs(value) / step) * step).toPrecision(DIGITS));
}

/** The same distance with another value, so that it means a move of so many price units; null where no value does. */
function distanceOf(given: KitDistance, move: number, exits: KitExits, side: Side, at: KitLevelsAt): KitDistance | null {
  if (given.unit === "price") return { ...given, value: at.price + side * move };
  const ofOne = distanceMove({ ...given, value: 1 }, exits, at);
  if (!Number.isFinite(ofOne) || ofOne === 0) return null;
  return { ...given, value: roundedInside(move / ofOne) };
}

/**
 * The exits with one level at another price, which is kept on the grid and on its side: a stop at least a tick against the
 * position, a profit at least a tick in its favour and above what it keeps.
 * @param price in price units, anywhere
 * @returns the exits as they were where the level can't be told
 */
export function withLevelAt(
  exits: KitExits,
  { what, number }: Pick<KitLevel, "what" | "number">,
  handle: KitHandle,
  price: number,
  side: Side,
  at: KitLevelsAt,
): KitExits {
  const { tickSize } = at.instrument;
  const ticks = Math.round(((price - at.price) * side) / tickSize);
  const put = (given: KitDistance, of: number): KitDistance => distanceOf(given, of * tickSize, exits, side, at) ?? given;
  const against = Math.max(1, -ticks);
  const inFavour = Math.max(1, ticks);
  const ticksOf = (distance: KitDistance): number => {
    const plain = plainDistance(distance, at.study);
    const move = plain.unit === "price" ? (plain.value - at.price) * side : distanceMove(distance, exits, at);
    return Math.round(move / tickSize);
  };
  /** A profit, and what of it is kept once it is reached. */
  const rung = <T extends { readonly after: KitDistance; readonly keep: KitDistance }>(lock: T): T =>
    handle === "level"
      ? { ...lock, after: put(lock.after, Math.max(inFavour, ticksOf(lock.keep) + 1)) }
      : { ...lock, keep: put(lock.keep, Math.min(ticks, ticksOf(lock.after) - 1)) };
  const { stopLoss, target, trail, breakEven, locks } = exits;
  switch (what) {
    case "stop loss":
      return stopLoss ? { ...exits, stopLoss: put(stopLoss, against) } : exits;
    case "target":
      return target ? { ...exits, target: put(target, inFavour) } : exits;
    case "trail":
      return trail ? { ...exits, trail: { ...trail, distance: put(trail.distance, against) } } : exits;
    case "trail starts":
      if (!trail?.after) return exits;
      return handle === "level"
        ? { ...exits, trail: { ...trail, after: put(trail.after, inFavour) } }
        : { ...exits, trail: { ...trail, distance: put(trail.distance, Math.max(1, ticksOf(trail.after) - ticks)) } };
    case "break-even":
      return breakEven ? { ...exits, breakEven: rung(breakEven) } : exits;
    case "lock":
      return { ...exits, locks: locks.map((lock, k) => (k === number - 1 ? rung(lock) : lock)) };
  }
}
