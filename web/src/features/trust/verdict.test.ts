import { describe, expect, test } from "vitest";
import { type VerdictFacts, verdictOf } from "./verdict.ts";

const GOOD: VerdictFacts = {
  figures: { trades: 200, netProfit: 5000, pathDependentTrades: 0, maxDrawdown: 900 },
  confidence: 0.99,
  sessions: 500,
  neededSessions: 300,
  lossProbability: 0.01,
  badDrawdown: 1000,
  breakEvenCosts: 3,
  withoutBest: 4000,
  delayedNet: 3000,
  randomAtLeast: 0.01,
  entriesAtLeast: 0.02,
  chance: { markets: 99, asGood: 0, p: 0.01, smooth: null, luck: 0.2, expected: 1.4 },
  rules: ["earns", "earns"],
  jitterGained: 0.95,
  slippageNet: 3500,
  isSpent: false,
  hasWalkForward: true,
  isWalkForward: false,
};

describe("the verdict", () => {
  test("of a sound result finds nothing against it, and sends it to the practice venue", () => {
    const { against, untested, next, forIt } = verdictOf(GOOD);
    expect([against, untested]).toEqual([[], []]);
    expect(forIt.length).toBeGreaterThan(8);
    expect(next).toMatch(/practice venue/);
  });

  test.each([
    [{ figures: { ...GOOD.figures, trades: 12 } }, /12 trades are too few/, /longer period/],
    [{ figures: { ...GOOD.figures, netProfit: -10 } }, /It lost money/, /Change the idea/],
    [{ neededSessions: 900 }, /too short .* 500 sessions, 900 are needed/, /^Work on the evidence against it/],
    [{ withoutBest: -5 }, /Without its best trade nothing is left/, /^Work on the evidence against it/],
    [{ breakEvenCosts: 1.2 }, /At 1\.2 times the costs nothing is left/, /^Work on the evidence against it/],
    [{ delayedNet: -1 }, /Entered a bar late it loses/, /^Work on the evidence against it/],
    [{ randomAtLeast: 0.6 }, /the entries add little/, /^Work on the evidence against it/],
    [{ entriesAtLeast: 0.4 }, /do not tell where prices go/, /^Work on the evidence against it/],
    [
      { chance: { markets: 99, asGood: 49, p: 0.5, smooth: null, luck: 0.9, expected: 0.1 } },
      /in 49 \(p 0\.50\): a market of which the past says nothing/,
      /^Work on the evidence against it/,
    ],
    [
      { rules: ["earns", "nothing", "costs"] },
      /^2 of its 3 rules earn nothing that stands out from chance/,
      /^Work on the evidence against it/,
    ],
    [{ jitterGained: 0.3 }, /30\s% of the cases only: a lonely peak/, /^Work on the evidence against it/],
    [{ slippageNet: -1 }, /one more tick of slippage per fill it loses/, /^Work on the evidence against it/],
    [{ badDrawdown: 2000 }, /The drawdown was lucky/, /^Work on the evidence against it/],
    [{ figures: { ...GOOD.figures, pathDependentTrades: 50 } }, /50 of 200 trades depend on the path/, /^Work on the evidence against it/],
    [{ isSpent: true }, /has been used for a sweep/, /period that no sweep has seen/],
  ] as const)("%o is said", (change, reason, next) => {
    const verdict = verdictOf({ ...GOOD, ...change });
    expect(verdict.against.join(" ")).toMatch(reason);
    expect(verdict.next).toMatch(next);
  });

  test("what was not tried is named, and is the next step", () => {
    const verdict = verdictOf({ ...GOOD, jitterGained: null, slippageNet: null, hasWalkForward: false });
    expect(verdict.untested.length).toBe(3);
    expect(verdict.next).toMatch(/Perturb/);
    expect(verdictOf({ ...GOOD, hasWalkForward: false }).next).toMatch(/walk-forward/);
    expect(verdictOf({ ...GOOD, rules: null }).untested).toEqual(["What each rule earns has not been asked."]);
    expect(verdictOf({ ...GOOD, rules: ["earns", "open"] }).against).toEqual([]);
    expect(verdictOf({ ...GOOD, chance: null }).next).toMatch(/markets without memory/);
    // A setting that a sweep chose has its sweep's luck test alone.
    expect(verdictOf({ ...GOOD, chance: null, isSpent: true }).untested).toEqual([]);
  });
});
