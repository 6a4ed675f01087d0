/** The work on a blend: sizes under the hand, sizes that are found, and what is said of both. */
import type { BlendSetup } from "@plan-tester/contract";
import { describe, expect, test } from "vitest";
import { BlendWork, type WorkMember } from "./blend-work.ts";

const DAY = 86_400_000;
const START = Date.UTC(2024, 0, 1);

/** A close a day; what each brings. */
function member(steps: readonly number[], part: Partial<WorkMember> = {}, firstDay = 0): WorkMember {
  let equity = 1000;
  return {
    time: Float64Array.from(steps, (_step, i) => START + (firstDay + i) * DAY + DAY / 2),
    equity: Float64Array.from(steps, (step) => {
      equity += step;
      return equity;
    }),
    ...{ cash: 1000, rate: 1, trades: [], base: 1, instrument: { minQuantity: 1, quantityStep: 1 }, marginPerUnit: 0 },
    value: Float64Array.from(steps, (_step, i) => (i % 2) * 500),
    margin: new Float64Array(steps.length),
    ...part,
  };
}

const waves = (n: number, phase: number, drift = 1): number[] =>
  Array.from({ length: n }, (_none, i) => Math.round(10 * Math.sin((i + phase) / 7)) + drift);
const setupOf = (sizes: readonly number[], part: Partial<BlendSetup> = {}): BlendSetup => ({
  ...{ cash: 10_000, currency: "XSC", rates: {}, tolerated: 20, allowance: 0, fall: "measured" },
  ...{ weighting: "by hand", days: "shared", chosenBy: 60 },
  members: sizes.map((size, k) => ({ runId: `r${k}`, size })),
  ...part,
});
const two = { members: [member(waves(200, 0)), member(waves(200, 9), { base: 2 })], zone: "UTC" };

describe("by hand", () => {
  const work = new BlendWork(two, "shared");

  test("what is held counts at its size, in parts of the account", () => {
    const { peak, units, figures, days } = work.quick(setupOf([2, 6]));
    expect(units).toEqual([2, 6]);
    // 500 at the size of each run: twice of one, three times of the other, at the same closes.
    expect(peak.value).toBe((2 * 500 + 3 * 500) / 10_000);
    expect(days).toBe(200);
    expect(figures.members.map(({ profit }) => profit)).toEqual([2 * sum(waves(200, 0)), 3 * sum(waves(200, 9))]);
  });

  test("the picture keeps the deepest fall, whatever it leaves out", () => {
    const long = member(Array.from({ length: 20_000 }, (_none, i) => (i === 7777 ? -900 : i === 7778 ? 900 : (i % 5) - 2)));
    const { chart, figures } = new BlendWork({ members: [long], zone: "UTC" }, "all").quick(setupOf([1]));
    expect(chart.time.length).toBeLessThan(3000);
    expect(Math.min(...chart.fall)).toBeCloseTo(-100 * figures.drawdown.share, 12);
    expect(Math.max(...chart.joint) - Math.min(...chart.joint)).toBeGreaterThan(900);
  });

  test("parts add up to the whole, and no gain is told of weights that nobody chose", () => {
    const setup = setupOf([1, 2]);
    const { parts, gain, isPlain } = work.slow(setup, [1, 2]);
    expect(parts[0]!.chosen.profit + parts[1]!.chosen.profit).toBeCloseTo(work.quick(setup).figures.profit, 9);
    expect([gain, isPlain]).toEqual([null, false]);
  });
});

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

describe("sizes that are found", () => {
  const work = new BlendWork(two, "shared");

  test("fall by no more than is tolerated, and the sum says what a step asks for", () => {
    const setup = setupOf([1, 2], { weighting: "equal drawdown" });
    const { units, figures } = work.quick(setup);
    expect(figures.drawdown.share).toBeLessThanOrEqual(0.2);
    const { sizes, least } = work.slow(setup, units);
    for (const [k, size] of units.entries()) expect(size * sizes.balances[k]!).toBeLessThanOrEqual(10_000);
    expect(least).toBeLessThanOrEqual(10_000);
  });

  test("members that never fall together have no size, and that is told", () => {
    const hedged = { members: [member(waves(200, 0)), member(waves(200, 0).map((step) => 3 - step))], zone: "UTC" };
    const of = new BlendWork(hedged, "shared");
    const setup = setupOf([1, 1], { weighting: "as they ran" });
    expect(of.quick(setup).units).toEqual([0, 0]);
    expect(of.slow(setup, [0, 0])).toMatchObject({ isStill: true, least: null });
  });

  test("a size of 0 leaves a member out, however weights are found; one that is too large for the account goes first", () => {
    expect(work.quick(setupOf([0, 2], { weighting: "equal drawdown" })).units[0]).toBe(0);
    const large = { ...two, members: [two.members[0]!, member(waves(200, 9), { instrument: { minQuantity: 1000, quantityStep: 1000 } })] };
    const { units } = new BlendWork(large, "shared").quick(setupOf([1, 1], { weighting: "equal drawdown" }));
    expect([units[0]! > 0, units[1]]).toEqual([true, 0]);
  });

  test("ready for 95 % of resampled days asks for smaller sizes than the fall as it was, where that was luck", () => {
    const steady = { members: [member(Array.from({ length: 300 }, (_none, i) => (i % 3 === 0 ? -12 : 8)))], zone: "UTC" };
    const of = (fall: BlendSetup["fall"]): number =>
      new BlendWork(steady, "shared").quick(setupOf([1], { weighting: "as they ran", fall })).units[0]!;
    expect(of("days 95")).toBeLessThan(of("measured") / 2);
    expect(of("days 99")).toBeLessThanOrEqual(of("days 95"));
  });

  test("weights that gain nothing on the first days are those of equal drawdown, and said to be", () => {
    const losing = { members: [member(waves(200, 0, -3)), member(waves(200, 9, -3))], zone: "UTC" };
    const setup = setupOf([1, 1], { weighting: "greatest return over drawdown" });
    const of = new BlendWork(losing, "shared");
    expect(of.slow(setup, of.quick(setup).units)).toMatchObject({ isPlain: true, gain: null });
    const better = { members: [member(waves(200, 0, 4)), member(waves(200, 9, -3))], zone: "UTC" };
    const found = new BlendWork(better, "shared");
    expect(found.slow(setup, found.quick(setup).units)).toMatchObject({ isPlain: false, gain: { draws: 1000 } });
  });
});

describe("days", () => {
  const members = [member(waves(100, 0)), member(waves(100, 5), {}, 40)];

  test("only those on which all ran count, unless every day is asked for", () => {
    const [shared, all] = [new BlendWork({ members, zone: "UTC" }, "shared"), new BlendWork({ members, zone: "UTC" }, "all")];
    expect(shared.quick(setupOf([1, 1])).days).toBe(60);
    expect(all.quick(setupOf([1, 1])).days).toBe(140);
    for (const work of [shared, all])
      expect(work.quick(setupOf([1, 1]))).toMatchObject({ isShorter: true, shared: { from: START + 40 * DAY, to: START + 99 * DAY } });
    expect(new BlendWork(two, "shared").quick(setupOf([1, 2])).isShorter).toBe(false);
  });

  test("members without a day in common are all there is", () => {
    const apart = [member(waves(30, 0)), member(waves(30, 5), {}, 50)];
    expect(new BlendWork({ members: apart, zone: "UTC" }, "shared").quick(setupOf([1, 1]))).toMatchObject({ days: 60, shared: null });
  });
});
