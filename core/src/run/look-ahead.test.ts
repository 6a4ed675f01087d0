/** R7.1 from its other side: a run that does look ahead is caught, and a study of the plan's own can't pass values on. */
import { describe, expect, test } from "vitest";
import { resolveSettings } from "../engine/settings.ts";
import { type Column, deriveColumn, entryOf, scopeOf } from "../language/columns.ts";
import { type NumberEntry, StudyStore } from "../language/study-store.ts";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { newColumn } from "../studies/growth.ts";
import { INSTRUMENT, START, walk } from "../testing/bars.ts";
import { type Build, backtestOf, declare, words } from "../testing/run.ts";
import { Backtest } from "./backtest.ts";
import { checkLookAhead, cutsFor, lookAheadComparisons, MIN_CUTS } from "./look-ahead.ts";

const bars = walk(300, 11);
const { isAbove, points, stepwise, sma } = words;

const feedsOf = () => [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }];

const check = (makeBuild: () => Build) =>
  checkLookAhead({
    makePlan: () => declare(makeBuild()),
    inputs: {},
    feeds: feedsOf(),
    settings: resolveSettings({}),
    cuts: [100, 200],
  });

/** A column that is one bar ahead of another: what no study may be. */
function ahead(column: Column): Column {
  return deriveColumn(scopeOf(column), "ahead", 0, [entryOf(column)], (_bars, parts) => {
    const { values } = parts[0] as NumberEntry;
    const out = newColumn(values.length, 0);
    for (let i = 0; i < values.length; i++) out[i] = values[Math.min(i + 1, values.length - 1)]!;
    return { values: out, first: 0 };
  });
}

test("a column that knows the next close is caught at the first cut, at its last bar", () => {
  // Only the last bar of the two has another one after it: exactly there they part.
  const { cuts, difference } = check(() => ({ bars: b, on, log }) => {
    const next = ahead(b.close);
    on.barClose(() => log(String(next.now)));
  });
  expect(cuts).toEqual([100]);
  expect(difference).toMatchObject({
    what: "log",
    bars: 100,
    barIndex: 99,
    whole: expect.stringContaining(String(bars.close[100])),
  });
});

test("the same plan without it passes at every cut", () => {
  const { cuts, difference } = check(() => ({ bars: b, on, log }) => {
    const same = sma(b.close, 5);
    on.barClose(() => log(String(same.now)));
  });
  expect([cuts, difference]).toEqual([[100, 200], null]);
});

test("a plan that acts by how often it was made is caught by its orders", () => {
  let made = 0;
  const { difference } = check(() => {
    const mine = made++;
    return ({ bars: b, during, enter }) => during(isAbove(b.close, 0), () => mine % 2 === 0 && enter.long());
  });
  expect(difference).toMatchObject({ what: "order", bars: 100 });
});

test("one peek among a hundred entries is found; the last place tried is right after it", () => {
  const build: Build = ({ bars: b, on, enter, position }) => {
    const next = ahead(b.close);
    let n = 0;
    on.barClose(() => {
      n++;
      if (!position.flat) position.close();
      // On one bar in a hundred it looks.
      else if (n === 101 || n === 201) enter.long({ tag: next.now > b.close.now ? "up" : "down" });
      else enter.long({ tag: "plain" });
    });
  };
  const backtest = new Backtest({ plan: declare(build), inputs: {}, feeds: feedsOf(), settings: resolveSettings({}) });
  backtest.advance(bars.length);
  const cuts = cutsFor(bars.time, backtest.host.orders, 250, 1);
  expect(cuts.length).toBe(250);
  const { difference, cuts: tried } = checkLookAhead({
    makePlan: () => declare(build),
    inputs: {},
    feeds: feedsOf(),
    settings: resolveSettings({}),
    cuts,
  });
  expect(difference).toMatchObject({ what: "order", barIndex: 100, bars: 101 });
  expect(tried.at(-1)).toBe(101);
});

test("goes by steps, so that a slow plan may take its time and whoever waits may stop", () => {
  let steps = 0;
  const comparisons = lookAheadComparisons({
    makePlan: () => declare(({ on }) => on.barClose(() => undefined)),
    inputs: {},
    feeds: [{ instrument: INSTRUMENT, store: new StudyStore(walk(3000, 2)), finer: null }],
    settings: resolveSettings({}),
    cuts: [1000, 2000, 2999],
    onStep: () => steps++,
  });
  expect(comparisons.next()).toEqual({ done: false, value: 1 });
  // Two runs of a thousand bars.
  expect(steps).toBe(2 * Math.ceil(1000 / 256));
  expect(comparisons.next().value).toBe(2);
});

test("a short run is compared after each of its bars, a long one at the least number", () => {
  expect(cutsFor(bars.time, [], 1000, 1)).toEqual(Array.from({ length: 299 }, (_none, i) => i + 1));
  expect(cutsFor(bars.time, [], MIN_CUTS, 1).length).toBe(MIN_CUTS);
});

describe("several instruments with offset hours", () => {
  const offset = (minutes: number, seed: number) => {
    const { time, ...columns } = walk(240, seed);
    return makeSeries({ ...columns, time: time.map((_t, i) => START + i * 3_600_000 + minutes * 60_000) }, "1h", ALWAYS_OPEN);
  };
  const [a, b] = [offset(0, 3), offset(30, 4)];
  const compare = (build: Build) =>
    checkLookAhead({
      makePlan: () => declare(build),
      inputs: {},
      feeds: [a, b].map((series, k) => ({ instrument: { ...INSTRUMENT, symbol: "AB"[k]! }, store: new StudyStore(series), finer: null })),
      settings: resolveSettings({ costs: { ...NO_COSTS, slippageRange: 0.1 } }),
      cuts: Array.from({ length: 235 }, (_none, i) => i + 2),
    }).difference;

  test("a plan that trades the second on its own closes is innocent", () => {
    expect(
      compare(({ market }) => {
        const B = market("B");
        B.onBarClose(() => {
          if (B.position.flat) B.enter.long();
          else B.exit.all();
        });
      }),
    ).toBeNull();
  });

  test("orders across, on fills and on prices, see nothing ahead", () => {
    expect(
      compare(({ market, on }) => {
        const [A, B] = [market("A"), market("B")];
        A.onBarClose(() => {
          A.orders.cancelAll();
          if (!A.position.flat) A.exit.all();
          A.enter.long.stop(A.bars.close.now + 1, { goodFor: 1, tag: "probe" });
          if (B.position.long) A.enter.short({ tag: "seen" });
        });
        on.filled((fill: { tag: string }) => {
          if (fill.tag === "probe") B.enter.long({ target: points(1), tag: "across" });
        });
        on.price(({ symbol, price }: { symbol: string; price: number }) => {
          if (symbol === "A" && price > A.bars.close.now + 1 && B.position.flat) B.enter.short({ stopLoss: points(2) });
        });
      }),
    ).toBeNull();
  });
});

/** Runs a plan of which every instance is made by `makeBuild`. */
function runFresh(makeBuild: () => Build): Backtest {
  const makePlan = () => declare(makeBuild());
  const backtest = new Backtest({ plan: makePlan(), freshPlan: makePlan, inputs: {}, feeds: feedsOf(), settings: resolveSettings({}) });
  backtest.advance(bars.length);
  return backtest;
}

test("what a step keeps outside of its start reaches no handler", () => {
  let most = 0;
  runFresh(() => {
    const seen: number[] = [];
    return ({ bars: b, on }) => {
      stepwise([b.close], () => (close: number) => {
        seen.push(close);
        return close;
      });
      on.barClose(() => {
        most = Math.max(most, seen.length);
      });
    };
  });
  expect(most).toBe(0);
});

test("it reaches no other study and no second computation either", () => {
  const { host } = runFresh(() => {
    const seen: number[] = [];
    return ({ bars: b, on, log }) => {
      const record = stepwise([b.close], () => (close: number) => seen.push(close));
      let i = -1;
      const peek = stepwise([b.close], () => {
        const known = seen.slice();
        return () => known[++i + 1] ?? seen.length;
      });
      on.price(() => log(`${peek.forming}`));
      on.barClose(() => log(`${record.now} ${peek.now}`));
    };
  });
  const texts = host.lines.map(({ text }) => text);
  expect(texts).toContain(`${bars.length} 0`);
  expect(new Set(texts.filter((text) => !text.includes(" ")))).toEqual(new Set(["0"]));
  expect(new Set(texts.filter((text) => text.includes(" ")).map((text) => text.split(" ")[1]))).toEqual(new Set(["0"]));
});

test("each of several own studies gets its own start, also in the run's later columns", () => {
  const { host } = runFresh(() => ({ bars: b, on, log }) => {
    const sum = stepwise([b.close], () => {
      let total = 0;
      return (close: number) => {
        total += close;
        return total;
      };
    });
    const double = stepwise([sum, b.open], () => (total: number, open: number) => 2 * total + open);
    on.barClose(() => log(`${double.now}`));
  });
  let total = 0;
  for (let i = 0; i < bars.length; i++) {
    total += bars.close[i]!;
    expect(Number(host.lines[i]!.text)).toBeCloseTo(2 * total + bars.open[i]!, 6);
  }
});

test("a build that declares other studies each time is told so, and orders in build are refused", () => {
  let made = 0;
  const changing = () =>
    runFresh(() => {
      const isFirst = made++ === 0;
      return ({ bars: b }) => {
        if (isFirst) stepwise([b.close], () => (close: number) => close);
      };
    });
  expect(changing).toThrow(/declares other studies each time/);
  expect(() => backtestOf(bars, ({ enter }) => enter.long())).toThrow(/An order in build\(\)/);
});
