import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { barsOf, START, walk } from "../testing/bars.ts";
import { barProblem, checkBars, makeSeries, sliceByTime } from "./bars.ts";
import { isoDate, layOutSessions, minutesOfDay, type SessionCalendar, wallTimeOf, wallToUtc } from "./calendar.ts";
import { isOnGrid, priceOfTicks, toGrid } from "./price-grid.ts";
import { resample } from "./resample.ts";
import { parseTimeframe, timeframeLabel } from "./timeframe.ts";

const FAROE: SessionCalendar = {
  zone: "Atlantic/Faroe",
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "07:00", close: "20:00" })),
  holidays: ["2025-04-02"],
  earlyCloses: [{ date: "2025-04-03", close: "13:00" }],
  sessionsPerYear: 252,
};
const NIGHT: SessionCalendar = {
  zone: "UTC",
  weekly: [7, 1, 2, 3, 4].map((day) => ({ day, open: "22:00", close: "22:00" })),
  holidays: [],
  earlyCloses: [],
  sessionsPerYear: 258,
};

describe("price grid (R1.4)", () => {
  test.each([
    [100.1, 0.25, "up", 100.25],
    [100.1, 0.25, "down", 100],
    [100.1, 0.25, "nearest", 100],
    [100.25, 0.25, "up", 100.25],
    [0.30000000000000004, 0.1, "up", 0.3],
    [12.35, 0.05, "down", 12.35],
    [1.84215, 0.0001, "up", 1.8422],
  ] as const)("%f on %f %s is %f", (price, tick, rounding, expected) => {
    expect(toGrid(price, tick, rounding)).toBe(expected);
  });

  test("a price on the grid is the double of its decimal number", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.constantFrom(0.25, 0.05, 0.01, 0.0001, 0.5), (ticks, tick) => {
        const price = priceOfTicks(ticks, tick);
        expect(price).toBe(Number(price.toFixed(4)));
        expect(isOnGrid(price, tick)).toBe(true);
        expect(toGrid(price, tick, "up")).toBe(price);
        expect(toGrid(price, tick, "down")).toBe(price);
      }),
    );
  });
});

describe("calendars (R1.3)", () => {
  test("daylight saving moves the opening in UTC, not at the exchange", () => {
    const { dates, openMs } = layOutSessions(FAROE, Date.UTC(2025, 2, 27), Date.UTC(2025, 3, 1));
    const opens = Object.fromEntries(dates.map((date, i) => [date, new Date(openMs[i]!).toISOString().slice(11, 16)]));
    expect(opens).toEqual({ "2025-03-27": "07:00", "2025-03-28": "07:00", "2025-03-31": "06:00" });
  });

  test("holidays are left out and early closes close early", () => {
    const { dates, openMs, closeMs } = layOutSessions(FAROE, Date.UTC(2025, 3, 1), Date.UTC(2025, 3, 5));
    expect(dates).toEqual(["2025-04-01", "2025-04-03", "2025-04-04"]);
    expect((closeMs[1]! - openMs[1]!) / 3_600_000).toBe(6);
  });

  test("a session over midnight bears the date on which it closes", () => {
    const { dates, openMs } = layOutSessions(NIGHT, Date.UTC(2025, 2, 3), Date.UTC(2025, 2, 5));
    expect(dates[0]).toBe("2025-03-03");
    expect(isoDate(openMs[0]!)).toBe("2025-03-02");
  });

  test("a wall time in the gap of daylight saving moves forward", () => {
    expect(new Date(wallToUtc("Atlantic/Faroe", Date.UTC(2025, 2, 30), minutesOfDay("01:30"))).toISOString()).toBe(
      "2025-03-30T01:30:00.000Z",
    );
  });

  test.each(["7", "25:00", "07:60", "24:01", "x"])('"%s" is not a time of day', (text) => {
    expect(() => minutesOfDay(text)).toThrow(/time of day/);
  });

  test("wall times go to minutes and back", () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 1439 }), (minute) => minutesOfDay(wallTimeOf(minute)) === minute));
  });

  test("an unknown zone is named", () => {
    expect(() => layOutSessions({ ...FAROE, zone: "Sundrey/Nowhere" }, 0, 1)).toThrow(/Sundrey\/Nowhere/);
  });
});

describe("bars (R1.2)", () => {
  test.each([
    ["sound", 10, 11, 9, 10, 5, null],
    ["low above the open", 10, 11, 10.5, 11, 5, /low 10.5 is above the open/],
    ["high under the close", 10, 10.5, 9, 11, 5, /high 10.5 is below the close/],
    ["not a number", 10, Number.NaN, 9, 10, 5, /finite/],
    ["negative volume", 10, 11, 9, 10, -1, /volume -1/],
    ["price not above zero", 0, 1, 0, 1, 1, /not above 0/],
  ])("%s", (_label, open, high, low, close, volume, problem) => {
    const found = barProblem(open, high, low, close, volume);
    if (problem === null) expect(found).toBeNull();
    else expect(found).toMatch(problem);
  });

  test("times must go on", () => {
    const bars = barsOf([
      [1, 1, 1, 1],
      [1, 1, 1, 1],
    ]);
    bars.time[1] = bars.time[0]!;
    expect(() => checkBars(bars)).toThrow(/Bar 2 opens at or before/);
  });

  test("a bar closes at the end of its timeframe, or with its session", () => {
    const open = Date.UTC(2025, 2, 3, 19, 40);
    const bars = makeSeries(
      {
        time: Float64Array.of(open, open + 15 * 60_000),
        open: Float64Array.of(1, 1),
        high: Float64Array.of(1, 1),
        low: Float64Array.of(1, 1),
        close: Float64Array.of(1, 1),
        volume: Float64Array.of(1, 1),
      },
      "15m",
      FAROE,
    );
    expect(Array.from(bars.closeTime, (ms) => new Date(ms).toISOString().slice(11, 16))).toEqual(["19:55", "20:00"]);
  });
});

describe("resampling", () => {
  const minutes = (() => {
    const { dates, openMs, closeMs } = layOutSessions(FAROE, Date.UTC(2025, 2, 24), Date.UTC(2025, 3, 8));
    const time: number[] = [];
    dates.forEach((_date, s) => {
      for (let t = openMs[s]!; t < closeMs[s]!; t += 60_000) time.push(t);
    });
    const path = walk(time.length, 4);
    return makeSeries({ ...path, time: Float64Array.from(time) }, "1m", FAROE);
  })();

  test.each(["7m", "15m", "1h", "4h", "1d", "1w", "1mo"])("%s: every bar is its source bars and nothing else", (timeframe) => {
    const { series, firstSource } = resample(minutes, timeframe);
    expect(series.length).toBeGreaterThan(0);
    expect(firstSource[series.length]).toBe(minutes.length);
    for (let i = 0; i < series.length; i++) {
      const [a, b] = [firstSource[i]!, firstSource[i + 1]!];
      expect(series.open[i]).toBe(minutes.open[a]);
      expect(series.close[i]).toBe(minutes.close[b - 1]);
      expect(series.high[i]).toBe(Math.max(...minutes.high.subarray(a, b)));
      expect(series.low[i]).toBe(Math.min(...minutes.low.subarray(a, b)));
      expect(series.closeTime[i]).toBeGreaterThanOrEqual(minutes.closeTime[b - 1]!);
      if (parseTimeframe(timeframe).unit !== "minutes" && timeframe !== "1d") continue;
      expect(minutes.session[a]).toBe(minutes.session[b - 1]);
    }
  });

  test("intraday bars are anchored at the session's open, and the last may be short", () => {
    const { series } = resample(minutes, "4h");
    const first = Array.from(series.time.subarray(0, 4), (ms) => new Date(ms).toISOString().slice(11, 16));
    expect(first).toEqual(["07:00", "11:00", "15:00", "19:00"]);
    expect(series.closeTime[3]! - series.time[3]!).toBe(3_600_000);
  });

  test("a finer timeframe than the source is refused", () => {
    expect(() => resample(resample(minutes, "15m").series, "1m")).toThrow(/can't be built from bars of 15m/);
  });
});

test.each([
  ["90x", /not a timeframe/],
  ["0m", /not a timeframe/],
  ["2d", /not a timeframe/],
  ["25h", /not a timeframe/],
])("timeframe %s is refused", (text, message) => {
  expect(() => parseTimeframe(text)).toThrow(message);
});

test("timeframes in words", () => {
  expect(["15m", "1h", "90m", "1d", "1w"].map(timeframeLabel)).toEqual(["15 min", "1 h", "90 min", "daily", "weekly"]);
});

test("a period holds the bars that open in it", () => {
  const bars = walk(10, 1);
  const cut = sliceByTime(bars, START + 60_000, START + 4 * 60_000);
  expect(Array.from(cut.time)).toEqual([1, 2, 3].map((i) => START + i * 60_000));
});
