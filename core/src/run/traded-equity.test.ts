/** Equity from trades is that of the backtest that made them. */
import { expect, test } from "vitest";
import { resolveSettings } from "../engine/settings.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { Random } from "../random.ts";
import { barsOf, INSTRUMENT, type Ohlc } from "../testing/bars.ts";
import { type Build, runBuild, words } from "../testing/run.ts";
import { tradedEquity } from "./traded-equity.ts";

function walk(seed: number, count: number): Ohlc[] {
  const random = new Random(seed);
  let last = 100;
  return Array.from({ length: count }, () => {
    const open = last;
    const close = Math.max(10, open + Math.round((random.next() - 0.5) * 40) * 0.25);
    last = close;
    return [open, Math.max(open, close) + 0.5, Math.min(open, close) - 0.5, close] as const;
  });
}

const OTHER = { ...INSTRUMENT, symbol: "OTHER", currency: "PEARL", pointValue: 7 };

/** Enters and leaves both instruments by chance, often in parts. */
const erratic =
  (seed: number): Build =>
  ({ on, markets }) => {
    const random = new Random(seed);
    on.barClose(() => {
      for (const { enter, position } of markets) {
        const chance = random.next();
        if (chance < 0.2) enter.long({ size: words.units(1 + Math.floor(random.next() * 3)) });
        else if (chance < 0.3) enter.short({ size: words.units(2) });
        else if (chance < 0.45) position.close("out");
      }
    });
  };

test.each([1, 2, 3, 4, 5])("two instruments in two currencies, seed %i", (seed) => {
  const bars = barsOf(walk(seed, 200));
  const others = barsOf(walk(seed + 100, 200));
  const given = { cash: 50_000, costs: { ...NO_COSTS, spreadTicks: 2, commissionPerUnit: 1.25 }, conversions: { PEARL: 1.5 } } as const;
  const result = runBuild(bars, erratic(seed), { settings: given, others: [{ instrument: OTHER, bars: others }] });
  expect(result.trades.length).toBeGreaterThan(20);
  const feeds = [
    { instrument: INSTRUMENT, series: bars },
    { instrument: OTHER, series: others },
  ];
  const equity = tradedEquity(feeds, resolveSettings(given), result.trades);
  expect(equity.length).toBe(result.equity.length);
  for (let i = 0; i < equity.length; i++) expect(equity[i]).toBeCloseTo(result.equity[i]!, 6);
});

test("no trades leave the cash; one that is open stands at each close, and is made at the last", () => {
  const bars = barsOf([
    [100, 101, 99, 100],
    [100, 103, 100, 102],
    [102, 105, 102, 104],
  ]);
  const feeds = [{ instrument: INSTRUMENT, series: bars }];
  const settings = resolveSettings({ cash: 1000 });
  expect([...tradedEquity(feeds, settings, [])]).toEqual([1000, 1000, 1000]);
  const open = {
    symbol: INSTRUMENT.symbol,
    side: 1,
    quantity: 2,
    entryTime: bars.time[1]!,
    entryPrice: 100,
    commission: 0,
    reason: "end of data",
  } as const;
  const at = (points: number): number => 1000 + points * 2 * INSTRUMENT.pointValue;
  expect([...tradedEquity(feeds, settings, [{ ...open, exitTime: bars.closeTime[2]!, net: at(4) - 1000 }])]).toEqual([1000, at(2), at(4)]);
});
