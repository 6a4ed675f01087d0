/** Exit kits of a stop study: chosen ones of the library, and one distance of a kit over a range. */
import type { ExitKit, KitDistance, KitExits } from "@plan-tester/core";

export const RANGED = ["stopLoss", "target", "trail"] as const;
export type Ranged = (typeof RANGED)[number];
export const RANGED_WORDS: Readonly<Record<Ranged, string>> = { stopLoss: "stop loss", target: "target", trail: "trail" };

export const MOST_KITS = 40;

export interface KitRange {
  readonly of: Ranged;
  readonly from: number;
  readonly to: number;
  readonly step: number;
}

const distanceIn = (exits: KitExits | null, of: Ranged): KitDistance | null =>
  exits ? (of === "trail" ? (exits.trail?.distance ?? null) : exits[of]) : null;

/** Distances of a kit that can be varied: those that it has. */
export const rangedIn = (kit: ExitKit | null): Ranged[] =>
  kit ? RANGED.filter((of) => distanceIn(kit.long, of) !== null || distanceIn(kit.short, of) !== null) : [];

function withDistance(exits: KitExits | null, of: Ranged, value: number): KitExits | null {
  const known = distanceIn(exits, of);
  if (!exits || !known) return exits;
  const distance = { ...known, value };
  return of === "trail" ? { ...exits, trail: { ...exits.trail!, distance } } : { ...exits, [of]: distance };
}

/** The values of a range, its ends included where the steps lead there; rounding of decimals is taken out. */
export function valuesOf({ from, to, step }: KitRange): number[] {
  if (!(step > 0) || !(from > 0) || !(to >= from)) return [];
  const count = Math.min(MOST_KITS + 1, Math.floor((to - from) / step + 1e-9) + 1);
  return Array.from({ length: count }, (_none, k) => Number((from + k * step).toPrecision(12)));
}

/** A kit for each value, named by it: both sides have it, as far as they have the distance. */
export function kitsOverRange(kit: ExitKit, range: KitRange): ExitKit[] {
  const unit = distanceIn(kit.long, range.of) ?? distanceIn(kit.short, range.of);
  if (!unit) return [];
  const words = unit.study ? `x ${unit.study}` : unit.unit;
  return valuesOf(range).map((value) => ({
    ...kit,
    name: `${kit.name || "Kit"}, ${RANGED_WORDS[range.of]} ${value} ${words}`.slice(0, 80),
    long: withDistance(kit.long, range.of, value),
    short: withDistance(kit.short, range.of, value),
  }));
}
