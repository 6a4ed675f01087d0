/** Levels of a kit taken elsewhere are there afterwards, for both sides and in every unit. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { INSTRUMENT } from "../testing/bars.ts";
import { type KitDistance, type KitExits, NO_EXITS } from "./kit.ts";
import { kitLevels } from "./kit-levels.ts";
import { withLevelAt } from "./kit-moves.ts";

const TICK = INSTRUMENT.tickSize;
const at = { price: 100, quantity: 1, instrument: INSTRUMENT, study: () => 1.5 };
const UNITS: readonly Omit<KitDistance, "value">[] = [
  ...(["ticks", "points", "pips", "percent", "money", "money per unit"] as const).map((unit) => ({ unit })),
  { unit: "points", study: "atr(14)" },
];
const unit = fc.constantFrom(...UNITS);
const unitWithR = fc.constantFrom(...UNITS, { unit: "R" as const });
const sides = fc.constantFrom(1 as const, -1 as const);

const exitsOf = (stop: Omit<KitDistance, "value">, other: Omit<KitDistance, "value">): KitExits => {
  const of = (given: Omit<KitDistance, "value">, value: number): KitDistance => ({ ...given, value });
  return {
    ...NO_EXITS,
    stopLoss: of(stop, 8),
    target: of(other, 12),
    trail: { distance: of(other, 3), after: of(other, 6), step: null },
    breakEven: { after: of(other, 4), keep: of(other, 0) },
    locks: [
      { after: of(other, 5), keep: of(other, 1) },
      { after: of(other, 9), keep: of(other, 4) },
    ],
  };
};
const find = (exits: KitExits, side: 1 | -1, what: string, number: number) =>
  kitLevels(exits, side, at).find((level) => level.what === what && level.number === number)!;

test("a level is where it was taken, to the tick, kept on its side; nothing else moves", () => {
  fc.assert(
    fc.property(unit, unitWithR, sides, fc.integer({ min: -60, max: 60 }), fc.nat(), (stop, other, side, ticks, pick) => {
      const exits = exitsOf(stop, other);
      const levels = kitLevels(exits, side, at);
      const level = levels[pick % levels.length]!;
      const moved = withLevelAt(exits, level, "level", at.price + side * ticks * TICK, side, at);
      const now = find(moved, side, level.what, level.number);
      const wanted = level.what === "stop loss" ? Math.min(-1, ticks) : Math.max(1, ticks);
      const kept = level.stop === null || level.what === "trail starts" ? -Infinity : Math.round(((level.stop - at.price) * side) / TICK);
      expect(now.move / TICK).toBeCloseTo(Math.max(wanted, kept + 1), 9);
      for (const other of kitLevels(moved, side, at)) {
        if (other.what === level.what && other.number === level.number) continue;
        // What is measured by the risk goes with it.
        if (level.what === "stop loss") continue;
        expect(other).toEqual(find(exits, side, other.what, other.number));
      }
    }),
  );
});

test("a stop that a profit brings about is where it was taken, below that profit", () => {
  fc.assert(
    fc.property(unit, unitWithR, sides, fc.integer({ min: -40, max: 60 }), fc.constantFrom(0, 1, 2), (stop, other, side, ticks, k) => {
      const exits = exitsOf(stop, other);
      const [what, number] = (
        [
          ["break-even", 0],
          ["lock", 1],
          ["lock", 2],
        ] as const
      )[k]!;
      const before = find(exits, side, what, number);
      const now = find(withLevelAt(exits, { what, number }, "stop", at.price + side * ticks * TICK, side, at), side, what, number);
      const most = Math.round(before.move / TICK) - 1;
      expect(Math.abs(((now.stop! - at.price) * side) / TICK - Math.min(ticks, most))).toBeLessThanOrEqual(1 + 1e-9);
      expect(now.price).toBe(before.price);
      expect((now.price - now.stop!) * side).toBeGreaterThan(0);
    }),
  );
});

test("a trail's distance is the way from where it starts to the stop that it sets then", () => {
  const exits = exitsOf({ unit: "ticks" }, { unit: "ticks" });
  const moved = withLevelAt(exits, { what: "trail starts", number: 0 }, "stop", 100 - 2 * TICK, 1, at);
  expect(moved.trail).toEqual({ distance: { unit: "ticks", value: 8 }, after: { unit: "ticks", value: 6 }, step: null });
  const bare: KitExits = { ...NO_EXITS, trail: { distance: { unit: "points", value: 3 }, after: null, step: null } };
  expect(withLevelAt(bare, { what: "trail", number: 0 }, "level", 99, 1, at).trail?.distance).toEqual({ unit: "points", value: 1 });
});

test("what can't be told stays as it is: R without a stop loss, a study that can't be read; a price is a price", () => {
  const noRisk: KitExits = { ...NO_EXITS, target: { unit: "R", value: 2 } };
  expect(withLevelAt(noRisk, { what: "target", number: 0 }, "level", 104, 1, at)).toEqual(noRisk);
  const unread: KitExits = { ...NO_EXITS, target: { unit: "points", value: 2, study: "nothing()" } };
  expect(withLevelAt(unread, { what: "target", number: 0 }, "level", 104, 1, { ...at, study: () => Number.NaN })).toEqual(unread);
  const absolute: KitExits = { ...NO_EXITS, target: { unit: "price", value: 110 } };
  expect(withLevelAt(absolute, { what: "target", number: 0 }, "level", 104, 1, at).target).toEqual({ unit: "price", value: 104 });
});
