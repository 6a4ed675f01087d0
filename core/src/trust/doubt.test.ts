/** The figures that tell an edge from luck, against slow twins, closed forms and seeded nulls. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { tradedWalk } from "../testing/bars.ts";
import { daysNotSeen } from "./days-not-seen.ts";
import { luckOf } from "./luck.ts";
import { normalCdf } from "./normal.ts";
import { studentTail } from "./student.ts";
import { superiorAbility } from "./superior-ability.ts";
import { surrogateBars } from "./surrogate.ts";
import { overfittingLimit, powerAt, speakingFor, type Verdict, verdictOf } from "./verdict.ts";

/** Rows of independent normal returns, each about its own mean. */
function noise(seed: number, means: readonly number[], days: number): Float64Array {
  const random = new Random(seed);
  return Float64Array.from({ length: means.length * days }, (_none, i) => means[Math.floor(i / days)]! + random.normal());
}

/** Settings of one sweep that earn nothing: nine tenths of what they do is common to all. */
function alike(seed: number, settings: number, days: number): Float64Array {
  const random = new Random(seed);
  const common = Float64Array.from({ length: days }, () => Math.sqrt(0.9) * random.normal());
  return Float64Array.from({ length: settings * days }, (_none, i) => common[i % days]! + Math.sqrt(0.1) * random.normal());
}

describe("Student's t", () => {
  test.each([-7, -1.3, 0, 0.4, 2, 11, 300])("one and two degrees have closed forms, at %d", (t) => {
    expect(studentTail(t, 1)).toBeCloseTo(0.5 - Math.atan(t) / Math.PI, 12);
    expect(studentTail(t, 2)).toBeCloseTo(0.5 - t / (2 * Math.sqrt(2 + t * t)), 12);
  });
  test("four degrees, by hand", () => {
    // 1/2 - (3 s - s^3) / 4 with s = t / sqrt(4 + t^2) (Abramowitz & Stegun 26.7.4).
    const s = 1.5 / Math.sqrt(4 + 1.5 ** 2);
    expect(studentTail(1.5, 4)).toBeCloseTo(0.5 - 0.5 * (1.5 * s - 0.5 * s ** 3), 12);
  });
  test("goes over into the normal distribution", () => {
    expect(studentTail(1.7, 1e7)).toBeCloseTo(1 - normalCdf(1.7), 6);
  });
});

describe("days not seen", () => {
  /** As it is defined, day by day. */
  function slow(rows: readonly number[][]): number[] {
    const T = rows[0]!.length;
    const block = (t: number): number => {
      for (let b = 0; b < 12; b++) if (t < Math.floor(((b + 1) * T) / 12)) return b;
      return 11;
    };
    const sums = new Array<number>(T).fill(0);
    for (let one = 0; one < 12; one++)
      for (let other = one + 1; other < 12; other++) {
        const isOut = (t: number): boolean => block(t) === one || block(t) === other;
        const ratios = rows.map((row) => {
          const seen = row.filter((_value, t) => !isOut(t));
          const middle = seen.reduce((sum, value) => sum + value, 0) / seen.length;
          return middle / Math.sqrt(seen.reduce((sum, value) => sum + (value - middle) ** 2, 0) / (seen.length - 1));
        });
        const best = ratios.indexOf(Math.max(...ratios));
        for (let t = 0; t < T; t++) if (isOut(t)) sums[t]! += rows[best]![t]! / 11;
      }
    return sums;
  }

  test("is what its definition says, day by day", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 9 }), fc.integer({ min: 60, max: 140 }), (seed, n, days) => {
        const returns = noise(
          seed,
          Array.from({ length: n }, (_none, k) => k / 20),
          days,
        );
        const rows = Array.from({ length: n }, (_none, s) => [...returns.subarray(s * days, (s + 1) * days)]);
        const wanted = slow(rows);
        const found = daysNotSeen(returns, n, 252)!;
        for (const [t, value] of wanted.entries()) expect(found.days[t]).toBeCloseTo(value, 9);
      }),
      { numRuns: 40, seed: 20_261_130 },
    );
  });

  test("of one setting it is the t test of its days", () => {
    const returns = noise(3, [0.1], 100);
    const middle = returns.reduce((sum, value) => sum + value, 0) / 100;
    const deviation = Math.sqrt(returns.reduce((sum, value) => sum + (value - middle) ** 2, 0) / 99);
    const { p, ratio, aYear, chosen } = daysNotSeen(returns, 1, 252)!;
    expect(p).toBeCloseTo(studentTail((middle / deviation) * 10, 99), 9);
    expect([ratio, aYear]).toEqual([expect.closeTo((middle / deviation) * Math.sqrt(252), 9), expect.closeTo(middle * 252, 9)]);
    expect(chosen).toBe(1);
  });

  test("nothing can be told by 59 days, or by days that never move", () => {
    expect(daysNotSeen(noise(1, [0], 59), 1, 252)).toBeNull();
    expect(daysNotSeen(new Float64Array(200), 2, 252)).toBeNull();
  });

  test("of settings that are alike, as those of a sweep, it believes luck in about 5 of 100 worlds", () => {
    let believed = 0;
    for (let seed = 1; seed <= 300; seed++) if (daysNotSeen(alike(seed, 20, 250), 20, 252)!.p <= 0.05) believed++;
    // 15 are expected of 300; 99 % of a binomial lie between 6 and 26.
    expect(believed).toBeGreaterThanOrEqual(6);
    expect(believed).toBeLessThanOrEqual(26);
  });
});

describe("superior predictive ability", () => {
  test("settings that lose come to 1, a setting far above the rest to the least there is, and it alone passes", () => {
    expect(superiorAbility(noise(5, [-0.4, -0.5, -0.6], 200), 3, 1)).toMatchObject({ p: 1, passing: [], settings: 3 });
    expect(superiorAbility(noise(5, [0, 2, 0], 200), 3, 1)).toMatchObject({ p: 1 / 1000, passing: [1] });
    expect(superiorAbility(noise(5, [1.5, 2, 1], 200), 3, 1)!.passing).toEqual([0, 1, 2]);
  });

  test("rows that never move are left out; nothing is left of them alone", () => {
    const returns = new Float64Array(300);
    returns.set(noise(7, [2], 100), 100);
    expect(superiorAbility(returns, 3, 1)).toMatchObject({ settings: 1, passing: [1] });
    expect(superiorAbility(new Float64Array(300), 3, 1)).toBeNull();
  });

  test("many hopeless settings don't hide a good one", () => {
    const good = noise(9, [0.35], 250);
    const alone = superiorAbility(good, 1, 1)!.p;
    const returns = new Float64Array(250 * 60);
    returns.set(good, 0);
    returns.set(noise(10, new Array<number>(59).fill(-1), 250), 250);
    expect(superiorAbility(returns, 60, 1)!.p).toBeCloseTo(alone, 9);
  });

  test("the same seed gives the same, to the last bit", () => {
    const returns = noise(11, [0.1, 0.05, 0], 150);
    expect(superiorAbility(returns, 3, 4)).toEqual(superiorAbility(returns, 3, 4));
  });

  test("believes luck in about 5 of 100 worlds", () => {
    let believed = 0;
    for (let seed = 1; seed <= 300; seed++) if (superiorAbility(alike(seed, 15, 250), 15, seed, 199)!.p <= 0.05) believed++;
    expect(believed).toBeGreaterThanOrEqual(4);
    expect(believed).toBeLessThanOrEqual(26);
  });
});

describe("markets without memory", () => {
  const bars = tradedWalk(800, 3);
  const TINY = 1e-9;
  const logs = ({ open, close }: { open: Float64Array; close: Float64Array }) => ({
    gaps: Array.from(open, (o, i) => (i > 0 ? Math.log(o / close[i - 1]!) : 0)),
    moves: Array.from(open, (o, i) => Math.log(close[i]! / o)),
  });

  test("gaps and moves have the sizes that they had, but for the drift; highs and lows hold the rest", () => {
    const made = surrogateBars(bars, TINY, 5);
    const [own, other] = [logs(bars), logs(made)];
    const drift = (own.gaps.reduce((sum, gap) => sum + gap, 0) + own.moves.reduce((sum, move) => sum + move, 0)) / 800;
    for (let i = 0; i < 800; i++) {
      expect(Math.abs(other.gaps[i]!)).toBeCloseTo(Math.abs(own.gaps[i]!), 7);
      expect(Math.abs(other.moves[i]! - drift)).toBeCloseTo(Math.abs(own.moves[i]!), 7);
      const [up, down] = [Math.log(bars.high[i]! / bars.open[i]!), -Math.log(bars.low[i]! / bars.open[i]!)];
      const [madeUp, madeDown] = [Math.log(made.high[i]! / made.open[i]!), -Math.log(made.low[i]! / made.open[i]!)];
      // As it was or turned; the drift may widen it by a hair.
      const isTurned = Math.abs(madeUp - up) > Math.abs(madeUp - down);
      expect(madeUp).toBeGreaterThanOrEqual((isTurned ? down : up) - 1e-6);
      expect(madeDown).toBeGreaterThanOrEqual((isTurned ? up : down) - 1e-6);
      expect(made.high[i]!).toBeGreaterThanOrEqual(Math.max(made.open[i]!, made.close[i]!));
      expect(made.low[i]!).toBeLessThanOrEqual(Math.min(made.open[i]!, made.close[i]!));
    }
    expect([made.time, made.volume]).toEqual([bars.time, bars.volume]);
  });

  test("both coins are fair, independent, and not those of another seed", () => {
    const counts = [0, 0, 0, 0];
    const own = logs(bars);
    for (let seed = 1; seed <= 60; seed++) {
      const { gaps, moves } = logs(surrogateBars(bars, TINY, seed));
      for (let i = 1; i < 800; i++) {
        if (own.gaps[i] === 0 || Math.abs(own.moves[i]!) < 1e-4) continue;
        const turned =
          (Math.sign(gaps[i]!) === Math.sign(own.gaps[i]!) ? 0 : 2) + (Math.sign(moves[i]!) === Math.sign(own.moves[i]!) ? 0 : 1);
        counts[turned]!++;
      }
    }
    const all = counts.reduce((sum, count) => sum + count, 0);
    expect(all).toBeGreaterThan(4000);
    for (const count of counts) expect(Math.abs(count / all - 0.25)).toBeLessThan(0.025);
    expect(surrogateBars(bars, 0.25, 1)).toEqual(surrogateBars(bars, 0.25, 1));
    expect(surrogateBars(bars, 0.25, 1).close).not.toEqual(surrogateBars(bars, 0.25, 2).close);
  });

  test("instruments that share a seed turn together, also where bars of one are missing", () => {
    const some = Array.from({ length: 800 }, (_none, i) => i).filter((i) => i % 3 !== 1);
    const cut = (column: Float64Array): Float64Array => Float64Array.from(some, (i) => column[i]!);
    const other = {
      ...bars,
      time: cut(bars.time),
      open: cut(bars.open),
      high: cut(bars.high),
      low: cut(bars.low),
      close: cut(bars.close),
      volume: cut(bars.volume),
    };
    const [one, two] = [logs(surrogateBars(bars, TINY, 8)), logs(surrogateBars(other, TINY, 8))];
    const own = logs(bars);
    some.forEach((i, k) => {
      if (Math.abs(own.moves[i]!) > 1e-4) expect(Math.sign(two.moves[k]!)).toBe(Math.sign(one.moves[i]!));
    });
  });

  test("prices stand on the grid", () => {
    const { open, high, low, close } = surrogateBars(bars, 0.25, 4);
    for (const column of [open, high, low, close]) for (const price of column) expect(Number.isInteger(price * 4)).toBe(true);
  });
});

describe("the luck test", () => {
  test("counts ties against the plan, and says what to expect", () => {
    const found = [1, 2, 3, 3, 4];
    expect(luckOf(3, found)).toMatchObject({ markets: 5, asGood: 3, p: 4 / 6, luck: 2.6, expected: expect.closeTo(0.4, 12) });
    expect(luckOf(9, [])).toBeNull();
    expect(luckOf(9, [1, 1, 1])!.smooth).toBeNull();
    expect(
      luckOf(
        9,
        new Array<number>(99).fill(0).map((_none, k) => k / 50),
      )!.smooth,
    ).toBeNull();
  });

  test("the smooth one is the Gumbel distribution of the same mean and deviation", () => {
    const found = [1, 1.4, 1.1, 1.9, 1.3];
    const middle = found.reduce((sum, value) => sum + value, 0) / 5;
    const deviation = Math.sqrt(found.reduce((sum, value) => sum + (value - middle) ** 2, 0) / 4);
    const beta = (deviation * Math.sqrt(6)) / Math.PI;
    const mode = middle - 0.5772156649015329 * beta;
    expect(luckOf(2, found)!.smooth).toBeCloseTo(1 - Math.exp(-Math.exp(-(2 - mode) / beta)), 12);
    // At its mode, 1 - 1/e.
    expect(luckOf(mode, found)!.smooth).toBeCloseTo(1 - Math.exp(-1), 9);
  });

  test("is exact under exchangeable signs: as often as it says", () => {
    // The statistic of signs alone: of 19 other draws it is the largest in 1 of 20 worlds.
    let believed = 0;
    const random = new Random(77);
    const draw = (): number => Math.max(...Array.from({ length: 8 }, () => random.normal()));
    for (let world = 0; world < 4000; world++) if (luckOf(draw(), Array.from({ length: 19 }, draw))!.p <= 0.05) believed++;
    // 200 are expected; 99 % of a binomial lie within 36 of them.
    expect(Math.abs(believed - 200)).toBeLessThan(36);
  });
});

describe("the verdict", () => {
  test.each<[luck: number | null, notSeen: number | null, overfitting: number | null, years: number, verdict: Verdict | null]>([
    [0.05, 0.05, 0.4, 1, "for"],
    [0.05, 0.06, 0.09, 2, "for"],
    [0.05, 0.06, 0.09, 3, "open"],
    [0.06, 0.06, 0.1, 1, "against"],
    [0.06, 0.01, 0.5, 1, "open"],
    [null, 0.01, 0.01, 1, "for"],
    [null, 0.01, 0.5, 1, null],
    [null, 0.3, 0.5, 1, null],
    [null, null, null, 1, null],
  ])("luck %s, not seen %s, overfitting %s over %s years: %s", (luck, notSeen, overfitting, years, verdict) => {
    expect(verdictOf({ luck, notSeen, overfitting, years })).toBe(verdict);
  });

  test("says which finding speaks for it, and what could be known", () => {
    expect(speakingFor({ luck: 0.01, notSeen: null, overfitting: 0.2, years: 1 })).toEqual({
      luck: true,
      notSeen: null,
      overfitting: false,
    });
    expect([overfittingLimit(1), overfittingLimit(2.4), overfittingLimit(3)]).toEqual([0.1, 0.1, 0.05]);
    expect([powerAt(0.4, 1), powerAt(1.9, 2), powerAt(9, 3)]).toEqual([0.25, 0.69, 1]);
  });
});
