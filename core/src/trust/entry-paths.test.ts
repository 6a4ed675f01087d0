import { describe, expect, test } from "vitest";
import type { Trade } from "../engine/orders.ts";
import { makeSeries } from "../market/bars.ts";
import { Random } from "../random.ts";
import { INSTRUMENT } from "../testing/bars.ts";
import { entryPaths } from "./entry-paths.ts";

const HOURS = 8;
const FROM = Date.UTC(2025, 0, 6, 8);
const calendar = {
  ...{ zone: "UTC", holidays: [], earlyCloses: [], sessionsPerYear: 365 },
  weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "08:00", close: "16:00" })),
};

/** Hourly bars, eight a day; `move` gives what a bar does from its open to its close. */
function market(days: number, move: (hour: number, day: number) => number) {
  const n = days * HOURS;
  const columns = { open: new Float64Array(n), high: new Float64Array(n), low: new Float64Array(n), close: new Float64Array(n) };
  const time = new Float64Array(n);
  let price = 1000;
  for (let i = 0; i < n; i++) {
    const [day, hour] = [Math.floor(i / HOURS), i % HOURS];
    time[i] = FROM + day * 86_400_000 + hour * 3_600_000;
    columns.open[i] = price;
    price += move(hour, day);
    columns.close[i] = price;
    columns.high[i] = Math.max(columns.open[i]!, price);
    columns.low[i] = Math.min(columns.open[i]!, price);
  }
  return makeSeries({ time, ...columns, volume: new Float64Array(n).fill(1) }, "1h", calendar as never);
}

const entered = (bars: ReturnType<typeof market>, entryBar: number, held: number, change: Partial<Trade> = {}): Trade =>
  ({
    ...{
      side: 1,
      quantity: 2,
      entryBar,
      exitBar: entryBar + held - 1,
      entryPrice: bars.open[entryBar]!,
      risk: null,
      symbol: INSTRUMENT.symbol,
    },
    ...change,
  }) as Trade;

describe("entries against chance", () => {
  test("on a line every entry is as good, in ticks and in units of risk", () => {
    const bars = market(40, () => 0.5);
    const risk = 4 * 2 * INSTRUMENT.pointValue;
    const trades = [5, 40, 77, 120, 151, 200].map((bar) => entered(bars, bar, 6, { risk }));
    const { ticks, r, at, atLeast } = entryPaths(trades, bars, INSTRUMENT, 60)!;
    expect([at, atLeast, ticks.plan.length]).toEqual([6, 1, 12]);
    for (const values of [ticks.plan, ticks.low, ticks.middle, ticks.high])
      values.forEach((value, n) => {
        expect(value).toBeCloseTo(((n + 1) * 0.5) / INSTRUMENT.tickSize, 6);
      });
    expect(r!.plan[5]).toBeCloseTo((6 * 0.5) / 4, 9);
    const short = entryPaths(
      trades.map((trade) => ({ ...trade, side: -1 as const })),
      bars,
      INSTRUMENT,
      60,
    )!;
    expect(short.ticks.plan[0]).toBeCloseTo(-0.5 / INSTRUMENT.tickSize, 6);
  });

  test("what the hour alone gives is given to chance too", () => {
    // The first hour rises every day: who always buys at the open knows no more than the clock.
    const random = new Random(3);
    const bars = market(120, (hour) => (hour === 0 ? 5 : random.normal()));
    const trades = Array.from({ length: 40 }, (_none, k) => entered(bars, (3 * k + 1) * HOURS - HOURS, 1));
    const { ticks } = entryPaths(trades, bars, INSTRUMENT, 100)!;
    expect(ticks.middle[0]).toBeCloseTo(5 / INSTRUMENT.tickSize, 6);
    expect(ticks.plan[0]).toBeCloseTo(ticks.middle[0]!, 6);
  });

  test("a slow reading says the same of the plan's own path, up to the end of the bars", () => {
    const random = new Random(11);
    const bars = market(60, () => random.normal());
    const places = [3, 60, 111, 200, 300, bars.length - 2, bars.length - 5];
    const trades = places.map((bar, k) => entered(bars, bar, 4, { side: k % 2 ? 1 : -1, entryPrice: bars.open[bar]! + 0.25 }));
    const { plan } = entryPaths(trades, bars, INSTRUMENT, 50)!.ticks;
    plan.forEach((value, n) => {
      const moves = trades.flatMap(({ side, entryBar, entryPrice }) =>
        entryBar + n < bars.length ? [side * (bars.close[entryBar + n]! - entryPrice)] : [],
      );
      expect(value).toBeCloseTo(moves.reduce((sum, move) => sum + move, 0) / moves.length / INSTRUMENT.tickSize, 8);
    });
  });

  test("entries by chance stand as far ahead as chance says; those that know what comes beat all draws", () => {
    let extreme = 0;
    const worlds = 120;
    for (let seed = 0; seed < worlds; seed++) {
      const random = new Random(500 + seed);
      const bars = market(60, () => random.normal());
      const any = Array.from({ length: 25 }, () =>
        entered(bars, Math.floor(random.next() * 450), 5, { side: random.next() < 0.5 ? 1 : -1 }),
      );
      if (entryPaths(any, bars, INSTRUMENT, 100, seed)!.atLeast <= 0.1) extreme++;
    }
    // 10 in 100, four standard errors.
    expect(Math.abs(extreme / worlds - 0.1)).toBeLessThan(4 * Math.sqrt(0.09 / worlds));
    const random = new Random(9);
    const bars = market(60, () => random.normal());
    const rises = Array.from({ length: 450 }, (_none, i) => i).sort(
      (a, b) => bars.close[b + 4]! - bars.open[b]! - (bars.close[a + 4]! - bars.open[a]!),
    );
    expect(
      entryPaths(
        rises.slice(0, 25).map((bar) => entered(bars, bar, 5)),
        bars,
        INSTRUMENT,
        100,
      )!.atLeast,
    ).toBe(0);
  });

  test("too few trades, too few bars and trades of other instruments tell nothing", () => {
    const bars = market(40, () => 0.5);
    const trades = [5, 40, 77, 120].map((bar) => entered(bars, bar, 6));
    expect(entryPaths(trades, bars, INSTRUMENT)).toBeNull();
    expect(entryPaths([...trades, entered(bars, 99, 3, { symbol: "OTHER" })], bars, INSTRUMENT)).toBeNull();
    const short = market(3, () => 0.5);
    expect(
      entryPaths(
        [1, 2, 3, 4, 5].map((bar) => entered(short, bar, 3)),
        short,
        INSTRUMENT,
      ),
    ).toBeNull();
    expect(entryPaths([...trades, entered(bars, 160, 6)], bars, INSTRUMENT, 50)!.r).toBeNull();
  });
});
