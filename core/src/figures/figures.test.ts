/** Figures against hand calculations. */
import { describe, expect, test } from "vitest";
import type { Trade } from "../engine/orders.ts";
import { barsOf, INSTRUMENT } from "../testing/bars.ts";
import { runBuild } from "../testing/run.ts";
import { marketFigures } from "./benchmark.ts";
import { dailyReturns } from "./daily.ts";
import { drawdowns } from "./drawdown.ts";
import { compoundGrowth, deepestFall, sharpeRatio, sortinoRatio, ulcerIndex } from "./equity-figures.ts";
import { periodLabel, periods } from "./periods.ts";
import { quantile, sampleDeviation } from "./statistics.ts";
import { stopDistancesOf } from "./stop-distances.ts";
import { tradeFigures } from "./trade-figures.ts";
import { warningsOf } from "./warnings.ts";

const trade = (net: number, more: Partial<Trade> = {}): Trade => ({
  id: 1,
  orderId: 1,
  symbol: "TEST",
  side: 1,
  quantity: 1,
  entryTime: 0,
  entryBar: 0,
  entryPrice: 100,
  entryTag: "",
  entryLine: 0,
  exitTime: 0,
  exitBar: 2,
  exitPrice: 100,
  exitTag: "",
  exitLine: 0,
  reason: "signal",
  gross: net + 1,
  commission: 1,
  spread: 0,
  slippage: 0,
  financing: 0,
  net,
  barsHeld: 2,
  mae: 10,
  mfe: 30,
  risk: 20,
  r: net / 20,
  pathDependent: false,
  atStake: 0,
  rails: [],
  ...more,
});

describe("trade figures", () => {
  const trades = [trade(40), trade(-20), trade(10), trade(0), trade(-20), trade(-10), trade(60)];
  const figures = tradeFigures(trades, [INSTRUMENT]);

  test.each([
    ["netProfit", 60],
    ["grossProfit", 110],
    ["grossLoss", -50],
    ["trades", 7],
    ["wins", 3],
    ["losses", 3],
    ["even", 1],
    ["winRate", 3 / 7],
    ["averageTrade", 60 / 7],
    ["averageTradeTicks", 60 / 7 / 2.5],
    ["averageTradeR", 3 / 7],
    ["averageWin", 110 / 3],
    ["averageLoss", -50 / 3],
    ["payoffRatio", 2.2],
    ["profitFactor", 2.2],
    ["largestWin", 60],
    ["largestLoss", -20],
    ["longestWinningStreak", 1],
    ["longestLosingStreak", 2],
    ["worstLosingStreak", -30],
    ["averageMaeR", 0.5],
    ["averageMfeR", 1.5],
    ["costs", 7],
    ["costShare", 7 / 67],
    ["costPerTradeTicks", 1 / 2.5],
    ["kelly", 3 / 7 - 4 / 7 / 2.2],
    ["edgeRatio", 3],
    ["giveBack", 30 - 60 / 7],
  ] as const)("%s is %f", (name, expected) => {
    expect(figures[name]).toBeCloseTo(expected, 10);
  });

  test("SQN: root of n times mean over deviation of R", () => {
    const r = trades.map((t) => t.r!);
    expect(figures.sqn).toBeCloseTo((Math.sqrt(7) * (3 / 7)) / sampleDeviation(r)!, 10);
  });

  test("what is undefined is null, never 0 or infinity", () => {
    const none = tradeFigures([], [INSTRUMENT]);
    const wins = tradeFigures([trade(5), trade(5)], [INSTRUMENT]);
    for (const name of ["winRate", "averageTrade", "profitFactor", "sqn", "kelly", "costShare", "largestWin"] as const)
      expect(none[name]).toBeNull();
    for (const name of ["profitFactor", "averageLoss", "payoffRatio", "largestLoss", "sqn"] as const) expect(wins[name]).toBeNull();
  });
});

describe("drawdown", () => {
  const equity = Float64Array.of(100, 120, 90, 100, 130, 104, 117);
  const time = Float64Array.of(1, 2, 3, 4, 5, 6, 7);

  test("deepest in money and in percent are two separate maxima with start, low and recovery", () => {
    const { money, relative, longest } = drawdowns(equity, 100, time, 0);
    expect(money).toEqual({ size: 30, start: 1, low: 2, recovery: 4 });
    expect(relative).toEqual({ size: 0.25, start: 1, low: 2, recovery: 4 });
    expect(longest).toEqual({ start: 1, end: 4 });
  });

  test("one that lasts to the end has no recovery, and the capital is the first peak", () => {
    const { money, longest } = drawdowns(Float64Array.of(95, 90, 92), 100, time, 0);
    expect(money).toEqual({ size: 10, start: -1, low: 1, recovery: null });
    expect(longest).toEqual({ start: -1, end: 2 });
  });

  test("rising equity has none", () => {
    expect(drawdowns(Float64Array.of(100, 101), 100, time, 0).money).toEqual({ size: 0, start: -1, low: -1, recovery: null });
    expect(deepestFall(Float64Array.of(110, 100, 130, 105), 100)).toBe(25);
  });
});

describe("returns", () => {
  const returns = dailyReturns(Float64Array.of(100, 110, 99, 108.9));

  test("daily returns", () => {
    for (const [i, expected] of [0.1, -0.1, 0.1].entries()) expect(returns[i]).toBeCloseTo(expected, 12);
  });

  test("Sharpe by hand: mean 1/30, deviation 0.11547, root of 252", () => {
    expect(sharpeRatio(returns, 0, 252)).toBeCloseTo((1 / 30 / Math.sqrt(0.04 / 3)) * Math.sqrt(252), 9);
    expect(sharpeRatio(returns, 0.252, 252)).toBeCloseTo(((1 / 30 - 0.001) / Math.sqrt(0.04 / 3)) * Math.sqrt(252), 9);
    expect(sharpeRatio(Float64Array.of(0.1), 0, 252)).toBeNull();
    expect(sharpeRatio(Float64Array.of(0, 0, 0), 0, 252)).toBeNull();
  });

  test("Sortino by hand: only the falling day counts below", () => {
    expect(sortinoRatio(returns, 0, 252)).toBeCloseTo((1 / 30 / Math.sqrt(0.01 / 3)) * Math.sqrt(252), 9);
    expect(sortinoRatio(Float64Array.of(0.1, 0.2), 0, 252)).toBeNull();
  });

  test("growth, ulcer index, quantile", () => {
    expect(compoundGrowth(100, 121, 2 * 365.25)).toBeCloseTo(0.1, 12);
    expect(compoundGrowth(100, -5, 365)).toBeNull();
    expect(ulcerIndex(Float64Array.of(100, 90, 100))).toBeCloseTo(Math.sqrt(0.01 / 3), 12);
    expect(quantile([1, 2, 3, 4], 0.05)).toBeCloseTo(1.15, 12);
  });

  test("beta 2 and a known alpha come back", () => {
    const market = Float64Array.of(0.01, -0.02, 0.03, 0.005, -0.01);
    const own = market.map((r) => 2 * r + 0.001);
    const { beta, alpha, correlation, rSquared } = marketFigures(own, market, 0, 250);
    expect([beta, alpha, correlation, rSquared].map((value) => Number(value!.toFixed(9)))).toEqual([2, 0.25, 1, 1]);
  });
});

test("periods add up to the whole, and label weeks by ISO 8601", () => {
  const daily = { dates: ["2024-12-30", "2024-12-31", "2025-01-02"], equity: Float64Array.of(100, 110, 105, 120) };
  const byYear = periods(daily, [trade(1), trade(2), trade(3)], ["2024-12-30", "2025-01-02", "2025-01-02"], "year");
  expect(byYear.map(({ label, netProfit, trades, maxDrawdown }) => [label, netProfit, trades, maxDrawdown])).toEqual([
    ["2024", 5, 1, 5],
    ["2025", 15, 2, 0],
  ]);
  expect(periodLabel("2024-12-30", "week")).toBe("2025-W01");
  expect(periodLabel("2025-05-03", "quarter")).toBe("2025-Q2");
});

describe("warnings", () => {
  const facts = (trades: Trade[], costsAreZero = false) => ({
    figures: tradeFigures(trades, [INSTRUMENT]),
    trades,
    costsAreZero,
    partial: false,
    droppedLogLines: 0,
    finerMissing: 0,
    ruin: null,
    limits: [],
    refused: { count: 0, reason: "", ofReason: 0 },
    neverFull: [],
    stops: null,
  });
  test.each([
    ["no trades", [], "No trade was made"],
    ["few trades", [trade(1), trade(-1)], "Only 2 trades"],
    ["one trade", [trade(900), trade(50), trade(50)], "One trade made 90 % of the profit"],
    ["cost heavy", [trade(10, { commission: 30 })], "Costs take 75 % of the result before costs"],
    ["path-dependent", [trade(1, { pathDependent: true, atStake: 1234.4 })], "1 trade depends on the path inside a bar (±1,234)"],
    ["open at end", [trade(-7, { reason: "end of data" })], "1 position still open at the end of the data (−7)"],
  ] as const)("%s", (code, trades, text) => {
    expect(warningsOf(facts([...trades])).find((warning) => warning.code === code)?.text).toBe(text);
  });

  test("stops nearer than an ordinary bar is high, and stops without a limit", () => {
    // Bars of 2 and 4 in turn, median 3; the instrument makes 10 a point.
    const bars = barsOf(Array.from({ length: 40 }, (_, i) => [100, i % 2 === 0 ? 101 : 102, i % 2 === 0 ? 99 : 98, 100] as const));
    const at = (distance: number, quantity = 2): Trade => trade(1, { risk: distance * quantity * 10, quantity, symbol: "" });
    const told = (distances: readonly number[]) => {
      const trades = distances.map((distance) => at(distance));
      return warningsOf({ ...facts(trades), stops: stopDistancesOf(trades, bars, INSTRUMENT) }).filter(({ code }) =>
        code.startsWith("stop"),
      );
    };
    expect(told([2, 2, 2, 2, 2, 2, 2, 5, 5, 5])).toMatchObject([
      { code: "stop in noise", text: "7 of 10 stops were nearer than an ordinary bar is high (3)" },
    ]);
    expect(told([5, 5, 5, 5, 5, 5, 5, 5, 5, 60])).toMatchObject([
      { code: "stop without a cap", text: "The farthest stop was 60 away, 12 times the middle one (5)" },
    ]);
    expect(told([5, 5, 5, 5, 5, 6, 7, 8, 9, 10])).toEqual([]);
    expect(told([2, 2, 60])).toEqual([]);
    expect(stopDistancesOf([trade(1, { risk: null })], bars, INSTRUMENT)).toBeNull();
  });

  test("what refuses orders is said before anything about conditions", () => {
    const refused = { count: 3115, reason: "stop loss NaN is not a number", ofReason: 3000 };
    const [first, second] = warningsOf({ ...facts([]), refused });
    expect(first).toMatchObject({
      code: "refused",
      text: "3,115 orders never worked: refused, or not sent",
      advice: expect.stringMatching(/3,000 times/),
    });
    expect(second).toMatchObject({ code: "no trades", advice: "Mend what refuses its orders first." });
    expect(warningsOf({ ...facts([trade(1)]), refused, ruin: "2025-03-07" })[0]).toMatchObject({
      text: "The account was wiped out on 2025-03-07",
    });
  });

  test("a plan whose studies are never full is told what they need, not to widen its conditions", () => {
    const warnings = warningsOf({ ...facts([]), neverFull: [{ timeframe: "1d", needed: 200, bars: 56 }] });
    expect(warnings.map(({ code }) => code)).toEqual(["no warm-up"]);
    expect(warnings[0]!.advice).toMatch(/They need 200 bars of 1d, and there are 56/);
  });

  test("a sound result with costs has none", () => {
    const trades = Array.from({ length: 40 }, (_, i) => trade(i % 2 ? 12 : -5));
    expect(warningsOf(facts(trades))).toEqual([]);
    expect(warningsOf(facts(trades, true)).map(({ code }) => code)).toEqual(["no costs"]);
  });
});

test("a run's figures hang together", () => {
  const bars = barsOf([
    [100, 100, 100, 100],
    [100, 104, 98, 102],
    [102, 103, 101, 103],
    [103, 103, 103, 103],
  ]);
  const { figures, benchmarkFigures, equity } = runBuild(bars, ({ on, enter, position }) => {
    let bar = 0;
    on.barClose(() => {
      if (++bar === 1) enter.long();
      if (bar === 3) position.close();
    });
  });
  expect(Array.from(equity)).toEqual([100_000, 100_020, 100_030, 100_030]);
  expect(figures).toMatchObject({ netProfit: 30, trades: 1, exposure: 0.75, peakPositionValue: 1030, maxDrawdown: 0 });
  expect(benchmarkFigures.totalReturn).toBeCloseTo(0.03, 12);
  expect(benchmarkFigures.netProfit).toBeCloseTo(3000, 9);
});
