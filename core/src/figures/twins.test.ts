/** Figures against slow twins written straight from their definitions, on random trades and curves. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Trade } from "../engine/orders.ts";
import { INSTRUMENT, walk } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";
import { drawdowns } from "./drawdown.ts";
import { drawdownTable } from "./drawdown-table.ts";
import { sharpeRatio, sortinoRatio, ulcerIndex } from "./equity-figures.ts";
import { quantile } from "./statistics.ts";
import { type TradeFigures, tradeFigures } from "./trade-figures.ts";

const SETTINGS = { seed: 20_260_301, numRuns: 100 };
const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
const average = (values: readonly number[]): number | null => (values.length === 0 ? null : sum(values) / values.length);
const deviation = (values: readonly number[]): number =>
  Math.sqrt(sum(values.map((value) => (value - average(values)!) ** 2)) / (values.length - 1));

function streak(nets: readonly number[], wins: boolean): number {
  let longest = 0;
  for (let from = 0; from < nets.length; from++)
    for (let to = from; to < nets.length && (wins ? nets[to]! > 0 : nets[to]! < 0); to++) longest = Math.max(longest, to - from + 1);
  return longest;
}

function worstStreak(nets: readonly number[]): number {
  let worst = 0;
  for (let from = 0; from < nets.length; from++)
    for (let to = from; to < nets.length && nets[to]! < 0; to++) worst = Math.min(worst, sum(nets.slice(from, to + 1)));
  return worst;
}

function slowFigures(trades: readonly Trade[]): Partial<TradeFigures> {
  const nets = trades.map(({ net }) => net);
  const [won, lost] = [nets.filter((net) => net > 0), nets.filter((net) => net < 0)];
  const costs = sum(trades.map((trade) => trade.commission + trade.spread + trade.slippage));
  const tick = INSTRUMENT.tickSize * INSTRUMENT.pointValue;
  const risked = trades.filter(({ risk }) => risk !== null && risk > 0);
  return {
    netProfit: sum(nets),
    grossProfit: sum(won),
    grossLoss: sum(lost),
    trades: nets.length,
    wins: won.length,
    losses: lost.length,
    even: nets.filter((net) => net === 0).length,
    winRate: nets.length === 0 ? null : won.length / nets.length,
    averageTrade: average(nets),
    averageTradeTicks: average(trades.map((trade) => trade.net / (trade.quantity * tick))),
    averageTradeR: average(trades.flatMap(({ r }) => (r === null ? [] : [r]))),
    averageWin: average(won),
    averageLoss: average(lost),
    payoffRatio: won.length > 0 && lost.length > 0 ? average(won)! / -average(lost)! : null,
    profitFactor: lost.length > 0 ? sum(won) / -sum(lost) : null,
    largestWin: won.length > 0 ? Math.max(...won) : null,
    largestLoss: lost.length > 0 ? Math.min(...lost) : null,
    longestWinningStreak: streak(nets, true),
    longestLosingStreak: streak(nets, false),
    averageBarsHeld: average(trades.map(({ barsHeld }) => barsHeld)),
    averageBarsWins: average(trades.filter(({ net }) => net > 0).map(({ barsHeld }) => barsHeld)),
    averageBarsLosses: average(trades.filter(({ net }) => net < 0).map(({ barsHeld }) => barsHeld)),
    costs,
    costShare: nets.length === 0 || sum(nets) + costs === 0 ? null : costs / (sum(nets) + costs),
    averageMae: average(trades.map(({ mae }) => mae)),
    averageMfe: average(trades.map(({ mfe }) => mfe)),
    averageMaeR: average(risked.map(({ mae, risk }) => mae / risk!)),
    averageMfeR: average(risked.map(({ mfe, risk }) => mfe / risk!)),
    worstLosingStreak: worstStreak(nets),
    tradedValue: sum(trades.map((trade) => trade.quantity * (trade.entryPrice + trade.exitPrice) * INSTRUMENT.pointValue)),
    giveBack: average(trades.map(({ mfe, net }) => mfe - net)),
    pathDependentTrades: trades.filter(({ pathDependent }) => pathDependent).length,
    openAtEnd: trades.filter(({ reason }) => reason === "end of data").length,
  };
}

test("trade figures of random runs equal their twins", () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 3, max: 40 }), (seed, span) => {
      const { trades } = runBuild(
        walk(250, seed),
        ({ bars, when, enter, random }) => {
          const mean = words.sma(bars.close, span);
          const exits = () => ({
            size: words.units(1 + Math.floor(random() * 3)),
            ...(random() < 0.8 ? { stopLoss: words.ticks(6) } : {}),
            target: words.ticks(9),
          });
          when(words.crossesAbove(bars.close, mean), () => enter.long(exits()));
          when(words.crossesBelow(bars.close, mean), () => enter.short(exits()));
        },
        { settings: { costs: { ...INSTRUMENT.costs, commissionPerUnit: 1, spreadTicks: 1 }, seed } },
      );
      const [quick, slow] = [tradeFigures(trades, [INSTRUMENT]), slowFigures(trades)];
      for (const [name, expected] of Object.entries(slow)) {
        const got = quick[name as keyof TradeFigures];
        if (expected === null) expect(got, name).toBeNull();
        else expect(got, name).toBeCloseTo(expected, 8);
      }
      const results = trades.every(({ r }) => r !== null) ? trades.map(({ r }) => r!) : trades.map(({ net }) => net);
      if (trades.length > 1 && deviation(results) > 0)
        expect(quick.sqn).toBeCloseTo((Math.sqrt(Math.min(trades.length, 100)) * average(results)!) / deviation(results), 8);
    }),
    SETTINGS,
  );
});

const curve = fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 2, maxLength: 60 }).map((steps) => {
  let value = 1000;
  return Float64Array.from(steps, (step) => {
    value = Math.max(100, value + step);
    return value;
  });
});

describe("curves", () => {
  test("the table of drawdowns begins with the deepest, its falls do not overlap, and every fall below a peak is in one", () => {
    fc.assert(
      fc.property(curve, (equity) => {
        const rows = drawdownTable(equity, 1000, 1000);
        const depths = rows.map(({ depth }) => depth);
        expect(depths).toEqual([...depths].sort((a, b) => b - a));
        expect(depths[0] ?? 0).toBe(drawdowns(equity, 1000, Float64Array.from(equity.keys()), -1).money.size);
        const inside = new Set<number>();
        for (const { start, low, recovery, depth, share } of rows) {
          const peak = start < 0 ? 1000 : equity[start]!;
          expect(depth).toBe(peak - equity[low]!);
          expect(share).toBeCloseTo(depth / peak, 12);
          if (recovery !== null) expect(equity[recovery]).toBeGreaterThanOrEqual(peak);
          for (let i = start + 1; i < (recovery ?? equity.length); i++) {
            expect(inside.has(i)).toBe(false);
            inside.add(i);
            expect(equity[i]).toBeLessThan(peak);
          }
        }
        let peak = 1000;
        equity.forEach((value, i) => {
          expect(inside.has(i)).toBe(value < peak);
          peak = Math.max(peak, value);
        });
      }),
      SETTINGS,
    );
  });

  test("the deepest drawdown is the largest fall from any earlier peak, in money and in percent", () => {
    fc.assert(
      fc.property(curve, (equity) => {
        const values = [1000, ...equity];
        let [money, relative] = [0, 0];
        values.forEach((peak, i) => {
          for (const later of values.slice(i + 1)) {
            money = Math.max(money, peak - later);
            relative = Math.max(relative, (peak - later) / peak);
          }
        });
        const time = Float64Array.from(equity, (_value, i) => i + 1);
        const found = drawdowns(equity, 1000, time, 0);
        expect(found.money.size).toBeCloseTo(money, 9);
        expect(found.relative.size).toBeCloseTo(relative, 12);
        if (found.money.size > 0) {
          const peak = found.money.start < 0 ? 1000 : equity[found.money.start]!;
          expect(peak - equity[found.money.low]!).toBe(found.money.size);
          if (found.money.recovery !== null) expect(equity[found.money.recovery]!).toBeGreaterThanOrEqual(peak);
        }
      }),
      SETTINGS,
    );
  });

  test("at any size of capital and of falls the deepest drawdown is found to the last bit", () => {
    const sizes = fc.constantFrom<number>(1e-3, 1, 1e4, 1e9, 1e15);
    fc.assert(
      fc.property(sizes, sizes, fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { maxLength: 60 }), (capital, size, steps) => {
        let value = capital;
        const equity = Float64Array.from(steps, (step) => {
          value += step * size;
          return value;
        });
        let [peak, deepest] = [capital, 0];
        for (const later of equity) {
          peak = Math.max(peak, later);
          deepest = Math.max(deepest, peak - later);
        }
        const time = Float64Array.from(equity, (_value, i) => i + 1);
        expect(drawdowns(equity, capital, time, 0).money.size).toBe(deepest);
      }),
      SETTINGS,
    );
  });

  test("Sharpe, Sortino, ulcer index and quantile by their definitions", () => {
    fc.assert(
      fc.property(curve, (equity) => {
        const returns = Float64Array.from(equity.subarray(1), (value, i) => value / equity[i]! - 1);
        const list = Array.from(returns);
        const [rf, p] = [0.03, 252];
        const excess = list.map((r) => r - rf / p);
        if (list.length > 1 && deviation(list) > 1e-12)
          expect(sharpeRatio(returns, rf, p)).toBeCloseTo((average(excess)! / deviation(excess)) * Math.sqrt(p), 8);
        const below = average(excess.map((r) => Math.min(r, 0) ** 2))!;
        if (list.length > 1 && below > 0)
          expect(sortinoRatio(returns, rf, p)).toBeCloseTo((average(excess)! / Math.sqrt(below)) * Math.sqrt(p), 8);
        const falls = Array.from(equity, (value, i) => 1 - value / Math.max(...equity.subarray(0, i + 1)));
        expect(ulcerIndex(equity)).toBeCloseTo(Math.sqrt(average(falls.map((fall) => fall ** 2))!), 10);
        const sorted = [...list].sort((a, b) => a - b);
        const at = 0.05 * (sorted.length - 1);
        const expected = sorted[Math.floor(at)]! * (1 - (at % 1)) + (sorted[Math.ceil(at)] ?? 0) * (at % 1);
        expect(quantile(sorted, 0.05)).toBeCloseTo(expected, 12);
      }),
      SETTINGS,
    );
  });
});
