/** Trust figures against worked examples of their sources, closed forms, and cases whose answer is known beforehand. */
import { describe, expect, test } from "vitest";
import type { Trade } from "../engine/orders.ts";
import { Random } from "../random.ts";
import { INSTRUMENT, walk } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";
import { normalCdf, normalQuantile } from "./normal.ts";
import { overfitting } from "./overfitting.ts";
import { Lattice } from "./plateau.ts";
import { resampleTrades } from "./resampling.ts";
import {
  chanceVariance,
  deflatedSharpe,
  expectedMaximumSharpe,
  minimumTrackRecord,
  probabilisticSharpe,
  returnShape,
} from "./sharpe-tests.ts";
import { delayedEntries, randomEntries, withoutBest } from "./stress.ts";

describe("the normal distribution", () => {
  // Abramowitz & Stegun, table 26.1.
  test.each([
    [0, 0.5],
    [1, 0.841344746068543],
    [1.96, 0.97500210485178],
    [-2.5, 0.00620966532577614],
    [4, 0.999968328758167],
    [-8, 6.22096057427178e-16],
  ])("P(Z <= %d) = %d", (x, p) => {
    expect(Math.abs(normalCdf(x) - p)).toBeLessThan(1e-13 * Math.max(p, 1e-3));
  });

  test("the quantile takes the probability back", () => {
    for (let k = 1; k < 1000; k++) expect(normalCdf(normalQuantile(k / 1000))).toBeCloseTo(k / 1000, 12);
    expect([normalQuantile(0), normalQuantile(1), normalQuantile(1.1)]).toEqual([
      Number.NEGATIVE_INFINITY,
      Number.POSITIVE_INFINITY,
      Number.NaN,
    ]);
  });
});

describe("Sharpe ratios put in doubt", () => {
  // Bailey & Lopez de Prado 2014: an analyst finds 2.5 a year over 1,250 days, skew -3, kurtosis 10, the variance of the
  // yearly ratios across trials being 1/2. With 100 independent trials the confidence is 0.9004, with 46 it is 0.9505.
  const example = { count: 1250, sharpe: 2.5 / Math.sqrt(250), skew: -3, kurtosis: 10 };
  test("the worked example of the deflated Sharpe ratio", () => {
    expect(expectedMaximumSharpe(100, 0.5 / 250)).toBeCloseTo(0.1132, 4);
    expect(deflatedSharpe(example, 100, 0.5 / 250)).toBeCloseTo(0.9004, 4);
    expect(deflatedSharpe(example, 46, 0.5 / 250)).toBeCloseTo(0.9505, 3);
    // With returns of a normal shape the same paper finds 0.9505 for 88 trials.
    expect(deflatedSharpe({ ...example, skew: 0, kurtosis: 3 }, 88, 0.5 / 250)).toBeCloseTo(0.9505, 3);
  });

  test("one trial deflates nothing; more trials never help", () => {
    expect(deflatedSharpe(example, 1, 0.002)).toBe(probabilisticSharpe(example, 0));
    let before = 1;
    for (const trials of [1, 2, 10, 100, 1000, 100_000]) {
      const now = deflatedSharpe(example, trials, 0.002);
      expect(now).toBeLessThanOrEqual(before);
      before = now;
    }
  });

  test("a track of the least length has just the confidence that was asked for", () => {
    const least = minimumTrackRecord(example, 0.05, 0.95)!;
    expect(probabilisticSharpe({ ...example, count: least }, 0.05)).toBeCloseTo(0.95, 10);
    expect(minimumTrackRecord({ ...example, sharpe: 0.01 }, 0.05)).toBeNull();
  });

  test("moments of a shape that is known", () => {
    // Two values, one thrice as often: population skew 2/sqrt(3), kurtosis 7/3.
    const shape = returnShape([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1])!;
    expect(shape.skew).toBeCloseTo(2 / Math.sqrt(3), 12);
    expect(shape.kurtosis).toBeCloseTo(7 / 3, 12);
    expect(returnShape([0.1, 0.1, 0.1])).toBeNull();
    expect(returnShape([0.1, 0.2])).toBeNull();
  });

  test("the best of many tracks without skill is about as good as was expected", () => {
    const random = new Random(5);
    const [rounds, trials, days] = [60, 200, 250];
    let sum = 0;
    for (let r = 0; r < rounds; r++) {
      let best = Number.NEGATIVE_INFINITY;
      for (let k = 0; k < trials; k++) {
        const returns = Float64Array.from({ length: days }, () => random.normal());
        best = Math.max(best, returnShape(returns)!.sharpe);
      }
      sum += best / rounds;
    }
    expect(sum / expectedMaximumSharpe(trials, chanceVariance(days))).toBeGreaterThan(0.95);
    expect(sum / expectedMaximumSharpe(trials, chanceVariance(days))).toBeLessThan(1.05);
  });
});

describe("probability of backtest overfitting", () => {
  const matrix = (settings: number, periods: number, of: (s: number, t: number) => number): Float64Array =>
    Float64Array.from({ length: settings * periods }, (_none, k) => of(Math.floor(k / periods), k % periods));

  test("a setting that is better everywhere is not overfitted", () => {
    const found = overfitting(
      matrix(10, 160, (s, t) => (s === 3 ? 1 : 0) + ((t * 7 + s) % 5) * 0.1),
      10,
      8,
    );
    expect([found.probability, found.lossProbability]).toEqual([0, 0]);
    // The best of ten has relative rank 10/11 in every way.
    expect([...found.logits].every((logit) => Math.abs(logit - Math.log(10)) < 1e-12)).toBe(true);
    expect(found.logits.length).toBe(70);
  });

  test("what pays in one half and costs in the other is overfitted always", () => {
    // Setting s gains in block s and loses in all others: whoever is best in one half is worst in the other.
    const found = overfitting(
      matrix(8, 160, (s, t) => (Math.floor(t / 20) === s ? 5 : -0.5) + (t % 2) * 0.01),
      8,
      8,
    );
    expect(found.probability).toBe(1);
    expect(found.lossProbability).toBe(1);
  });

  test("settings of pure chance: the best stands below the middle about half of the time", () => {
    const random = new Random(11);
    let sum = 0;
    for (let round = 0; round < 12; round++)
      sum +=
        overfitting(
          matrix(40, 240, () => random.normal()),
          40,
          10,
        ).probability / 12;
    expect(sum).toBeGreaterThan(0.35);
    expect(sum).toBeLessThan(0.65);
  });

  test.each([
    [1, 100, 10, /at least 2 settings/],
    [4, 100, 7, /must be even/],
    [4, 20, 16, /too few for 16 blocks/],
  ])("%i settings, %i periods, %i blocks are refused", (settings, periods, blocks, message) => {
    expect(() => overfitting(new Float64Array(settings * periods), settings, blocks)).toThrow(message);
  });
});

describe("trades resampled", () => {
  const nets = [100, -50, 80, -120, 60, 200, -90, 30, -40, 150];
  test("the same seed gives the same bands; another order ends where the trades end", () => {
    const one = resampleTrades(nets, 10_000, 300, 7)!;
    expect(resampleTrades(nets, 10_000, 300, 7)).toEqual(one);
    expect(new Set(one.reshuffle.finalEquity)).toEqual(new Set([10_320]));
    expect(one.bootstrap.finalEquity).toEqual([...one.bootstrap.finalEquity].sort((a, b) => a - b));
    expect(one.fan.trades.at(-1)).toBe(10);
    expect(one.fan.middle.at(-1)).toBe(one.bootstrap.finalEquity[2]);
    expect(resampleTrades([1], 100)).toBeNull();
  });

  test("the middle of many draws is near the mean, and as wide as the trades are", () => {
    const { bootstrap } = resampleTrades(nets, 0, 4000, 3)!;
    const mean = 320;
    const sd = Math.sqrt(nets.reduce((sum, net) => sum + (net - 32) ** 2, 0));
    expect(Math.abs(bootstrap.finalEquity[2]! - mean)).toBeLessThan(0.1 * sd);
    expect((bootstrap.finalEquity[4]! - bootstrap.finalEquity[0]!) / (2 * 1.6449 * sd)).toBeCloseTo(1, 1);
  });
});

describe("a result treated worse", () => {
  const { crossesAbove, ema, ticks } = words;
  const bars = walk(2000, 31);
  const run = runBuild(bars, ({ bars: b, when, enter, position }) => {
    when(crossesAbove(ema(b.close, 5), ema(b.close, 20)), () => position.flat && enter.long({ stopLoss: ticks(12), target: ticks(16) }));
  });

  test("without its best trades it has what the others made", () => {
    const [first] = withoutBest(run.trades);
    expect(first).toEqual({ dropped: 1, net: expect.closeTo(run.figures.netProfit - run.figures.largestWin!, 6) });
    expect(withoutBest([{ net: 5 } as Trade])).toEqual([]);
  });

  test("a late entry pays the next open, and what was over by then is missed", () => {
    const trade = { ...run.trades[0]!, side: 1, quantity: 1, entryBar: 10, exitBar: 12, entryPrice: bars.open[11]! - 2, net: 50 } as Trade;
    expect(delayedEntries([trade], bars, INSTRUMENT)).toEqual({ net: expect.closeTo(50 - 2 * INSTRUMENT.pointValue, 9), missed: 0 });
    expect(delayedEntries([{ ...trade, exitBar: 10 }], bars, INSTRUMENT)).toEqual({ net: 0, missed: 1 });
  });

  test("on a walk without drift entries are worth no more than chance", () => {
    const found = randomEntries(run.trades, bars, INSTRUMENT, 300, 2)!;
    expect(found).toEqual(randomEntries(run.trades, bars, INSTRUMENT, 300, 2));
    expect(found.bands).toEqual([...found.bands].sort((a, b) => a - b));
    expect(found.atLeast).toBeGreaterThan(0.02);
    expect(randomEntries(run.trades.slice(0, 3), bars, INSTRUMENT)).toBeNull();
  });

  test("entries that know what comes beat all draws", () => {
    // Entered where the next ten bars rise most.
    const gains = Array.from({ length: 1980 }, (_none, i) => ({ i, gain: bars.close[i + 10]! - bars.open[i]! })).sort(
      (a, b) => b.gain - a.gain,
    );
    const trades = gains.slice(0, 30).map(({ i, gain }, k) => ({
      ...run.trades[0]!,
      ...{
        id: k,
        side: 1 as const,
        quantity: 1,
        entryBar: i,
        exitBar: i + 10,
        entryPrice: bars.open[i]!,
        net: gain * INSTRUMENT.pointValue,
        rails: [],
      },
      ...{ commission: 0, spread: 0, slippage: 0, financing: 0 },
    }));
    expect(randomEntries(trades, bars, INSTRUMENT, 300, 4)!.atLeast).toBe(0);
  });
});

describe("neighbours on a lattice", () => {
  // 5 x 4 settings in order, of which one is missing.
  const places = Array.from({ length: 20 }, (_none, k) => [Math.floor(k / 4), k % 4]).filter(([a, b]) => !(a === 2 && b === 2));
  const lattice = new Lattice(Int32Array.from(places.flat()), [5, 4]);
  const at = (a: number, b: number): number => places.findIndex(([x, y]) => x === a && y === b);

  test("stand at most so many steps away on every axis, and never outside", () => {
    const of = (a: number, b: number, steps: number) =>
      lattice
        .neighbours(at(a, b), steps)
        .map((s) => places[s]!.join("/"))
        .sort();
    expect(of(0, 0, 1)).toEqual(["0/1", "1/0", "1/1"]);
    expect(of(2, 1, 1)).toEqual(["1/0", "1/1", "1/2", "2/0", "3/0", "3/1", "3/2"]);
    expect(of(4, 3, 2).length).toBe(7);
  });

  test("a lonely peak has a low median around it, a plateau a high one", () => {
    const peak = at(1, 1);
    const values = (s: number) => (s === peak ? 100 : places[s]![0]! >= 3 ? 50 : 1);
    expect(lattice.around(peak, 1, values)).toEqual({ count: 7, median: 1, worst: 1 });
    expect(lattice.around(at(4, 1), 1, values)).toEqual({ count: 5, median: 50, worst: 50 });
    expect(lattice.around(at(4, 1), 1, values, false).worst).toBe(50);
    expect(lattice.around(at(4, 1), 1, () => Number.NaN)).toEqual({ count: 0, median: null, worst: null });
  });

  test("with many axes one is moved at a time", () => {
    const all = Array.from({ length: 81 }, (_none, k) => [27, 9, 3, 1].map((unit) => Math.floor(k / unit) % 3));
    expect(new Lattice(Int32Array.from(all.flat()), [3, 3, 3, 3]).neighbours(40, 1).length).toBe(8);
  });
});
