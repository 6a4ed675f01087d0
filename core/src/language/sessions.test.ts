/** Sessions with breaks, early closes and changes of the clocks (R1.3, R2.6). */
import { describe, expect, test } from "vitest";
import type { FinerBars } from "../engine/feed.ts";
import { EMPTY_KIT, type ExitKit, type KitExits, NO_EXITS } from "../engine/kit.ts";
import type { Trade } from "../engine/orders.ts";
import { type BarSeries, makeSeries } from "../market/bars.ts";
import { type SessionCalendar, wallToUtc } from "../market/calendar.ts";
import { resample } from "../market/resample.ts";
import { INSTRUMENT } from "../testing/bars.ts";
import { type Build, backtestOf, runBuild, words } from "../testing/run.ts";

const { minuteOfDay, points } = words;
const MINUTE = 60_000;

const WITH_BREAK: SessionCalendar = {
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5].flatMap((day) => [
    { day, open: "09:00", close: "11:30" },
    { day, open: "12:30", close: "15:00" },
  ]),
  holidays: [],
  earlyCloses: [{ date: "2025-03-05", close: "13:00" }],
  sessionsPerYear: 252,
};

/** Bars of some minutes at given times; each price is the number of the bar. */
function seriesAt(times: readonly number[], timeframe: string, calendar: SessionCalendar): BarSeries {
  const column = (add: number): Float64Array => Float64Array.from(times, (_time, i) => 100 + i + add);
  return makeSeries(
    { time: Float64Array.from(times), open: column(0), high: column(0.5), low: column(-0.5), close: column(0), volume: column(0) },
    timeframe,
    calendar,
  );
}

/** Every half hour of some days, where the calendar trades. */
function days(calendar: SessionCalendar, dates: readonly string[], stepMinutes = 30): BarSeries {
  const times = dates.flatMap((date) =>
    Array.from({ length: 1440 / stepMinutes }, (_none, k) =>
      wallToUtc(calendar.zone, Date.parse(`${date}T00:00:00Z`), k * stepMinutes),
    ).filter((time) => {
      const wall = new Date(time).toLocaleTimeString("en-GB", { timeZone: calendar.zone, hour: "2-digit", minute: "2-digit" });
      const early = calendar.earlyCloses.find((entry) => entry.date === date)?.close ?? "24:00";
      return wall < early && calendar.weekly.some(({ open, close }) => open <= wall && wall < close);
    }),
  );
  return seriesAt([...new Set(times)], `${stepMinutes}m`, calendar);
}

const THREE_DAYS = ["2025-03-03", "2025-03-04", "2025-03-05"];

describe("a break", () => {
  const bars = days(WITH_BREAK, THREE_DAYS);

  test("leaves one session date, one daily bar and one session's facts a day", () => {
    expect(bars.sessions.dates.slice(0, 3)).toEqual(THREE_DAYS);
    const daily = resample(bars, "1d").series;
    expect(daily.length).toBe(3);
    // Ten half hours on a full day: both parts are in it.
    expect([daily.open[0], daily.close[0], daily.open[1]]).toEqual([100, 109, 110]);
    expect(daily.closeTime[0]).toBe(Date.UTC(2025, 2, 3, 15));
  });

  test("is never spanned by intraday bars, which are anchored at each part's open", () => {
    const hours = resample(bars, "1h").series;
    const first = Array.from(hours.time.subarray(0, 6), (time) => new Date(time).toISOString().slice(11, 16));
    expect(first).toEqual(["09:00", "10:00", "11:00", "12:30", "13:30", "14:30"]);
    expect(new Date(hours.closeTime[2]!).toISOString().slice(11, 16)).toBe("11:30");
    expect(hours.close[2]).toBe(104);
  });

  test("closes the session once, opens it once", () => {
    const told: string[] = [];
    runBuild(bars, ({ on, clock }) => {
      on.sessionOpen(() => told.push(`open ${clock.sessionDate}`));
      on.sessionClose(() => told.push(`close ${clock.sessionDate}`));
    });
    expect(told).toEqual(["close 2025-03-03", "open 2025-03-04", "close 2025-03-04", "open 2025-03-05", "close 2025-03-05"]);
  });
});

describe("timed actions", () => {
  const bars = days(WITH_BREAK, THREE_DAYS);
  const timesOf = (register: (on: Parameters<Build>[0]["on"], act: () => void) => void): string[] => {
    const told: string[] = [];
    runBuild(bars, ({ on, clock }) =>
      register(on, () =>
        told.push(`${clock.sessionDate.slice(8)} ${Math.floor(clock.minutes / 60)}:${String(clock.minutes % 60).padStart(2, "0")}`),
      ),
    );
    return told;
  };

  test("a clock time that an early close has cut off fires at the last bar's open", () => {
    expect(timesOf((on, act) => on.clock("14:30", act))).toEqual(["03 14:30", "04 14:30", "05 12:30"]);
  });

  test("before the close is measured from the session's own close", () => {
    expect(timesOf((on, act) => on.beforeClose(60, act))).toEqual(["03 14:00", "04 14:00", "05 12:30"]);
  });

  test("a session whose bars end unforeseen is made up for at the next open, and the log says so", () => {
    const from = Date.parse("2025-03-04T13:00:00Z");
    const halted = seriesAt(
      Array.from(bars.time).filter((time) => time < from || time >= Date.parse("2025-03-05T00:00:00Z")),
      "30m",
      WITH_BREAK,
    );
    const told: string[] = [];
    const { trades, log } = runBuild(halted, ({ on, enter, position, clock }) => {
      on.sessionOpen(() => enter.long());
      on.clock("14:00", () => {
        told.push(`${clock.sessionDate.slice(8)} ${clock.minutes / 60}`);
        position.close("flat");
      });
    });
    // The 5th closes early: its own is due at the last bar's open.
    expect(told).toEqual(["03 14", "05 9", "05 12.5"]);
    expect(trades.slice(0, 1).map(({ exitTime }) => new Date(exitTime).toISOString())).toEqual(["2025-03-05T09:00:00.000Z"]);
    expect(log.map(({ text }) => text)).toContain("a session had no bars left when 14:00 came: done at the next open");
  });

  test("a time at which it never trades is not due", () => {
    expect(timesOf((on, act) => on.clock("20:00", act))).toEqual([]);
  });
});

describe("timed actions where finer paths are walked", () => {
  const minutes = days(WITH_BREAK, THREE_DAYS, 1);
  const { series, firstSource: first } = resample(minutes, "1h");
  const finer = { series: minutes, first };
  const run = (known: FinerBars, instrument: Build) => runBuild(series, instrument, { finer: known, settings: { path: "finer" } });
  const longFrom =
    (wallTime: string): Build =>
    ({ on, enter, position, clock }) => {
      on.clock(wallTime, () => enter.long());
      on.beforeClose(7, () => clock.weekday !== "tuesday" && position.close("flat"));
    };

  test("fire at the open of the finer bar, and what they send fills there", () => {
    const { trades, equity } = run(finer, longFrom("10:17"));
    const at = (ms: number): string => new Date(ms).toISOString().slice(8, 16);
    expect(trades.map(({ entryTime, exitTime }) => [at(entryTime), at(exitTime)])).toEqual([
      ["03T10:17", "03T14:53"],
      ["04T10:17", "05T12:53"],
      ["05T10:17", "05T12:53"],
    ]);
    const [{ entryPrice, entryBar }] = trades as [Trade];
    expect(entryPrice).toBe(minutes.open[77]);
    expect(entryBar).toBe(1);
    // Equity at that bar's close has the profit since 10:17 in it.
    expect(equity[1]! - equity[0]!).toBeCloseTo((series.close[1]! - entryPrice) * INSTRUMENT.pointValue, 9);
  });

  test("a bar without finer ones has its own open", () => {
    // The hour from 10:00 of the first day is known as a whole only.
    const known = Array.from(minutes.time).filter((_time, j) => j < 60 || j >= 120);
    const holed = { series: seriesAt(known, "1m", WITH_BREAK), first: first.map((j) => (j <= 60 ? j : j - 60)) };
    const entryOf = (wallTime: string): string => new Date(run(holed, longFrom(wallTime)).trades[0]!.entryTime).toISOString().slice(11, 16);
    expect(["09:30", "10:00", "10:17", "11:05"].map(entryOf)).toEqual(["10:00", "10:00", "11:00", "11:05"]);
  });

  test("two runs side by side are the sum of two alone", () => {
    const alone = run(finer, longFrom("10:17"));
    const other = { ...INSTRUMENT, symbol: "OTHER" };
    const both = backtestOf(series, longFrom("10:17"), {
      finer,
      settings: { path: "finer" },
      others: [{ instrument: other, bars: series, finer }],
    });
    both.advance(series.length);
    expect(both.result().fills).toEqual(alone.fills);
    expect(both.result().equity).toEqual(alone.equity);
  });
});

test("an order at the close fills at the price of the session's last bar, as its last moment", () => {
  const bars = days(WITH_BREAK, THREE_DAYS);
  const { trades, orders } = runBuild(bars, ({ on, enter, exit, position }) => {
    on.sessionOpen(() => enter.long({ stopLoss: points(50) }));
    on.beforeClose(60, () => position.long && exit.long({ at: "close" }));
  });
  // Opens at bar 10, the 4th's first; that day's last is bar 19, and of the short 5th it is bar 25.
  expect(trades.map(({ entryBar, exitBar, exitPrice, reason }) => [entryBar, exitBar, exitPrice, reason])).toEqual([
    [10, 19, 119, "session end"],
    [20, 25, 125, "session end"],
  ]);
  expect(orders.filter(({ atClose }) => atClose).every(({ state }) => state === "filled")).toBe(true);
});

describe("an entry at the close", () => {
  const bars = days(WITH_BREAK, THREE_DAYS);
  const hold: Build = ({ on, enter, position }) => {
    on.beforeClose(60, () => position.flat && enter.long({ at: "close", stopLoss: points(50) }));
    on.sessionOpen(() => position.close("out"));
  };

  test("fills at the price of the session's last bar, and is held into the next session with its exits", () => {
    const { trades } = runBuild(bars, hold);
    // Sessions end with bars 9, 19 and 25; the last one ends the data as well.
    expect(trades.map(({ entryBar, entryPrice, exitBar, reason }) => [entryBar, entryPrice, exitBar, reason])).toEqual([
      [9, 109, 10, "signal"],
      [19, 119, 20, "signal"],
      [25, 125, 25, "end of data"],
    ]);
    const stopped = runBuild(bars, ({ on, enter }) => {
      on.beforeClose(60, () => enter.short({ at: "close", stopLoss: points(2) }));
    });
    expect(stopped.trades.slice(0, 2).map(({ reason, exitPrice }) => [reason, exitPrice])).toEqual([
      ["stop", 111],
      ["stop", 121],
    ]);
  });

  test("is a market order, and none where a kit holds nothing past that close", () => {
    expect(() => runBuild(bars, ({ on, enter }) => void on.barClose(() => enter.long.stop(200, { at: "close" })))).toThrow(
      /at: "close" is for market orders; a stop order works at its price/,
    );
    const daily = { ...NO_EXITS, flat: { minutes: 0, of: "session" as const } };
    const refused = runBuild(bars, hold, { settings: { kit: { ...EMPTY_KIT, name: "Flat", long: daily } } });
    expect(refused.trades).toEqual([]);
    expect(refused.log.some(({ text }) => text.includes("nothing is held past this close"))).toBe(true);
    const weekly = { ...NO_EXITS, flat: { minutes: 0, of: "week" as const } };
    // None of the three days is the last of its week.
    expect(runBuild(bars, hold, { settings: { kit: { ...EMPTY_KIT, name: "Flat", long: weekly } } }).trades).toHaveLength(3);
  });
});

describe("an exit kit that is flat ahead of the close", () => {
  const WEEK = ["2025-03-03", "2025-03-04", "2025-03-05", "2025-03-06", "2025-03-07", "2025-03-10"];
  const bars = days(WITH_BREAK, WEEK);
  /** Long and short in turn at every close, each held until somebody closes it. */
  const eager: Build = ({ on, enter }) => {
    let n = 0;
    on.barClose(() => (n++ % 2 === 0 ? enter.long : enter.short)({}));
  };
  const run = (long: Partial<KitExits>, short: Partial<KitExits> = long, part: Partial<ExitKit> = {}, build = eager) => {
    const kit = { ...EMPTY_KIT, name: "Flat", long: { ...NO_EXITS, ...long }, short: { ...NO_EXITS, ...short }, ...part };
    return runBuild(bars, build, { settings: { kit, positions: "independent" } });
  };
  const at = (ms: number): string => new Date(ms).toISOString().slice(8, 16).replace("T", " ");
  /** Trades that are open at some session's last moment, and not closed by it. */
  const heldOver = (trades: readonly Trade[], side: 1 | -1): Trade[] =>
    trades.filter((trade) => trade.side === side && new Date(trade.entryTime).getUTCDate() !== new Date(trade.exitTime).getUTCDate());

  test("minutes before: closed at the open of the first bar at or after that time, early closes included, and not entered after it", () => {
    const { trades, log } = run({ flat: { minutes: 60, of: "session" } });
    const flat = trades.filter(({ exitTag }) => exitTag === "flat before the close");
    expect([...new Set(flat.map(({ exitTime }) => at(exitTime)))]).toEqual(
      // The last session ends with the data, and its own flat time.
      ["03 14:00", "04 14:00", "05 12:30", "06 14:00", "07 14:00", "10 14:00"],
    );
    expect([...heldOver(trades, 1), ...heldOver(trades, -1)]).toEqual([]);
    for (const { entryTime } of trades) expect(at(entryTime).slice(3) < (at(entryTime).startsWith("05") ? "12:30" : "14:00")).toBe(true);
    expect(log.some(({ text }) => text.includes("exit kit: flat 60 minutes before the close"))).toBe(true);
  });

  test("at the close: filled at the price of the session's last bar, entries of that bar too", () => {
    const { trades } = run({ flat: { minutes: 0, of: "session" } });
    expect([...heldOver(trades, 1), ...heldOver(trades, -1)]).toEqual([]);
    const last = trades.filter(({ exitTag }) => exitTag === "flat at the close");
    expect(new Set(last.map(({ reason }) => reason))).toEqual(new Set(["session end"]));
    for (const { exitBar, exitPrice } of last) {
      expect(bars.closeTime[exitBar]).toBe(bars.sessions.closeMs[bars.session[exitBar]!]);
      expect(exitPrice).toBe(bars.close[exitBar]);
    }
    expect(last.some(({ entryBar, exitBar }) => entryBar === exitBar)).toBe(true);
  });

  test("a stop entry that fills inside the last bar is closed at its close", () => {
    const build: Build = ({ on, enter, position, bars: own }) => {
      on.barClose(() => position.flat && enter.long.stop(own.close.now + 1.25));
    };
    const { trades } = run({ flat: { minutes: 0, of: "session" } }, {}, {}, build);
    expect(trades.length).toBeGreaterThan(3);
    expect(heldOver(trades, 1)).toEqual([]);
  });

  test("before the weekend only Friday's close counts", () => {
    const { trades } = run({ flat: { minutes: 30, of: "week" } });
    const flat = trades.filter(({ exitTag }) => exitTag === "flat before the close");
    expect([...new Set(flat.map(({ exitTime }) => at(exitTime)))]).toEqual(["07 14:30"]);
    expect(heldOver(trades, 1).length).toBeGreaterThan(5);
    expect(trades.every(({ entryTime, exitTime }) => !(entryTime < Date.UTC(2025, 2, 8) && exitTime > Date.UTC(2025, 2, 8)))).toBe(true);
  });

  test("each side has its own, also where the plan's exits are off", () => {
    const { trades } = run({ flat: { minutes: 30, of: "session" } }, {}, { plansExits: false });
    expect(heldOver(trades, 1)).toEqual([]);
    expect(heldOver(trades, -1).length).toBeGreaterThan(5);
  });
});

describe("clocks that are changed", () => {
  // Atlantic/Faroe goes an hour ahead on 30 March 2025 at 01:00 UTC; this market trades through that night.
  const THROUGH: SessionCalendar = {
    zone: "Atlantic/Faroe",
    weekly: [6, 7, 1].map((day) => ({ day, open: "18:00", close: "17:00" })),
    holidays: [],
    earlyCloses: [],
    sessionsPerYear: 300,
  };
  const start = Date.UTC(2025, 2, 29, 18);
  const bars = seriesAt(
    Array.from({ length: 60 }, (_none, i) => start + i * 30 * MINUTE),
    "30m",
    THROUGH,
  );

  test("inside a session: clock times are the wall clock's", () => {
    const told: string[] = [];
    runBuild(bars, ({ on, clock }) => {
      on.clock("12:00", () => told.push(`${new Date(clock.timeMs).toISOString()} ${clock.minutes}`));
    });
    // Noon in summer time is 11:00 UTC.
    expect(told[0]).toBe("2025-03-30T11:00:00.000Z 720");
  });

  test("the study says the same, also for bars outside every session", () => {
    const seen = new Map<string, number>();
    runBuild(bars, ({ bars: b, on, clock }) => {
      const minute = minuteOfDay(b);
      on.barClose(() => seen.set(new Date(clock.timeMs - 30 * MINUTE).toISOString().slice(5, 16), minute.now));
    });
    expect(seen.get("03-30T00:30")).toBe(30);
    expect(seen.get("03-30T01:00")).toBe(120);
    // The session has closed at 16:00 UTC; the next opens at 17:00.
    expect(seen.get("03-30T16:30")).toBe(17 * 60 + 30);
  });
});
