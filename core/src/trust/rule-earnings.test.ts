import { expect, test } from "vitest";
import type { MatchedTrade } from "../figures/trade-match.ts";
import { Random } from "../random.ts";
import { bandOfMean, ruleEarnings } from "./rule-earnings.ts";

const SESSIONS = 250;
const OPTIONS = { sessionsPerYear: SESSIONS, seed: 3 };
const noise = (length: number, seed: number, persistence = 0): Float64Array => {
  const random = new Random(seed);
  let last = 0;
  return Float64Array.from({ length }, () => {
    last = persistence * last + random.normal() * 0.01;
    return last;
  });
};
const runOf = (daily: Float64Array, trades: readonly MatchedTrade[] = []) => ({ daily, trades });
const trade = (entryTime: number, net: number): MatchedTrade => ({
  ...{ symbol: "TEST", side: 1, entryTag: "", entryTime, exitTime: entryTime + 5, reason: "target", net },
});

test("earned a year is the mean difference times the sessions, whole and by halves", () => {
  const without = noise(400, 1);
  const withIt = without.map((value, i) => value + (i < 200 ? 0.001 : 0.003));
  const { earned, halves, low, high } = ruleEarnings(runOf(withIt), runOf(without), [], OPTIONS);
  expect(earned).toBeCloseTo(0.002 * SESSIONS, 12);
  expect(halves[0]).toBeCloseTo(0.001 * SESSIONS, 12);
  expect(halves[1]).toBeCloseTo(0.003 * SESSIONS, 12);
  expect(low).toBeLessThan(earned);
  expect(high).toBeGreaterThan(earned);
});

test.each([
  ["none did as well", 0, 0.01, true],
  ["four did as well", 4, 0.05, true],
  ["five did as well", 5, 0.06, false],
  ["all did as well", 99, 1, false],
])("with 99 placebos: %s", (_what, asGood, share, earns) => {
  const without = noise(400, 2);
  const withIt = without.map((value) => value + 0.001);
  const own = withIt.reduce((sum, value) => sum + value, 0) / 400;
  const placebos = Array.from({ length: 99 }, (_none, k) => (k < asGood ? own : own - 1e-6));
  expect(ruleEarnings(runOf(withIt), runOf(without), placebos, OPTIONS)).toMatchObject({ placebos: 99, asGood, share, earns });
});

test("a band that reaches below 0 earns nothing, however few placebos did as well", () => {
  const without = noise(400, 4);
  const withIt = noise(400, 5);
  const result = ruleEarnings(runOf(withIt), runOf(without), new Array<number>(99).fill(-1), OPTIONS);
  expect(result.share).toBe(0.01);
  expect(result.low).toBeLessThan(0);
  expect(result.earns).toBe(false);
});

test("without placebos nothing is said to earn", () => {
  const without = noise(400, 6);
  const result = ruleEarnings(runOf(without.map((value) => value + 1)), runOf(without), [], OPTIONS);
  expect(result).toMatchObject({ share: null, earns: false, placebos: 0 });
});

test("trades that only one of the two made are kept out or let in, with their result", () => {
  const flat = new Float64Array(10);
  const withIt = runOf(flat, [trade(1, 10), trade(3, -4), trade(9, 7)]);
  const without = runOf(flat, [trade(1, 10), trade(2, -20), trade(3, 5), trade(4, 1)]);
  const { keptOut, letIn } = ruleEarnings(withIt, without, [], OPTIONS);
  expect(keptOut).toEqual({ trades: 2, net: -19 });
  expect(letIn).toEqual({ trades: 1, net: 7 });
});

test("no sessions and no trades are no error", () => {
  const empty = runOf(new Float64Array(0));
  expect(ruleEarnings(empty, empty, [], OPTIONS)).toMatchObject({ earned: 0, low: 0, high: 0, halves: [0, 0], earns: false });
});

test("the band of independent values is the one that theory gives", () => {
  const values = noise(2000, 7);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const wanted = (1.645 * 0.01) / Math.sqrt(values.length);
  const [low, high] = bandOfMean(values, 1);
  for (const reach of [mean - low, high - mean]) expect(Math.abs(reach / wanted - 1)).toBeLessThan(0.12);
});

test("values that persist have a wider band than their shuffled selves, and the same seed the same band", () => {
  const values = noise(2000, 8, 0.6);
  const random = new Random(1);
  const mixed = Float64Array.from(
    [...values].map((value) => [random.next(), value] as const).sort((a, b) => a[0] - b[0]),
    ([, value]) => value,
  );
  const widthOf = ([low, high]: [number, number]): number => high - low;
  expect(widthOf(bandOfMean(values, 1)) / widthOf(bandOfMean(mixed, 1))).toBeGreaterThan(1.25);
  expect(bandOfMean(values, 1)).toEqual(bandOfMean(values, 1));
});
