import { EMPTY_KIT, type ExitKit, NO_EXITS } from "@plan-tester/core";
import { expect, test } from "vitest";
import { kitsOverRange, MOST_KITS, rangedIn, valuesOf } from "./stop-study.ts";

const long = {
  ...NO_EXITS,
  stopLoss: { unit: "ticks" as const, value: 40 },
  trail: { distance: { unit: "points" as const, value: 2, study: "atr(14)" }, after: null, step: { unit: "ticks" as const, value: 2 } },
};
const KIT: ExitKit = { ...EMPTY_KIT, name: "Mine", long, short: { ...NO_EXITS, target: { unit: "R", value: 2 } } };

test.each([
  [{ from: 10, to: 30, step: 10 }, [10, 20, 30]],
  [{ from: 0.1, to: 0.5, step: 0.1 }, [0.1, 0.2, 0.3, 0.4, 0.5]],
  [{ from: 10, to: 25, step: 10 }, [10, 20]],
  [{ from: 10, to: 10, step: 1 }, [10]],
  [{ from: 10, to: 5, step: 1 }, []],
  [{ from: 0, to: 5, step: 1 }, []],
  [{ from: 1, to: 5, step: 0 }, []],
])("values of %j", (range, expected) => expect(valuesOf({ of: "stopLoss", ...range })).toEqual(expected));

test("too many are cut where that can still be seen", () => {
  expect(valuesOf({ of: "target", from: 1, to: 1e6, step: 1 })).toHaveLength(MOST_KITS + 1);
});

test("distances that a kit has can be varied, on each side that has them", () => {
  expect(rangedIn(KIT)).toEqual(["stopLoss", "target", "trail"]);
  expect(rangedIn(null)).toEqual([]);
  const stops = kitsOverRange(KIT, { of: "stopLoss", from: 20, to: 30, step: 10 });
  expect(stops.map(({ name }) => name)).toEqual(["Mine, stop loss 20 ticks", "Mine, stop loss 30 ticks"]);
  expect(stops.map((kit) => [kit.long!.stopLoss!.value, kit.short])).toEqual([
    [20, KIT.short],
    [30, KIT.short],
  ]);
  const [trailing] = kitsOverRange(KIT, { of: "trail", from: 3, to: 3, step: 1 });
  expect(trailing!.long!.trail).toEqual({ ...long.trail, distance: { unit: "points", value: 3, study: "atr(14)" } });
  expect(trailing!.name).toBe("Mine, trail 3 x atr(14)");
  expect(kitsOverRange({ ...KIT, short: null, long: NO_EXITS }, { of: "target", from: 1, to: 2, step: 1 })).toEqual([]);
});
