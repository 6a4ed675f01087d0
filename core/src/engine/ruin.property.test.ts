/** R5.6: an account that is wiped out ends its run at the next open, wherever it happens. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { StudyStore } from "../language/study-store.ts";
import { makeSeries } from "../market/bars.ts";
import { Backtest } from "../run/backtest.ts";
import { barsOf, INSTRUMENT, type Ohlc, walk } from "../testing/bars.ts";
import { type Build, declare, runBuild, words } from "../testing/run.ts";
import { resolveSettings } from "./settings.ts";

const { units } = words;
const flat: Ohlc = [100, 100, 100, 100];

describe("one instrument", () => {
  const bars = barsOf([flat, flat, [100, 100, 85, 86], [86, 86, 70, 72], [70, 75, 70, 74], flat, flat]);
  const build: Build = ({ on, enter, position }) => {
    on.barClose(() => {
      if (position.flat) enter.long({ size: units(400) });
    });
  };

  test("everything closes at the open after the ruin, and nothing is traded from then on", () => {
    const result = runBuild(bars, build);
    expect(result.status).toBe("ruined");
    // 400 units x 10 a point: 100,000 are gone at 75.
    expect(result.trades).toMatchObject([{ entryBar: 1, exitBar: 4, exitPrice: 70, reason: "ruin" }]);
    expect(result.barsDone).toBe(5);
    expect(result.equity.at(-1)).toBe(-20_000);
    expect(result.orders.map(({ reason, tag }) => [reason, tag])).toEqual([
      ["signal", ""],
      ["ruin", "wiped out"],
    ]);
    expect(result.warnings[0]).toMatchObject({ code: "ruin", text: expect.stringContaining("2025-03-03") });
  });

  test("figures that rest on returns are undefined; the fall in money is not", () => {
    const { figures } = runBuild(bars, build);
    const { cagr, volatility, sharpe, sortino, calmar, alpha, beta, valueAtRisk, maxDrawdownShare, ulcerIndex } = figures;
    for (const figure of [cagr, volatility, sharpe, sortino, calmar, alpha, beta, valueAtRisk, maxDrawdownShare, ulcerIndex])
      expect(figure).toBeNull();
    expect(figures.maxDrawdown).toBe(120_000);
  });

  test("a setting lets it go on", () => {
    const result = runBuild(bars, build, { settings: { ruin: "continue" } });
    expect(result.status).toBe("complete");
    expect(result.barsDone).toBe(7);
    expect(result.warnings[0]).toMatchObject({ code: "ruin" });
    expect(result.figures.sharpe).toBeNull();
  });
});

/** Enters once and holds; the account is as large as makes ruin likely somewhere. */
const hold =
  (side: 1 | -1, size: number): Build =>
  ({ markets }) => {
    for (const market of markets) {
      let isIn = false;
      market.onBarClose(() => {
        if (isIn) return;
        isIn = true;
        const options = { size: units(size) };
        if (side > 0) market.enter.long(options);
        else market.enter.short(options);
      });
    }
  };

test("quiet bars hide no ruin: it is the first close at which equity is gone", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.constantFrom(1 as const, -1 as const),
      fc.integer({ min: 1, max: 3 }),
      (seed, side, count) => {
        const series = Array.from({ length: count }, (_none, k) => {
          const { time, ...columns } = walk(300, seed + k);
          // Other hours for each.
          return makeSeries({ ...columns, time: time.map((t) => t + k * 20_000) }, "1m", INSTRUMENT.calendar);
        });
        const run = (ruin: "stop" | "continue") => {
          const feeds = series.map((bars, k) => ({
            instrument: { ...INSTRUMENT, symbol: `S${k}` },
            store: new StudyStore(bars),
            finer: null,
          }));
          const settings = resolveSettings({ cash: 2000 * count, ruin });
          const backtest = new Backtest({ plan: declare(hold(side, 10)), inputs: {}, feeds, settings });
          backtest.advance(300);
          return { result: backtest.result(), account: backtest.account };
        };
        const whole = run("continue");
        const ended = run("stop");
        expect(ended.account.ruinMs).toBe(whole.account.ruinMs);
        if (count === 1) {
          const first = whole.result.equity.findIndex((value) => value <= 0);
          expect(whole.account.ruinMs).toBe(first < 0 ? Number.NaN : series[0]!.closeTime[first]!);
        }
        const done = ended.result.barsDone;
        if (Number.isNaN(ended.account.ruinMs)) expect(done).toBe(300);
        else for (const trade of ended.result.trades) expect(["ruin", "end of data"]).toContain(trade.reason);
        expect(Array.from(ended.result.equity.subarray(0, Math.max(0, done - 2)))).toEqual(
          Array.from(whole.result.equity.subarray(0, Math.max(0, done - 2))),
        );
      },
    ),
    { numRuns: 150, seed: 20_261_128 },
  );
});

test("a rate that moves hides no ruin: it is found where every bar is walked", () => {
  let ruins = 0;
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.constantFrom(1 as const, -1 as const),
      fc.boolean(),
      fc.integer({ min: 0, max: 40 }),
      (seed, side, inverse, offset) => {
        const { time, ...prices } = walk(300, seed);
        const held = makeSeries({ ...prices, time }, "1m", INSTRUMENT.calendar);
        // A rate that swings by half and more, at other times.
        const swing = walk(300, seed + 77);
        const scaled = (column: Float64Array): Float64Array => column.map((value) => (value / 100) ** 7);
        const rates = makeSeries(
          {
            time: time.map((t) => t + offset * 1000),
            ...{ open: scaled(swing.open), high: scaled(swing.high), low: scaled(swing.low), close: scaled(swing.close) },
            volume: swing.volume,
          },
          "1m",
          INSTRUMENT.calendar,
        );
        const run = (isWalked: boolean) => {
          const build: Build = ({ on, enter }) => {
            let isIn = false;
            on.barClose(() => {
              if (isIn) return;
              isIn = true;
              (side > 0 ? enter.long : enter.short)({ size: units(10) });
            });
            if (isWalked) on.price(() => undefined);
          };
          const feeds = [
            { instrument: { ...INSTRUMENT, symbol: "HELD", currency: "ORM" }, store: new StudyStore(held), finer: null },
            { instrument: { ...INSTRUMENT, symbol: "RATE", currency: "XSC" }, store: new StudyStore(rates), finer: null },
          ];
          const settings = resolveSettings({ cash: 900, currency: "XSC", conversions: { ORM: { symbol: "RATE", inverse } } });
          const backtest = new Backtest({ plan: declare(build), inputs: {}, feeds, settings });
          backtest.advance(300);
          return backtest;
        };
        const [quiet, walked] = [run(false), run(true)];
        if (!Number.isNaN(walked.account.ruinMs)) ruins++;
        expect(quiet.account.ruinMs).toBe(walked.account.ruinMs);
        expect(quiet.result().trades.map(({ exitPrice, net }) => [exitPrice, net])).toEqual(
          walked.result().trades.map(({ exitPrice, net }) => [exitPrice, net]),
        );
      },
    ),
    { numRuns: 120, seed: 20_261_128 },
  );
  expect(ruins).toBeGreaterThan(10);
});
