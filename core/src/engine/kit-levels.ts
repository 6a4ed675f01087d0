/** Where the exits of a kit would lie for an entry at a price: what its distances mean, in price and in money. */
import type { Instrument } from "../market/instrument.ts";
import { type KitDistance, type KitExits, plainDistance } from "./kit.ts";
import { type EntryFacts, exitLevel, moveOf } from "./money.ts";
import type { Side } from "./orders.ts";

export interface KitLevelsAt {
  readonly price: number;
  readonly quantity: number;
  readonly instrument: Instrument;
  /** What a study shows now; NaN where it is not known or can't be read. */
  readonly study: (text: string) => number;
}

export interface KitLevel {
  readonly what: "stop loss" | "target" | "trail" | "trail starts" | "break-even" | "lock";
  /** Which of several locks, from 1; 0 for what there is once. */
  readonly number: number;
  readonly price: number;
  /** Price units in favour of the position; below 0 for a loss. */
  readonly move: number;
  /** In the instrument's currency, for the quantity. */
  readonly money: number;
  /** Price of the stop that a profit of this size brings about; null where none does. */
  readonly stop: number | null;
}

/** What an entry at this price would be measured by: its risk is the way to the level that the stop loss has on the grid. */
function factsOf({ price, quantity, instrument, study }: KitLevelsAt, exits: Pick<KitExits, "stopLoss">, side: Side): EntryFacts {
  const facts: EntryFacts = { price, side, quantity, pointValue: instrument.pointValue, risk: Number.NaN };
  if (exits.stopLoss) facts.risk = Math.abs(exitLevel(plainDistance(exits.stopLoss, study), -1, facts, instrument) - price);
  return facts;
}

/** Price units that a distance means at a price; NaN where it can't be told, such as R without a stop loss. */
export const distanceMove = (distance: KitDistance, exits: Pick<KitExits, "stopLoss">, at: KitLevelsAt): number =>
  moveOf(plainDistance(distance, at.study), factsOf(at, exits, 1), at.instrument);

/** Every level of the exits of one side; those that can't be told are left out. */
export function kitLevels(exits: KitExits, side: Side, at: KitLevelsAt): KitLevel[] {
  const facts = factsOf(at, exits, side);
  const { instrument, study } = at;
  const levels: KitLevel[] = [];
  const move = (distance: KitDistance): number => moveOf(plainDistance(distance, study), facts, instrument);
  const put = (what: KitLevel["what"], distance: KitDistance | null, direction: 1 | -1, kept = Number.NaN, number = 0): void => {
    if (!distance || distance.value === 0) return;
    const price = exitLevel(plainDistance(distance, study), direction, facts, instrument);
    if (!Number.isFinite(price)) return;
    const won = (price - at.price) * side;
    const stop = Number.isFinite(kept) ? at.price + side * kept : null;
    levels.push({ what, number, price, move: won, money: won * at.quantity * instrument.pointValue, stop });
  };
  const { stopLoss, target, trail, breakEven, locks } = exits;
  put("stop loss", stopLoss, -1);
  put("target", target, 1);
  if (trail?.after) put("trail starts", trail.after, 1, move(trail.after) - move(trail.distance));
  else put("trail", trail?.distance ?? null, -1);
  if (breakEven) put("break-even", breakEven.after, 1, move(breakEven.keep));
  for (const [i, { after, keep }] of locks.entries()) put("lock", after, 1, move(keep), i + 1);
  return levels;
}
