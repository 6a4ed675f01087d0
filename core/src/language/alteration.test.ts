/** A condition in another's place: always, never, or as it stood some bars ago. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { INSTRUMENT, tradedWalk } from "../testing/bars.ts";
import { words } from "../testing/run.ts";
import { type Alteration, altered } from "./alteration.ts";
import { type Condition, Crossing, flagsOf, State } from "./columns.ts";
import { PlanBars } from "./market.ts";
import { newRunScope, newScope } from "./scope.ts";
import { bitsOf, StudyStore } from "./study-store.ts";

const SESSION = 48;
const LENGTH = 40 * SESSION;
const series = tradedWalk(LENGTH, 5);
const bars = new PlanBars(newScope(newRunScope(), "", new StudyStore(series), null), INSTRUMENT);
const { ema, isAbove, crossesAbove } = words;
const state: Condition = isAbove(bars.close, ema(bars.close, 30));
const crossing: Condition = crossesAbove(bars.close, ema(bars.close, 30));

const bitsAfter = (condition: Condition, alteration: Alteration): { first: number; bits: Uint8Array } => {
  const entry = flagsOf(altered(condition, alteration) as Condition);
  return { first: entry.first, bits: bitsOf(entry) };
};
const held = (bits: Uint8Array): number => bits.reduce((sum, bit) => sum + bit, 0);

test.each([
  ["always", 1],
  ["never", 0],
] as const)("%s, from the bar on which it is known", (as, value) => {
  for (const condition of [state, crossing]) {
    const { first, bits } = bitsAfter(condition, { as });
    expect(first).toBe(flagsOf(condition).first);
    expect([...bits]).toEqual(Array.from({ length: LENGTH }, (_none, i) => (i < first ? 0 : value)));
  }
});

test("as it stood n bars ago, as often and as long, with n from a session to a third of its bars", () => {
  const backs = new Set<number>();
  fc.assert(
    fc.property(fc.constantFrom(state, crossing), fc.integer({ min: 0, max: 1000 }), (condition, thousandths) => {
      const share = thousandths / 1000;
      const source = bitsOf(flagsOf(condition));
      const { first, bits } = bitsAfter(condition, { as: "earlier", share });
      expect(first).toBe(flagsOf(condition).first);
      expect(held(bits)).toBe(held(source));
      const known = LENGTH - first;
      const shifted = (back: number): boolean =>
        bits.every((bit, i) => i < first || bit === source[first + ((i - first - back + known) % known)]);
      const back = Array.from({ length: known }, (_none, k) => k).find(shifted)!;
      backs.add(back);
      expect(back).toBeGreaterThanOrEqual(SESSION);
      expect(back).toBeLessThanOrEqual(Math.floor(known / 3));
    }),
    { numRuns: 60 },
  );
  expect(backs.size).toBeGreaterThan(20);
});

test.each([0, 1])("the ends of the range: share %d", (share) => {
  const { first, bits } = bitsAfter(state, { as: "earlier", share });
  const back = share === 0 ? SESSION : Math.floor((LENGTH - first) / 3);
  expect([...bits.subarray(first + back)]).toEqual([...bitsOf(flagsOf(state)).subarray(first, LENGTH - back)]);
});

test("a crossing stays one, a state stays one, and what is no condition stays what it is", () => {
  expect(altered(crossing, { as: "always" })).toBeInstanceOf(Crossing);
  expect(altered(state, { as: "earlier", share: 0.5 })).toBeInstanceOf(State);
  for (const other of [bars.close, 5, "text", null, undefined]) expect(altered(other, { as: "always" })).toBe(other);
});

test("the longer bars of a condition are those that are counted", () => {
  const longer = bars.at("1d");
  const daily: Condition = isAbove(longer.close, ema(longer.close, 4));
  const { first, bits } = bitsAfter(daily, { as: "earlier", share: 0 });
  const source = bitsOf(flagsOf(daily));
  expect([...bits.subarray(first + 1)]).toEqual([...source.subarray(first, source.length - 1)]);
});

test("so few bars that nothing lies between keep it in their bounds", () => {
  const few = new PlanBars(newScope(newRunScope(), "", new StudyStore(tradedWalk(3, 1)), null), INSTRUMENT);
  const any: Condition = isAbove(few.close, 0);
  for (const share of [0, 0.5, 1]) expect(held(bitsAfter(any, { as: "earlier", share }).bits)).toBe(3);
});
