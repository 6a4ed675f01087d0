/** Growth, ruin and risk of a size: against closed forms. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { entryRisk } from "./entry-risk.ts";
import { compoundedFall, growthSize } from "./growth-size.ts";
import { touching } from "./touching.ts";

/** Of a hundred bets so many win. */
const bets = (wins: number, gain = 1, loss = 1): number[] => Array.from({ length: 100 }, (_none, i) => (i < wins ? gain : -loss));

describe("the size of the greatest growth", () => {
  test.each([
    ["even money, 60 of 100: 2p - 1", bets(60), 0.2],
    ["two for one, 40 of 100: p - q / b", bets(40, 2), 0.1],
    ["half a stake lost, 50 of 100, even gain: p / a - q / b", bets(50, 1, 0.5), 0.5],
    ["no edge", bets(50), 0],
    ["less than none", bets(45), 0],
  ])("%s", (_what, nets, fraction) => {
    // On an account of 1 the factor is the fraction that is staked.
    expect(growthSize(nets, 1)!.factor).toBeCloseTo(fraction, 9);
    // The account's size changes the factor, not the fraction.
    expect(growthSize(nets, 250)!.factor / 250).toBeCloseTo(fraction, 9);
  });

  test("is none of what never lost, and of one trade", () => {
    expect(growthSize([1, 2, 0], 100)).toBeNull();
    expect(growthSize([1], 100)).toBeNull();
  });

  test("no other factor grows faster", () => {
    const nets = fc.array(fc.integer({ min: -30, max: 40 }), { minLength: 3, maxLength: 40 }).filter((list) => list.some((net) => net < 0));
    fc.assert(
      fc.property(nets, fc.double({ min: 0, max: 0.999, noNaN: true }), (list, share) => {
        const { factor, growth } = growthSize(list, 1000)!;
        const other = (share * 1000) / -Math.min(...list);
        const grown = list.reduce((sum, net) => sum + Math.log1p((other * net) / 1000), 0) / list.length;
        expect(Math.expm1(grown)).toBeLessThanOrEqual(growth + 1e-9);
        expect(factor).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  test("falls less deep at half of it", () => {
    const nets = Array.from({ length: 20 }, () => bets(55)).flat();
    const { factor } = growthSize(nets, 1)!;
    const [whole, half] = [compoundedFall(nets, 1, factor)!, compoundedFall(nets, 1, factor / 2)!];
    expect(half.middle).toBeLessThan(whole.middle * 0.8);
    expect(whole.middle).toBeGreaterThan(0.5);
    expect(whole.likely).toBeGreaterThan(whole.middle);
    expect(compoundedFall([3], 1, 1)).toBeNull();
  });
});

/** Chance that a walk of n steps up by 1 with probability p, else down, comes to -start: step by step. */
function ruinWithin(p: number, start: number, n: number): number {
  let alive = new Map([[start, 1]]);
  let ruined = 0;
  for (let i = 0; i < n; i++) {
    const next = new Map<number, number>();
    for (const [at, chance] of alive)
      for (const [to, part] of [
        [at + 1, p],
        [at - 1, 1 - p],
      ] as const)
        if (to === 0) ruined += chance * part;
        else next.set(to, (next.get(to) ?? 0) + chance * part);
    alive = next;
  }
  return ruined;
}

describe("touching a limit within so many trades", () => {
  test.each([
    [55, 10, 100],
    [50, 5, 40],
    [60, 3, 200],
  ])("with %d of 100 that win an account of %d is lost within %d trades as often as the walk says", (wins, account, trades) => {
    const found = touching({ nets: bets(wins), factor: 1, account, limit: 1e9, trades })!;
    const exact = ruinWithin(wins / 100, account, trades);
    // Four standard errors of so many draws.
    expect(Math.abs(found.ruin - exact)).toBeLessThan(4 * Math.sqrt((exact * (1 - exact)) / found.draws));
    expect(found.fall).toBe(0);
  });

  test("more trades, a larger size or a nearer limit make it likelier; the same seed the same", () => {
    const asked = { nets: bets(52), factor: 1, account: 30, limit: 10, trades: 60 };
    const base = touching(asked)!;
    expect(touching(asked)).toEqual(base);
    for (const part of [{ trades: 200 }, { factor: 2 }, { limit: 5 }])
      expect(touching({ ...asked, ...part })!.fall).toBeGreaterThan(base.fall);
    expect(touching({ ...asked, nets: [] })).toBeNull();
  });
});

test("risk of entries: the middle, the largest, and how many had no stop", () => {
  const trade = (risk: number | null) => ({ risk });
  expect(entryRisk([trade(100), trade(300), trade(200), trade(null)])).toEqual({ middle: 200, largest: 300, without: 0.25 });
  expect(entryRisk([trade(null), trade(0)])).toEqual({ middle: null, largest: null, without: 1 });
  expect(entryRisk([])).toEqual({ middle: null, largest: null, without: 0 });
});
