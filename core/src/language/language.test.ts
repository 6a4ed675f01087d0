/** The plan language: what reads well works, what is a likely slip is refused with the remedy. */
import { describe, expect, test } from "vitest";
import { makeSeries } from "../market/bars.ts";
import type { SessionCalendar } from "../market/calendar.ts";
import { barsOf, type Ohlc, START, walk } from "../testing/bars.ts";
import { type Build, backtestOf, runBuild, words } from "../testing/run.ts";
import { resolveInputs, specsOf } from "./inputs.ts";

const { ema, sma, crossesAbove, crossesBelow, isAbove, becomes, bollinger, atr, ticks, riskPercent, equityPercent, percent, money } = words;
const bars = walk(200, 3);

/** Bars on which a condition is true at its close. */
function barsWhere(build: (context: Parameters<Build>[0]) => unknown, verb: "when" | "during"): number[] {
  const seen: number[] = [];
  const backtest = backtestOf(bars, (context) => {
    context[verb](build(context), () => seen.push(backtest.host.cursor.index));
  });
  backtest.advance(bars.length);
  return seen;
}

test("a crossing happens on one bar, a state holds on many, becomes() is a state's first bar", () => {
  const { close } = bars;
  const mean = Array.from(close, (_c, i) => (i < 9 ? Number.NaN : close.subarray(i - 9, i + 1).reduce((a, b) => a + b) / 10));
  const up = Array.from(close.keys()).filter((i) => i >= 10 && close[i]! > mean[i]! && close[i - 1]! <= mean[i - 1]!);
  const down = Array.from(close.keys()).filter((i) => i >= 10 && close[i]! < mean[i]! && close[i - 1]! >= mean[i - 1]!);
  const above = Array.from(close.keys()).filter((i) => i >= 9 && close[i]! > mean[i]!);
  expect(up.length).toBeGreaterThan(5);
  expect(barsWhere((c) => crossesAbove(c.bars.close, sma(c.bars.close, 10)), "when")).toEqual(up);
  expect(barsWhere((c) => crossesBelow(c.bars.close, sma(c.bars.close, 10)), "when")).toEqual(down);
  expect(barsWhere((c) => isAbove(c.bars.close, sma(c.bars.close, 10)), "during")).toEqual(above);
  expect(barsWhere((c) => becomes(isAbove(c.bars.close, sma(c.bars.close, 10))), "when")).toEqual(
    above.filter((i) => i > 9 && !above.includes(i - 1)),
  );
});

test("conditions compose", () => {
  const up = barsWhere((c) => crossesAbove(c.bars.close, sma(c.bars.close, 10)), "when");
  const high = new Set(barsWhere((c) => isAbove(c.bars.close, sma(c.bars.close, 30)), "during"));
  const both = barsWhere(
    (c) => crossesAbove(c.bars.close, sma(c.bars.close, 10)).and(isAbove(c.bars.close, sma(c.bars.close, 30))),
    "when",
  );
  expect(both).toEqual(up.filter((i) => i >= 29 && high.has(i)));
  const neither = barsWhere((c) => isAbove(c.bars.close, sma(c.bars.close, 30)).not(), "during");
  expect(neither.some((i) => high.has(i))).toBe(false);
  expect(neither.length + high.size).toBe(bars.length - 29);
});

test("columns read the last completed bar, back, and displaced; arithmetic is by bar", () => {
  runBuild(bars, ({ on, bars: own }) => {
    const range = own.high.minus(own.low).times(2).plus(1).over(2);
    const before = own.close.earlier(3);
    let i = 2;
    on.barClose(() => {
      i++;
      expect(own.close.now).toBe(bars.close[i]);
      expect(own.close.ago(2)).toBe(bars.close[i - 2]);
      expect(before.now).toBe(bars.close[i - 3]);
      expect(range.now).toBeCloseTo(bars.high[i]! - bars.low[i]! + 0.5, 12);
      expect(own.close.ago(1000)).toBeNaN();
    });
  });
  expect.assertions(5 * (bars.length - 3));
});

test("R7.3 handlers start when every declared study has its first full value", () => {
  let first = -1;
  const backtest = backtestOf(bars, ({ on, bars: own }) => {
    ema(own.close, 50);
    atr(own, 20);
    on.barClose(() => {
      if (first < 0) first = backtest.host.cursor.index;
    });
  });
  backtest.advance(bars.length);
  expect(first).toBe(49);
});

test("an entry under a condition is sent where that holds, and else nothing is said", () => {
  const run = (only: boolean) =>
    runBuild(bars, ({ on, enter, position, bars: b }) => {
      const isUp = isAbove(b.close, b.open);
      on.barClose(() => position.flat && enter.long({ timeLimit: { bars: 1 }, ...(only && { onlyIf: isUp }) }));
    });
  const [free, some] = [run(false), run(true)];
  const rose = (bar: number): boolean => bars.close[bar]! > bars.open[bar]!;
  expect(some.trades.length).toBeGreaterThan(3);
  expect(some.trades.every(({ entryBar }) => rose(entryBar - 1))).toBe(true);
  expect(free.trades.every(({ entryBar }) => rose(entryBar - 1))).toBe(false);
  expect(some.log).toEqual([]);
});

describe("slips are refused with the remedy", () => {
  const slip = (build: Build, message: RegExp): void => {
    expect(() => runBuild(bars, build)).toThrow(message);
  };
  test.each<[string, Build, RegExp]>([
    ["a state given to when", ({ when, bars: b }) => when(isAbove(b.close, 5), () => 0), /when\(becomes\(…\), …\).*during/],
    ["a look ahead", ({ on, bars: b }) => on.barClose(() => b.close.ago(-1)), /can't look ahead/],
    ["a study in a handler", ({ on, bars: b }) => on.barClose(() => ema(b.close, 5)), /Declare studies and conditions in build/],
    ["a handler in a handler", ({ on }) => on.barClose(() => on.barClose(() => 0)), /register handlers in build/],
    [
      "a stop loss without a unit",
      ({ on, enter }) => on.barClose(() => enter.long({ stopLoss: 40 })),
      /stopLoss needs a unit, e\.g\. ticks\(40\)/,
    ],
    ["a size without a unit", ({ on, enter }) => on.barClose(() => enter.long({ size: 2 })), /size needs a unit/],
    ["an unknown option", ({ on, enter }) => on.barClose(() => enter.long({ stop: ticks(4) })), /no option "stop".*stopLoss/],
    ["options before the price", ({ on, enter }) => on.barClose(() => enter.long.stop({ tag: "x" })), /takes its price first/],
    ["an entry under a number", ({ on, enter }) => on.barClose(() => enter.long({ onlyIf: 1 })), /onlyIf is a condition.*isAbove/],
    ["a column taken for a number", ({ bars: b }) => void (b.close > 3), /"close" is a column, and was taken for a number.*\.now/],
    ["a condition taken for a value", ({ bars: b }) => void (isAbove(b.close, 5) + 1), /is a condition, and was taken for a value/],
    ["a study of nothing", ({ bars: b }) => ema(b, 20), /takes a column such as bars\.close/],
    ["a span out of bounds", ({ bars: b }) => ema(b.close, 0), /span is 0/],
    ["too many arguments", ({ bars: b }) => ema(b.close, 5, 7), /takes 2 arguments/],
    ["a wrong time", ({ on }) => on.clock("25:00", () => 0), /not a time of day/],
    ["a crossing of numbers", () => crossesAbove(5, 7), /takes a column/],
  ])("%s", (_name, build, message) => slip(build, message));

  test("an asynchronous build", () => {
    expect(() => runBuild(bars, (async () => undefined) as unknown as Build)).toThrow(/asynchronous/);
  });
});

describe("sizes (R6)", () => {
  const sized = (size: unknown, more: object = {}) => {
    let asked = false;
    return runBuild(
      barsOf([
        [100, 100, 100, 100],
        [100, 100, 100, 100],
      ]),
      ({ on, enter }) => {
        on.barClose(() => {
          if (!asked) enter.long({ size, ...more });
          asked = true;
        });
      },
    );
  };
  test.each([
    ["share of equity: 20 % of 100,000 over 100 x 10", equityPercent(20), {}, 20],
    ["risk: 1 % of 100,000 over 8 ticks x 2.5", riskPercent(1), { stopLoss: ticks(8) }, 50],
    ["risk in percent of the price: 1 % of 100,000 over 2 x 10", riskPercent(1), { stopLoss: percent(2) }, 50],
  ])("%s", (_name, size, more, quantity) => {
    expect(sized(size, more).orders[0]).toMatchObject({ quantity, state: "filled" });
  });
  test.each([
    ["risk without a stop", riskPercent(1), {}, /needs a stop loss/],
    ["risk with a money stop", riskPercent(1), { stopLoss: money(100) }, /at a distance from it that is known/],
    ["too small", equityPercent(0.1), {}, /below the minimum of 1/],
  ])("%s is not sent, and the log says why", (_name, size, more, message) => {
    const { orders, log } = sized(size, more);
    expect(orders).toEqual([]);
    expect(log[0]?.text).toMatch(message);
  });
});

describe("sessions and the clock", () => {
  const calendar: SessionCalendar = {
    zone: "UTC",
    weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "10:00" })),
    holidays: [],
    earlyCloses: [],
    sessionsPerYear: 252,
  };
  const rows: Ohlc[] = Array.from({ length: 12 }, (_, i) => [100 + i, 101 + i, 99 + i, 100 + i]);
  const times = rows.map((_row, i) => START + Math.floor(i / 4) * 86_400_000 + 9 * 3_600_000 + (i % 4) * 900_000);
  const series = makeSeries({ ...barsOf(rows), time: Float64Array.from(times) }, "15m", calendar);

  test("events come in their order, clock actions at the open of their bar", () => {
    const heard: string[] = [];
    runBuild(series, ({ on, clock }) => {
      const note = (what: string) => () =>
        heard.push(
          `${what} ${clock.sessionDate.slice(8)} ${Math.floor(clock.minutes / 60)}:${String(clock.minutes % 60).padStart(2, "0")}`,
        );
      on.sessionOpen(note("open"));
      on.sessionClose(note("close"));
      on.clock("09:30", note("half"));
      on.clock("09:50", note("ten to"));
      on.end(note("end"));
    });
    expect(heard).toEqual([
      "half 03 9:30",
      "ten to 03 9:45",
      "close 03 10:00",
      "open 04 9:00",
      "half 04 9:30",
      "ten to 04 9:45",
      "close 04 10:00",
      "open 05 9:00",
      "half 05 9:30",
      "ten to 05 9:45",
      "close 05 10:00",
      "end 05 10:00",
    ]);
  });

  test("a position closed by the clock ends for that reason, at that bar's open", () => {
    const { trades } = runBuild(series, ({ on, enter, position }) => {
      let sent = false;
      on.barClose(() => {
        if (!sent) enter.long();
        sent = true;
      });
      on.clock("09:45", () => position.close("square off"));
    });
    expect(trades[0]).toMatchObject({ reason: "time", exitBar: 3, exitPrice: 103, exitTag: "square off" });
  });

  test("wall times compare, also over midnight", () => {
    const seen: boolean[][] = [];
    runBuild(series, ({ on, clock }) => {
      on.barClose(() =>
        seen.push([clock.before("09:20"), clock.atOrAfter("09:45"), clock.between("09:20", "09:40"), clock.between("22:00", "09:20")]),
      );
    });
    expect(seen.slice(0, 3)).toEqual([
      [true, false, false, true],
      [false, false, true, false],
      [false, true, false, false],
    ]);
  });

  test("an order good for the session is gone when it closes", () => {
    const { orders } = runBuild(series, ({ on, enter }) => {
      let sent = false;
      on.barClose(() => {
        if (!sent) enter.long.stop(500, { goodFor: "session" });
        sent = true;
      });
    });
    expect(orders[0]).toMatchObject({ state: "expired" });
  });
});

describe("inputs", () => {
  const { whole, decimal, yesNo, choice, time } = words;
  const specs = specsOf({
    fastSpan: whole(20, { min: 2, max: 50 }),
    width: decimal(2.5),
    both: yesNo(true),
    way: choice("up", ["up", "down"]),
    from: time("08:15"),
  });

  test("labels come from names, steps from kinds", () => {
    expect(specs.map(({ name, label, kind, step }) => [name, label, kind, step])).toEqual([
      ["fastSpan", "Fast span", "whole", 1],
      ["width", "Width", "decimal", null],
      ["both", "Both", "yes-no", null],
      ["way", "Way", "choice", null],
      ["from", "From", "time", null],
    ]);
  });

  test("values are checked all at once, and unknown names are told", () => {
    expect(() => resolveInputs(specs, { fastSpan: 1, width: Number.NaN, way: "left", from: "8h", slow: 3 })).toThrow(
      /Fast span is 1; the least is 2\..*Width is null; it must be a number\..*choose one of up, down\..*HH:MM\..*no input "slow"/,
    );
    expect(resolveInputs(specs, { fastSpan: 30 })).toEqual({ fastSpan: 30, width: 2.5, both: true, way: "up", from: "08:15" });
  });

  test("a default outside its own bounds is a slip of the plan", () => {
    expect(() => specsOf({ span: whole(1, { min: 2 }) })).toThrow(/default of input "span"/);
    expect(() => specsOf({ span: 20 })).toThrow(/not declared with whole/);
  });
});

test("shown columns come back as the plan saw them, by label and pane", () => {
  const { plots } = runBuild(bars, ({ bars: b, show }) => {
    const band = bollinger(b.close, 20, 2);
    show(band.upper, { label: "Upper" });
    show(atr(b, 5), { pane: "own" });
  });
  expect(plots.map(({ label, pane }) => [label, pane])).toEqual([
    ["Upper", "price"],
    ["atr(5)", "own"],
  ]);
  expect(plots[0]!.values.length).toBe(bars.length);
});

test("the plan's random numbers come from the run's seed", () => {
  const draw = (seed: number): number[] => {
    const numbers: number[] = [];
    runBuild(bars, ({ on, random }) => on.barClose(() => numbers.push(random())), { settings: { seed } });
    return numbers;
  };
  expect(draw(1)).toEqual(draw(1));
  expect(draw(1)).not.toEqual(draw(2));
});
