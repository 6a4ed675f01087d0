/** Sizes of a blend: at the boundaries of steps, and never so large that its history falls by more than is tolerated. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { blends } from "../testing/blends.ts";
import { jointProfit } from "./curves.ts";
import { deepestFallOf } from "./figures.ts";
import { type BlendMember, type BlendQuestion, blendSizes, factorsOf, leastAccount, marginOf, membersThatFit } from "./sizes.ts";

const FUTURE = { minQuantity: 1, quantityStep: 1 };
const LOTS = { minQuantity: 0.1, quantityStep: 0.1 };
const member = (part: Partial<BlendMember> = {}): BlendMember => ({ base: 1, instrument: FUTURE, marginPerUnit: 0, ...part });
/** Members that never fall together, and those that always do. */
const asked = (part: Partial<BlendQuestion> = {}): BlendQuestion => ({
  members: [member(), member({ base: 2, instrument: LOTS })],
  ...{ weights: [1, 1], tolerated: 20, allowance: 0 },
  fallAt: ([a = 0, b = 0]) => 1000 * a + 500 * b,
  ...part,
});

describe("on an account", () => {
  test.each([
    ["at the boundary of a step", 7500, {}, [1, 2]],
    ["a crown below it", 7499, {}, [0, 1.9]],
    ["twice", 15_000, {}, [2, 4]],
    ["with half as much again for a worse future", 15_000, { allowance: 50 }, [1, 2.6]],
    ["with twice the weight for one", 12_500, { weights: [2, 1] }, [2, 2]],
    ["with no weight for one", 10_000, { weights: [0, 1] }, [0, 8]],
    [
      "with margin that asks for more",
      15_000,
      { members: [member({ marginPerUnit: 15_000 }), member({ base: 2, instrument: LOTS })] },
      [1, 2],
    ],
    ["where nothing falls", 15_000, { fallAt: () => 0 }, [0, 0]],
  ] as const)("%s", (_what, account, part, units) => {
    expect(blendSizes(asked(part), account).units).toEqual(units);
  });

  test("balances of a step are whole money, rounded up", () => {
    expect(blendSizes(asked(), 7500).balances).toEqual([7500, 375]);
    expect(blendSizes(asked({ fallAt: ([a = 0]) => 1000.01 * a }), 7500).balances).toEqual([5001, 251]);
  });
});

test("the least account carries all, and one a little smaller doesn't", () => {
  expect(leastAccount(asked())).toBe(7500);
  expect(leastAccount(asked({ weights: [1, 100] }))).toBe(255_000);
  expect(leastAccount(asked({ weights: [0, 0] }))).toBeNull();
  expect(leastAccount(asked({ fallAt: () => 0 }))).toBeNull();
});

test("what an account has no room for is left out, and the others share it", () => {
  const weights = membersThatFit(asked({ weights: [1, 8] }), 9000);
  expect(weights).toEqual([0, 8]);
  expect(blendSizes(asked({ weights }), 9000).units).toEqual([0, 7.2]);
  expect(membersThatFit(asked(), 10)).toEqual([0, 0]);
  expect(membersThatFit(asked({ fallAt: () => 0 }), 10)).toEqual([1, 1]);
});

test("solved sizes never fall by more than is tolerated on the history, are whole steps, and fit the margin", () => {
  const instruments = fc.constantFrom(FUTURE, LOTS, { minQuantity: 0.5, quantityStep: 0.25 }, { minQuantity: 5, quantityStep: 1 });
  const question = fc.record({
    members: fc.array(fc.record({ base: fc.integer({ min: 1, max: 5 }), instrument: instruments, marginPerUnit: fc.constantFrom(0, 20) }), {
      ...{ minLength: 5, maxLength: 5 },
    }),
    weights: fc.array(fc.constantFrom(0, 0.3, 1, 2.7), { minLength: 5, maxLength: 5 }),
    tolerated: fc.integer({ min: 1, max: 100 }),
    allowance: fc.constantFrom(0, 30),
  });
  fc.assert(
    fc.property(blends, question, fc.integer({ min: 1, max: 2_000_000 }), ({ curves }, part, account) => {
      const count = curves.profits.length;
      const members = part.members.slice(0, count);
      const fallAt = (factors: readonly number[]): number => deepestFallOf(jointProfit(curves, factors));
      const one: BlendQuestion = { ...part, members, weights: part.weights.slice(0, count), fallAt };
      const { units, balances, fall, margin } = blendSizes(one, account);
      const hair = 1 + 1e-6;
      const limit = (account * one.tolerated) / 100;
      expect(fallAt(factorsOf(members, units)) * (1 + one.allowance / 100)).toBeLessThanOrEqual(limit * hair);
      expect(fall).toBeLessThanOrEqual(limit * hair);
      expect(margin).toBe(marginOf(members, units));
      expect(margin).toBeLessThanOrEqual(account * hair);
      units.forEach((size, k) => {
        const { minQuantity, quantityStep } = members[k]!.instrument;
        expect(Math.abs(size / quantityStep - Math.round(size / quantityStep))).toBeLessThan(1e-6);
        expect(size === 0 || size >= minQuantity).toBe(true);
        // Rounded down: so many steps at their balances fit into the account.
        expect((size / quantityStep) * (balances[k] ?? 0)).toBeLessThanOrEqual(account * hair);
      });
      const least = leastAccount(one);
      if (least === null) return;
      const there = blendSizes(one, least).units;
      expect(one.weights.every((weight, k) => weight === 0 || there[k]! > 0)).toBe(true);
    }),
    { numRuns: 200 },
  );
});
