/** Blends against slow twins, closed forms and what must add up. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { drawdowns } from "../figures/drawdown.ts";
import { START } from "../testing/bars.ts";
import { blends, drifting, member } from "../testing/blends.ts";
import { correlation, correlations, correlationsOn, meanCorrelation, rollingCorrelation, worstDays } from "./correlation.ts";
import { type BlendCurves, blendCurves, blendPart, dailyProfits, jointProfit, type MemberCurve } from "./curves.ts";
import { gainOver, jointAhead } from "./doubt.ts";
import { blendFigures, covariances, deepestFallOf, sharedFalls, varianceShares } from "./figures.ts";
import { findTwins } from "./twins.ts";
import { WEIGHTINGS, weightsBy } from "./weights.ts";

const factors = fc.array(fc.integer({ min: 0, max: 8 }), { minLength: 5, maxLength: 5 });
const DAY = 86_400_000;

describe("curves", () => {
  test("at every close of any member each stands where its last close left it", () => {
    fc.assert(
      fc.property(blends, factors, ({ members, curves }, sizes) => {
        const all = [...new Set(members.flatMap(({ time }) => [...time]))].sort((a, b) => a - b);
        expect([...curves.time]).toEqual(all);
        const slow = all.map((ms) =>
          members.reduce((sum, { time, equity, cash }, k) => sum + sizes[k]! * ((equity[lastBy(time, ms)] ?? cash) - cash), 0),
        );
        expect([...jointProfit(curves, sizes)]).toEqual(slow);
      }),
    );
  });

  test("a fall inside a day counts, which daily sums don't show", () => {
    const deep = blendCurves([member([-50, 60, -50, 50])], "UTC");
    expect(deep.dayEnds.length).toBe(1);
    expect(blendFigures(deep, [1], 1000).drawdown).toEqual({ money: 50, share: 0.05 });
  });

  test("days are those of the zone; a close at midnight ends its day", () => {
    const times = [0, 3600, 3601, 86_400].map((seconds) => START + seconds * 1000);
    const one: MemberCurve = { time: Float64Array.from(times), equity: new Float64Array(4), cash: 0, rate: 1 };
    expect([...blendCurves([one], "UTC").days]).toEqual([START - DAY, START]);
    expect([...blendCurves([one], "UTC").dayEnds]).toEqual([0, 3]);
    // One hour west of it, what closes by one at night is still of the day before.
    expect([...blendCurves([one], "Atlantic/Azores").dayEnds]).toEqual([1, 3]);
  });

  test("three currencies: a fixed rate, a rate that moves, and the blend's own", () => {
    const moving = { time: Float64Array.from([START, START + 7 * 3_600_000]), value: Float64Array.from([2, 3]) };
    const curves = blendCurves([member([10, 10]), member([10, -4], { rate: 0.5 }), member([10, 10], { rate: moving })], "UTC");
    // 1 o'clock and 7 o'clock: the second profit abroad counts at the second rate.
    expect(curves.profits.map((profit) => [...profit])).toEqual([
      [10, 20],
      [5, 3],
      [20, 50],
    ]);
  });

  test("a part of the days begins at nothing, and parts add up", () => {
    fc.assert(
      fc.property(blends, factors, fc.nat(), ({ curves }, sizes, at) => {
        const days = curves.dayEnds.length;
        const cut = at % (days + 1);
        const [before, after] = [blendPart(curves, 0, cut), blendPart(curves, cut, days)];
        const end = (part: BlendCurves): number => jointProfit(part, sizes).at(-1) ?? 0;
        expect(end(before) + end(after)).toBe(end(curves));
        expect(before.dayEnds.length + after.dayEnds.length).toBe(days);
        expect([...dailyProfits(before)[0]!, ...dailyProfits(after)[0]!]).toEqual([...dailyProfits(curves)[0]!]);
      }),
    );
  });
});

const lastBy = (times: ArrayLike<number>, ms: number): number => {
  let last = -1;
  for (let i = 0; i < times.length; i++) if (times[i]! <= ms) last = i;
  return last;
};

describe("figures", () => {
  test("contributions add up to the whole: to profit, to the deepest fall at its low, to variance", () => {
    fc.assert(
      fc.property(blends, factors, ({ curves }, sizes) => {
        const found = blendFigures(curves, sizes, 1000);
        const sum = (part: (one: (typeof found.members)[number]) => number | null): number =>
          found.members.reduce((total, one) => total + (part(one) ?? 0), 0);
        expect(sum(({ profit }) => profit)).toBe(found.profit);
        expect(sum(({ atLow }) => atLow)).toBe(found.drawdown.money);
        if (found.members[0]!.volatility !== null) expect(sum(({ volatility }) => volatility)).toBeCloseTo(1, 9);
        for (const fall of sharedFalls(curves, sizes, 1000)) expect(fall.parts.reduce((a, b) => a + b, 0)).toBe(fall.depth);
      }),
    );
  });

  test("the joint fall is that of the joint curve, no deeper than the members' own together; without one, that of the others", () => {
    fc.assert(
      fc.property(blends, factors, ({ curves }, sizes) => {
        const found = blendFigures(curves, sizes, 1e6);
        const own = (weights: readonly number[]): number =>
          drawdowns(
            jointProfit(curves, weights).map((v) => v + 1e6),
            1e6,
            curves.time,
            START,
          ).money.size;
        expect(found.drawdown.money).toBe(own(sizes));
        expect(found.drawdown.money).toBeLessThanOrEqual(found.sumOfDrawdowns);
        found.members.forEach(({ without, drawdown }, k) => {
          expect(without.drawdown.money).toBe(own(sizes.map((size, j) => (j === k ? 0 : size))));
          expect(drawdown.money).toBe(own(sizes.map((size, j) => (j === k ? size : 0))));
        });
      }),
    );
  });
});

/** Two columns without correlation, of deviation 1 or so. */
const A = Float64Array.from({ length: 40 }, (_none, i) => (i % 4 < 2 ? 1 : -1));
const B = Float64Array.from({ length: 40 }, (_none, i) => (i % 2 === 0 ? 1 : -1));
const mix = (a: number, b: number): Float64Array => A.map((value, i) => a * value + b * B[i]!);

describe("correlation", () => {
  test.each([
    ["the same", A, A, 1],
    ["turned", A, mix(-3, 0), -1],
    ["none", A, B, 0],
    ["six tenths, by 0.6 and 0.8", A, mix(0.6, 0.8), 0.6],
    ["of what stands still", A, new Float64Array(40), null],
    ["of fewer days than twenty", A.subarray(0, 19), B.subarray(0, 19), null],
  ] as const)("%s", (_what, a, b, wanted) => {
    const found = correlation(a, b);
    if (wanted === null) expect(found).toBeNull();
    else expect(found).toBeCloseTo(wanted, 12);
  });

  test("a matrix is of the days on which both ran, and has ones", () => {
    const alive = [
      { from: 0, to: 39 },
      { from: 0, to: 39 },
      { from: 30, to: 39 },
    ];
    const found = correlations([A, mix(0.6, 0.8), B], alive);
    expect(found[0]!.slice(0, 2)).toEqual([1, expect.closeTo(0.6, 12)]);
    expect(found[0]![2]).toBeNull();
    expect(meanCorrelation(correlationsOn([A, B, A], [...A.keys()]))).toBeCloseTo(1 / 3, 12);
  });

  test("worst days are those of the least joint result", () => {
    const joint = Float64Array.from({ length: 300 }, (_none, d) => (d * 7919) % 300);
    const days = worstDays(joint);
    expect(days.map((d) => joint[d])).toEqual(Array.from({ length: 30 }, (_none, i) => i));
  });

  test("rolling is of the days up to each, and blind ahead of so many", () => {
    const rolling = rollingCorrelation([A, mix(0.6, 0.8)], 20);
    expect([...rolling.subarray(0, 19)].every(Number.isNaN)).toBe(true);
    expect(rolling[39]).toBeCloseTo(0.6, 12);
  });
});

describe("twins", () => {
  const trade = (entry: number, exit: number, symbol = "ONE", side: 1 | -1 = 1) => ({ symbol, side, entryTime: entry, exitTime: exit });
  const still = new Float64Array(40);

  test.each([
    ["results that move together", A, mix(1, 0.1), [], [], true],
    ["results that don't", A, B, [], [], false],
    ["entries inside the other's trades", still, still, [trade(1, 5), trade(8, 9)], [trade(1, 3), trade(8, 20)], true],
    ["of another side", still, still, [trade(1, 5)], [trade(1, 5, "ONE", -1)], false],
    ["on another instrument", still, still, [trade(1, 5)], [trade(1, 5, "TWO")], false],
    ["after the other had ended", still, still, [trade(1, 5)], [trade(5, 9)], false],
    ["one of three", still, still, [trade(1, 5), trade(10, 11), trade(20, 21)], [trade(2, 3), trade(12, 13), trade(22, 23)], false],
  ] as const)("%s", (_what, a, b, tradesA, tradesB, are) => {
    expect(
      findTwins([
        { daily: a, trades: tradesA },
        { daily: b, trades: tradesB },
      ]).length,
    ).toBe(are ? 1 : 0);
  });
});

const LONG = 4 * 260;
const world = (): BlendCurves =>
  blendCurves(
    [drifting(2, LONG, 0.9, 3), drifting(3, LONG, 0.6, 3).map((v) => v * 5), drifting(4, LONG, 0.5, 0), drifting(5, LONG, 0.2, 12)].map(
      (s) => member(s),
    ),
    "UTC",
  );

describe("weights", () => {
  const part = world();
  const daily = dailyProfits(part);

  test("equal drawdown: each alone falls as deep", () => {
    const weights = weightsBy("equal drawdown", part);
    part.profits.forEach((profit, k) => {
      expect(weights[k]! * deepestFallOf(profit)).toBeCloseTo(1, 12);
    });
  });

  test("equal contribution to risk: each has a fourth of the variance", () => {
    for (const share of varianceShares(daily, weightsBy("equal contribution to risk", part))!) expect(share).toBeCloseTo(0.25, 8);
  });

  test("two members without correlation: in inverse proportion to volatility, however they are weighed by risk", () => {
    const two = blendCurves([member([...A, ...A], { everyMs: DAY }), member([...mix(0, 4), ...mix(0, 4)], { everyMs: DAY })], "UTC");
    for (const weighting of ["equal volatility", "equal contribution to risk", "lowest correlation"] as const) {
      const [a, b] = weightsBy(weighting, two) as [number, number];
      expect(a / b).toBeCloseTo(4, 6);
    }
  });

  test("lowest correlation: no other weights have a lower volatility against the sum of the members' own", () => {
    const covariance = covariances(daily);
    const worth = (w: readonly number[]): number =>
      Math.sqrt(w.reduce((sum, a, k) => sum + a * w.reduce((inner, b, j) => inner + b * covariance[k]![j]!, 0), 0)) /
      w.reduce((sum, a, k) => sum + a * Math.sqrt(covariance[k]![k]!), 0);
    const best = worth(weightsBy("lowest correlation", part));
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.01, max: 5, noNaN: true }), { minLength: 4, maxLength: 4 }), (w) => {
        expect(worth(w.map((a, k) => a / Math.sqrt(covariance[k]![k]!)))).toBeGreaterThanOrEqual(best * (1 - 1e-9));
      }),
    );
  });

  test("greatest return over drawdown is at least that of equal drawdown", () => {
    const worth = (w: readonly number[]): number => blendFigures(part, w, 1).returnToDrawdown!;
    const found = weightsBy("greatest return over drawdown", part);
    expect(worth(found)).toBeGreaterThan(worth(weightsBy("equal drawdown", part)));
    for (const k of found.keys())
      for (const change of [0.5, 0.97, 1.03, 2])
        expect(worth(found.map((factor, j) => (j === k ? factor * change : factor)))).toBeLessThanOrEqual(worth(found) * 1.02);
  });

  test("whatever they go by they are 0 or more, and 0 of what stood still", () => {
    fc.assert(
      fc.property(blends, ({ members }) => {
        const curves = blendCurves([...members, member([0, 0, 0])], "UTC");
        for (const weighting of WEIGHTINGS.slice(1)) {
          const weights = weightsBy(weighting, curves);
          expect(weights.every((weight) => weight >= 0 && Number.isFinite(weight))).toBe(true);
          expect(weights.at(-1)).toBe(0);
        }
      }),
      { numRuns: 50 },
    );
  });
});

describe("doubt", () => {
  const curves = world();

  test("draws are of the joint days: seeded, and deeper at 99 % than at 95", () => {
    const [one, again] = [jointAhead(curves, [1, 0.2, 1, 1]), jointAhead(curves, [1, 0.2, 1, 1])];
    expect(one).toEqual(again);
    expect(one!.middle).toBeLessThan(one!.likely);
    // Twice the size, twice the fall.
    expect(jointAhead(curves, [2, 0.4, 2, 2])!.likely).toBeCloseTo(2 * one!.likely, 6);
  });

  test("the same weights gain nothing; better ones gain in nearly every draw", () => {
    expect(gainOver(curves, [1, 1, 1, 1], [1, 1, 1, 1])).toMatchObject({ luck: 1, low: 0, middle: 0, high: 0 });
    const steady = blendCurves([member(drifting(7, LONG, 6, 0)), member(drifting(8, LONG, 0, 0))], "UTC");
    const gain = gainOver(steady, [1, 0], [1, 20])!;
    expect(gain.luck).toBeLessThan(0.02);
    expect(gain.chosen!).toBeGreaterThan(gain.plain!);
    expect(gain.low).toBeLessThan(gain.high);
  });
});
