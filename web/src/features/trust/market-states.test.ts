import { makeSeries, Random, regimesOf, STRIP, type Trade, tradeGroups } from "@plan-tester/core";
import { expect, test } from "vitest";
import { REGIME_KINDS, stateStrips, TradeStates } from "./market-states.ts";
import { regimeQuestion } from "./regime-question.ts";

const [DAYS, BARS] = [200, 4];
const OPEN = Date.UTC(2025, 0, 1);
const calendar = {
  ...{ zone: "UTC", holidays: [], earlyCloses: [], sessionsPerYear: 365 },
  weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "00:00", close: "24:00" })),
};
const random = new Random(4);
// Calm for a hundred days, wild for the next.
let price = 1000;
const close = Float64Array.from({ length: DAYS * BARS }, (_none, i) => (price += random.normal() * (i < 100 * BARS ? 1 : i / 100)));
const time = close.map((_close, i) => OPEN + i * 6 * 3_600_000);
const bars = makeSeries({ time, open: close, high: close, low: close, close, volume: close }, "6h" as never, calendar as never);
const dates = bars.sessions.dates.slice(0, DAYS);
const trades = Array.from({ length: 90 }, (_none, k) => ({ id: k + 1, entryTime: OPEN + (5 + 2 * k) * 86_400_000, net: 1 }) as Trade);
const view = { daily: { dates, equity: Float64Array.from({ length: DAYS + 1 }, (_none, d) => 1000 + d) }, trades };

test("a trade has the state of the day on which it began: the thirds that the regimes count", () => {
  const states = new TradeStates(view, bars);
  const question = regimeQuestion(view, bars, 365);
  for (const kind of REGIME_KINDS) {
    const groups = tradeGroups(trades, states.groupBy(kind), "UTC");
    for (const { name, trades: counted } of regimesOf(question, kind).parts)
      expect(groups.find(({ label }) => label === name)?.trades.length ?? 0).toBe(counted);
    // Before there are 20 days to look back on.
    expect(groups[0]!.label).toBe("not known yet");
  }
  expect(states.wordsOf(90)).toMatch(/^volatility:wild trend:(sideways|middling|trending)$/);
  expect(states.wordsOf(1)).toBe("");
  expect(states.wordsOf(999)).toBe("");
});

test("rows are lit at the bars of their days, one at a time, and nothing is known ahead of them", () => {
  const { labels } = regimesOf(regimeQuestion(view, bars, 365), "volatility");
  const rows = stateStrips(labels, "volatility", dates, bars);
  expect(rows.map(({ label }) => label)).toEqual(["volatility: calm", "volatility: middling", "volatility: wild"]);
  for (let bar = 0; bar < bars.length; bar++) {
    const day = Math.floor(bar / BARS);
    const lit = rows.filter(({ values }) => values[bar] === STRIP.yes).map(({ label }) => label.split(" ")[1]);
    expect(lit).toEqual(labels[day]! > 2 ? [] : [["calm", "middling", "wild"][labels[day]!]]);
    if (labels[day]! > 2) expect(rows.every(({ values }) => values[bar] === STRIP.unknown)).toBe(true);
  }
});
