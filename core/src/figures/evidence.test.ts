/** What evidence works out of a finished run: stretches, positions, what-if levels, groups, cost stress, runs set side by side. */
import { describe, expect, test } from "vitest";
import type { Trade } from "../engine/orders.ts";
import { stretchResult } from "../run/stretch.ts";
import { barsOf, INSTRUMENT, walk } from "../testing/bars.ts";
import { type Build, backtestOf, runBuild, words } from "../testing/run.ts";
import { costStress } from "./cost-stress.ts";
import { profitableYears } from "./daily.ts";
import { fallsOf } from "./drawdown.ts";
import { heldCounts, positionColumns } from "./position-columns.ts";
import { GROUPINGS, tradeGroups } from "./trade-groups.ts";
import { matchTrades } from "./trade-match.ts";
import { whatIf } from "./what-if.ts";

const { crossesAbove, crossesBelow, ema, ticks } = words;
const bars = walk(3000, 21);
const COSTS = {
  commissionPerOrder: 0,
  commissionPerUnit: 1,
  commissionPercent: 0,
  commissionMinimum: 0,
  spreadTicks: 0,
  slippageTicks: 0,
  slippageRange: 0,
  slippageRandomTicks: 0,
  financingLong: 0,
  financingShort: 0,
};

const crossing =
  (options: object = {}): Build =>
  ({ bars: b, when, enter }) => {
    const [fast, slow] = [ema(b.close, 5), ema(b.close, 20)];
    when(crossesAbove(fast, slow), () => enter.long({ reverse: true, tag: "up", ...options }));
    when(crossesBelow(fast, slow), () => enter.short({ reverse: true, tag: "down", ...options }));
  };
const run = runBuild(bars, crossing(), { settings: { costs: COSTS } });
const source = {
  bars,
  equity: run.equity,
  trades: run.trades,
  instruments: [INSTRUMENT],
  settings: { cash: 100_000, riskFree: 0, costs: COSTS },
};

describe("a stretch", () => {
  test("of the whole run has the run's own figures", () => {
    const whole = stretchResult(source, 0, bars.length - 1);
    expect(run.trades.length).toBeGreaterThan(50);
    expect(whole.figures).toEqual({
      ...run.figures,
      averagePositionValue: expect.closeTo(run.figures.averagePositionValue!, 4),
      peakPositionValue: expect.closeTo(run.figures.peakPositionValue, 4),
    });
    expect([whole.months, whole.warnings]).toEqual([run.months, run.warnings]);
  });

  test("parts split trades and money without a rest", () => {
    const cuts = [0, 700, 701, 1500, bars.length];
    const parts = cuts.slice(1).map((end, k) => stretchResult(source, cuts[k]!, end - 1));
    expect(parts.flatMap(({ trades }) => trades)).toEqual(run.trades);
    const change = parts.reduce((sum, { equity }, k) => sum + equity.at(-1)! - (k === 0 ? 100_000 : run.equity[cuts[k]! - 1]!), 0);
    expect(change).toBeCloseTo(run.equity.at(-1)! - 100_000, 6);
  });
});

describe("what was held, worked out from closed trades, is what the simulation counted on its way", () => {
  const counted = ({ figures }: typeof run) => ({
    exposedBars: expect.closeTo(figures.exposure! * bars.length, 6),
    positionValueSum: expect.closeTo(figures.averagePositionValue! * bars.length, 2),
    positionValuePeak: expect.closeTo(figures.peakPositionValue, 4),
    unitsPeak: 1,
  });
  const flatting: Build = ({ bars: b, when, enter, position }) => {
    const exits = { stopLoss: ticks(3), target: ticks(4), timeLimit: { bars: 6 } };
    when(crossesAbove(b.close, ema(b.close, 9)), () => position.flat && enter.long(exits));
  };
  test.each([
    ["always in the market", crossing()],
    ["flat between, and out again inside the bar of the entry", flatting],
  ])("%s", (_what, build) => {
    const result = runBuild(bars, build, { settings: { costs: COSTS } });
    const columns = positionColumns(result.trades, bars, [INSTRUMENT]);
    expect(heldCounts(columns)).toEqual(counted(result));
    const whole = { ...source, equity: result.equity, trades: result.trades };
    const halves = [stretchResult(whole, 0, 1499), stretchResult(whole, 1500, bars.length - 1)];
    const exposed = halves.map(({ figures }) => figures.exposure! * 1500);
    expect(exposed[0]! + exposed[1]!).toBeCloseTo(result.figures.exposure! * bars.length, 6);
  });

  test("there are such trades among them", () => {
    const { trades } = runBuild(bars, flatting, { settings: { costs: COSTS } });
    expect(trades.filter(({ entryBar, exitBar }) => entryBar === exitBar).length).toBeGreaterThan(5);
  });

  test("the margin that was used most, by unit and by leverage, also of several lots at once", () => {
    const lots: Build = ({ bars: b, when, enter }) => {
      when(crossesAbove(b.close, ema(b.close, 9)), () =>
        enter.long({ stopLoss: ticks(9), target: ticks(9), size: { by: "units", value: 3 } }),
      );
      when(crossesBelow(b.close, ema(b.close, 9)), () =>
        enter.short({ stopLoss: ticks(9), target: ticks(9), size: { by: "units", value: 2 } }),
      );
    };
    for (const margin of [
      { by: "unit", value: 40, maintenancePercent: 0 },
      { by: "leverage", value: 5, maintenancePercent: 0 },
    ] as const) {
      const settings = { margin, positions: "independent", cash: 10_000_000 } as const;
      const backtest = backtestOf(bars, lots, { settings });
      let peak = 0;
      for (let i = 1; i <= bars.length; i++) {
        backtest.simulation.run(i);
        peak = Math.max(peak, backtest.account.marginUsed);
      }
      backtest.advance(bars.length);
      const result = backtest.result();
      expect(Math.max(...positionColumns(result.trades, bars, [INSTRUMENT]).grossUnits)).toBeGreaterThan(3);
      expect(result.figures.peakMargin).toBeCloseTo(peak, 6);
      const stretch = stretchResult({ ...source, ...result, settings: { ...source.settings, margin } }, 0, bars.length - 1);
      expect(stretch.figures.peakMargin).toBeCloseTo(peak, 4);
    }
    expect(run.figures.peakMargin).toBeNull();
  });

  test("units are signed", () => {
    expect(new Set(positionColumns(run.trades, bars, [INSTRUMENT]).units)).toEqual(new Set([0, 1, -1]));
  });
});

test("falls from the peak are never above it, and the deepest is the drawdown", () => {
  const falls = fallsOf(run.equity, 100_000);
  expect(Math.max(...falls)).toBe(0);
  expect(-Math.min(...falls)).toBe(run.figures.maxDrawdown);
  expect(Array.from(fallsOf([99, 101, 98], 100))).toEqual([-1, 0, -3]);
});

describe("a what-if level", () => {
  const long = (change: Partial<Trade>): Trade => ({
    ...run.trades[0]!,
    side: 1,
    quantity: 2,
    entryBar: 0,
    entryPrice: 100,
    exitBar: 3,
    exitPrice: 101,
    net: 38,
    mae: 0,
    mfe: 0,
    ...change,
  });
  // Tick 0.25, 1.0 is worth what the instrument says.
  const perPoint = INSTRUMENT.pointValue * 2;
  const path = barsOf([
    [100, 101, 99, 100],
    [100, 104, 100, 103],
    [96, 97, 95, 96],
    [96, 102, 96, 101],
  ]);
  const deep = { mae: 5 * perPoint, mfe: 4 * perPoint };
  test.each([
    ["a stop that was not reached changes nothing", 24, null, deep, "own", 101],
    ["a stop inside the excursion ends it there", 4, null, deep, "stop", 99],
    ["a bar that opens beyond the stop fills at its open", 12, null, deep, "stop", 96],
    ["a target is met on its bar", null, 12, deep, "target", 103],
    ["of both the first bar decides", 8, 12, deep, "target", 103],
    ["inside one bar the stop comes first", 4, 4, deep, "stop", 99],
    ["an excursion that the engine did not see is not met", 4, null, { mae: 0, mfe: 0 }, "own", 101],
  ] as const)("%s", (_label, stopTicks, targetTicks, excursions, by, price) => {
    const { trades } = whatIf([long(excursions)], path, { ...INSTRUMENT, tickSize: 0.25 }, { stopTicks, targetTicks });
    expect(trades).toEqual([{ id: run.trades[0]!.id, by, net: 38 + (price - 101) * perPoint }]);
  });

  test("agrees with a real run where an earlier end frees nothing: one lot a trade, each apart from the next", () => {
    // Positions are independent, so that an earlier end lets no other trade in.
    const settings = { costs: COSTS, positions: "independent" as const };
    const spaced: (options: object) => Build =
      (options) =>
      ({ on, enter }) => {
        let n = 0;
        on.barClose(() => n++ % 40 === 0 && enter.long({ timeLimit: { bars: 30 }, ...options }));
      };
    const plain = runBuild(bars, spaced({}), { settings });
    const real = runBuild(bars, spaced({ stopLoss: ticks(12) }), { settings });
    const guess = whatIf(plain.trades, bars, INSTRUMENT, { stopTicks: 12, targetTicks: null });
    expect(guess.stopped).toBeGreaterThan(10);
    expect(guess.stopped).toBe(real.trades.filter(({ reason }) => reason === "stop").length);
    expect(guess.net).toBeCloseTo(real.figures.netProfit, 6);
  });
});

test("groups hold every trade once, and all the money", () => {
  for (const by of GROUPINGS) {
    const groups = tradeGroups(run.trades, by, "Atlantic/Faroe");
    expect(
      groups.reduce((sum, { trades }) => sum + trades.length, 0),
      by,
    ).toBe(run.trades.length);
    expect(
      groups.reduce((sum, { net }) => sum + net, 0),
      by,
    ).toBeCloseTo(run.figures.netProfit, 6);
  }
  expect(tradeGroups(run.trades, "tag", "UTC").map(({ label }) => label)).toEqual(["down", "up"]);
  // 3 March 2025 was a Monday.
  expect(tradeGroups(run.trades, "weekday", "UTC")[0]!.label).toBe("Monday");
});

test("at no costs the gross is left, and at the break-even multiple nothing", () => {
  const { steps, breakEven } = costStress(run.trades);
  const { netProfit, costs } = run.figures;
  expect(steps.map(({ net }) => net)).toEqual([0, 0.5, 1, 1.5, 2, 2.5, 3].map((k) => expect.closeTo(netProfit + costs - k * costs, 6)));
  const gross = netProfit + costs;
  expect(breakEven === null ? null : gross - breakEven * costs).toEqual(gross > 0 ? expect.closeTo(0, 6) : null);
});

test("two runs: the same, ended otherwise, and only in one", () => {
  const stopped = runBuild(bars, crossing({ stopLoss: ticks(8) }), { settings: { costs: COSTS } });
  const { same, otherwise, onlyA, onlyB } = matchTrades(run.trades, stopped.trades);
  expect(same.length + otherwise.length + onlyA.length).toBe(run.trades.length);
  expect(same.length + otherwise.length + onlyB.length).toBe(stopped.trades.length);
  expect(otherwise.length).toBeGreaterThan(5);
  expect(otherwise.every(({ a, b }) => a.entryTime === b.entryTime && (a.reason !== b.reason || a.net !== b.net))).toBe(true);
  expect(matchTrades(run.trades, run.trades).same.length).toBe(run.trades.length);
});

test("years in profit are counted from the end of the year before", () => {
  const dates = ["2023-12-28", "2023-12-29", "2024-01-02", "2024-12-31", "2025-01-02"];
  expect(profitableYears({ dates, equity: Float64Array.of(100, 90, 101, 80, 102, 99) })).toBe(2);
  expect(profitableYears({ dates, equity: Float64Array.of(100, 100, 100, 100, 100, 100) })).toBe(0);
  expect(profitableYears({ dates: [], equity: Float64Array.of(100) })).toBe(0);
});
