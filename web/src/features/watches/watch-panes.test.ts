/** What a watch's chart is made of: lines of position and orders, and trades at the bars that hold their times. */
import type { WatchDetail } from "@plan-tester/contract";
import type { Trade } from "@plan-tester/core";
import { expect, test } from "vitest";
import { levelsOf, tradesOn } from "./watch-panes.ts";

const settings = { symbol: "KELP" };
const watch = (part: object): WatchDetail => ({ settings, positions: [], workingOrders: [], ...part }) as unknown as WatchDetail;

test("entry, stop, target and working orders are lines with their prices; another instrument's are not", () => {
  const positions = [
    { symbol: "KELP", units: -2, entryPrice: 415, stop: 418, target: null },
    { symbol: "BRIN", units: 1, entryPrice: 80, stop: 79, target: 82 },
  ];
  const workingOrders = [
    { symbol: "KELP", side: 1, quantity: null, kind: "stop", price: 420 },
    { symbol: "KELP", side: 1, quantity: 1, kind: "market", price: null },
    { symbol: "BRIN", side: 1, quantity: 1, kind: "limit", price: 78 },
  ];
  expect(levelsOf(watch({ positions, workingOrders }), 2).map(({ words, color, isSeen }) => [words, color, isSeen])).toEqual([
    ["short 2 415.00", "ink", true],
    ["stop 418.00", "loss", true],
    ["buy all stop 420.00", "soft", false],
  ]);
});

test("trades stand at the bars that hold their times; those ahead of the chart and of other instruments are left out", () => {
  const time = Float64Array.of(0, 10, 20, 30);
  const closeTime = Float64Array.of(10, 20, 30, 40);
  const trade = (symbol: string, entryTime: number, exitTime: number) => ({ symbol, entryTime, exitTime, rails: [1] }) as unknown as Trade;
  const rows: [string, number, number, number[] | null][] = [
    ["KELP", 0, 15, [0, 1]],
    ["KELP", 10, 29, [1, 2]],
    ["KELP", 35, 99, [3, 3]],
    ["KELP", -20, 5, [0, 0]],
    ["KELP", -20, -5, null],
    ["BRIN", 0, 15, null],
  ];
  for (const [symbol, entry, exit, expected] of rows) {
    const [shown] = tradesOn([trade(symbol, entry, exit)], "KELP", { time, closeTime });
    expect(shown ? [shown.entryBar, shown.exitBar] : null).toEqual(expected);
  }
});
