/** Laws of what a plan sees while a bar is forming, in a higher timeframe, and by the clock. */
import { describe, expect, test } from "vitest";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { resample } from "../market/resample.ts";
import { walk } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";
import { readColumn } from "./expression.ts";

const bars = walk(400, 17);

describe("a forming value is what the value becomes when the bar closes there", () => {
  const written = [
    ...["sma(close, 7)", "ema(close, 9)", "wilder(close, 6)", "wma(close, 8)", "hull(close, 9)", "dema(close, 6)", "tema(close, 5)"],
    ...["rsi(close, 6)", "cci(10)", "momentum(close, 5)", "rateOfChange(close, 5)", "atr(5)", "averageRange(5)", "trueRange()"],
    ...["highest(high, 8)", "lowest(low, 8)[2]", "standardDeviation(close, 10)", "zScore(close, 12)", "percentRank(close, 12)"],
    ...["efficiency(close, 8)", "sumOf(close, 6)", "typicalPrice()", "close - open", "ema(high, 5) / 2 + low"],
  ];
  test.each(written)("%s", (text) => {
    let compared = 0;
    runBuild(bars, ({ bars: b, on }) => {
      const column = readColumn(text, b);
      let last = Number.NaN;
      on.price(() => {
        last = column.forming;
      });
      on.barClose(() => {
        if (Number.isNaN(last)) return;
        expect(Math.abs(column.now - last)).toBeLessThan(1e-9 * Math.max(1, Math.abs(last)));
        compared++;
      });
    });
    expect(compared).toBeGreaterThan(300);
  });

  test("looking at it leaves the history untouched", () => {
    const nows: number[][] = [[], []];
    for (const looks of [false, true])
      runBuild(bars, ({ bars: b, on }) => {
        const column = words.ema(b.close, 12);
        if (looks) on.price(() => void column.forming);
        on.barClose(() => void nows[looks ? 1 : 0]!.push(column.now));
      });
    expect(nows[1]).toEqual(nows[0]);
  });
});

test.each(["5m", "15m", "1h"])("a column of %s shows its last completed bar, by brute force (R1.5)", (timeframe) => {
  const higher = resample(bars, timeframe).series;
  const seen: number[] = [];
  const times: number[] = [];
  runBuild(bars, ({ bars: b, on, clock }) => {
    const far = b.at(timeframe).close;
    on.barClose(() => {
      seen.push(far.now);
      times.push(clock.timeMs);
    });
  });
  seen.forEach((now, k) => {
    let last = -1;
    for (let j = 0; j < higher.length; j++) if (higher.closeTime[j]! <= times[k]!) last = j;
    expect(now).toBe(last < 0 ? Number.NaN : higher.close[last]!);
  });
});

describe("timed actions", () => {
  const MINUTE = 60_000;
  const START = Date.UTC(2025, 2, 3);
  const days = makeSeries(
    {
      time: Float64Array.from({ length: 10 * 96 }, (_none, i) => START + i * 15 * MINUTE),
      ...Object.fromEntries(["open", "high", "low", "close", "volume"].map((name) => [name, new Float64Array(960).fill(10)])),
    } as never,
    "15m",
    ALWAYS_OPEN,
  );
  const hitsOf = (register: (on: never, hit: () => void) => void): string[] => {
    const found: string[] = [];
    runBuild(days, ({ on, clock }) => register(on as never, () => void found.push(new Date(clock.timeMs).toISOString().slice(5, 16))));
    return found;
  };

  test("so many minutes after each session's open", () => {
    const found = hitsOf((on: never, hit) => (on as { afterOpen(minutes: number, handler: () => void): void }).afterOpen(45, hit));
    expect(found.slice(0, 3)).toEqual(["03-03T00:45", "03-04T00:45", "03-05T00:45"]);
    expect(found.length).toBe(10);
  });

  test("each week on its day", () => {
    const found = hitsOf((on: never, hit) =>
      (on as { weekly(day: string, at: string, handler: () => void): void }).weekly("friday", "15:30", hit),
    );
    expect(found).toEqual(["03-07T15:30"]);
  });
});
