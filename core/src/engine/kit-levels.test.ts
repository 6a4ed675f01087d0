/** What a kit's distances are said to mean, against the levels that an entry under it really gets. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { barsOf, INSTRUMENT } from "../testing/bars.ts";
import { backtestOf, words } from "../testing/run.ts";
import { EMPTY_KIT, type KitDistance, type KitExits, NO_EXITS } from "./kit.ts";
import { distanceMove, kitLevels } from "./kit-levels.ts";

const flat = barsOf(Array.from({ length: 4 }, () => [100, 100, 100, 100] as const));
const study = (): number => 1.5;
const at = { price: 100, quantity: 2, instrument: INSTRUMENT, study };
const distance: fc.Arbitrary<KitDistance> = fc.oneof(
  fc.integer({ min: 1, max: 40 }).map((value): KitDistance => ({ unit: "ticks", value })),
  fc.integer({ min: 1, max: 90 }).map((tenths): KitDistance => ({ unit: "percent", value: tenths / 10 })),
  fc.integer({ min: 10, max: 160 }).map((value): KitDistance => ({ unit: "money", value })),
  fc.integer({ min: 10, max: 90 }).map((value): KitDistance => ({ unit: "money per unit", value })),
  fc.integer({ min: 1, max: 90 }).map((tenths): KitDistance => ({ unit: "points", value: tenths / 10 })),
);
const target = fc.oneof(distance, fc.constantFrom<KitDistance>({ unit: "R", value: 2 }, { unit: "R", value: 0.5 }));

test("stop loss and target are where an entry has them, for both sides", () => {
  fc.assert(
    fc.property(distance, target, fc.constantFrom(1 as const, -1 as const), (stopLoss, goal, side) => {
      const exits: KitExits = { ...NO_EXITS, stopLoss, target: goal };
      let n = -1;
      const backtest = backtestOf(
        flat,
        ({ on, enter }) => on.barClose(() => ++n === 0 && (side > 0 ? enter.long : enter.short)({ size: words.units(2) })),
        { settings: { kit: { ...EMPTY_KIT, long: exits, short: exits } } },
      );
      backtest.advance(3);
      const [lot] = backtest.books[0]!.lots;
      const levels = kitLevels(exits, side, at);
      expect(levels.map(({ what, price }) => [what, price])).toEqual([
        ["stop loss", lot!.stop!.price],
        ["target", lot!.target!.price],
      ]);
      for (const { price, move, money } of levels) {
        expect(move).toBeCloseTo((price - 100) * side, 9);
        expect(money).toBeCloseTo(move * 2 * INSTRUMENT.pointValue, 9);
      }
    }),
  );
});

test("what a profit brings about: where the trail starts, break-even, each lock, with the stop then", () => {
  const R = (value: number): KitDistance => ({ unit: "R", value });
  const points = (value: number): KitDistance => ({ unit: "points", value });
  const exits: KitExits = {
    ...NO_EXITS,
    stopLoss: { unit: "points", value: 2, study: "atr(14)" },
    trail: { distance: points(1), after: points(4), step: null },
    breakEven: { after: R(1), keep: points(-0.5) },
    locks: [{ after: R(2), keep: R(1) }],
  };
  expect(kitLevels(exits, 1, at).map(({ what, number, price, stop }) => [what, number, price, stop])).toEqual([
    ["stop loss", 0, 97, null],
    ["trail starts", 0, 104, 103],
    ["break-even", 0, 103, 99.5],
    ["lock", 1, 106, 103],
  ]);
  expect(kitLevels(exits, -1, at).map(({ price, stop }) => [price, stop])).toEqual([
    [103, null],
    [96, 97],
    [97, 100.5],
    [94, 97],
  ]);
  expect(kitLevels({ ...NO_EXITS, trail: { distance: points(3), after: null, step: null } }, 1, at)).toMatchObject([
    { what: "trail", price: 97 },
  ]);
});

test("what can't be told is left out: R without a stop loss, a study that can't be read, a distance of nothing", () => {
  const exits: KitExits = {
    ...NO_EXITS,
    target: { unit: "R", value: 2 },
    breakEven: { after: { unit: "ticks", value: 0 }, keep: { unit: "ticks", value: 0 } },
  };
  expect(kitLevels(exits, 1, at)).toEqual([]);
  const unread: KitExits = { ...NO_EXITS, stopLoss: { unit: "points", value: 2, study: "nothing()" } };
  expect(kitLevels(unread, 1, { ...at, study: () => Number.NaN })).toEqual([]);
  expect(distanceMove({ unit: "R", value: 2 }, exits, at)).toBeNaN();
  expect(distanceMove({ unit: "percent", value: 2 }, exits, at)).toBe(2);
});
