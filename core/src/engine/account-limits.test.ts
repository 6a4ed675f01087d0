/** R5.8: what an account may lose, held against a reading bar by bar and against the joint clock. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { StudyStore } from "../language/study-store.ts";
import { type BarSeries, makeSeries } from "../market/bars.ts";
import { Backtest } from "../run/backtest.ts";
import { BlendRun } from "../run/blend-run.ts";
import { barsOf, INSTRUMENT, type Ohlc, START, walk } from "../testing/bars.ts";
import { type Build, declare, runBuild, words } from "../testing/run.ts";
import { ACCOUNT_LIMIT_ACTS, type AccountLimit, type AccountLimits } from "./account-limits.ts";
import { resolveSettings } from "./settings.ts";

const { units } = words;
const flat: Ohlc = [100, 100, 100, 100];
const NONE: AccountLimits = { drawdown: null, dailyLoss: null };
const money = (value: number, act: AccountLimit["act"]): AccountLimit => ({ unit: "money", value, act });
const percent = (value: number, act: AccountLimit["act"]): AccountLimit => ({ unit: "percent", value, act });

/** Long at each close while flat: 10 units x 10 a point. */
const eager: Build = ({ on, enter, position }) => {
  on.barClose(() => {
    if (position.flat) enter.long({ size: units(10) });
  });
};
const FALLING: readonly Ohlc[] = [flat, flat, [100, 100, 96, 97], [97, 97, 93, 94], [94, 95, 93, 95], flat, flat];

describe("on one instrument", () => {
  const bars = barsOf([...FALLING]);
  const run = (limits: AccountLimits, build = eager) => runBuild(bars, build, { settings: { cash: 10_000, limits } });

  test.each([
    // 300 are lost at the close of bar 2, 600 at that of bar 3.
    ["a limit that is reached to the unit is hit", { ...NONE, dailyLoss: money(300, "flatten") }, [[1, 3, 97]]],
    ["one that is not reached is not", { ...NONE, dailyLoss: money(600.01, "flatten") }, [[1, 6, 100]]],
    ["percent of equity ahead of the session", { ...NONE, dailyLoss: percent(6, "flatten") }, [[1, 4, 94]]],
    ["no entries: what is open stays", { ...NONE, dailyLoss: money(300, "no entries") }, [[1, 6, 100]]],
    ["drawdown, for good", { ...NONE, drawdown: percent(3, "stop") }, [[1, 3, 97]]],
    ["the first of two", { drawdown: money(500, "flatten"), dailyLoss: money(200, "flatten") }, [[1, 3, 97]]],
  ] as const)("%s", (_what, limits, expected) => {
    const { trades } = run(limits);
    expect(trades.map(({ entryBar, exitBar, exitPrice }) => [entryBar, exitBar, exitPrice])).toEqual(expected);
  });

  test("it says so: in the log, at the trade, at refused orders and as a warning", () => {
    const { log, trades, orders, warnings, status } = run({ ...NONE, dailyLoss: money(300, "flatten") });
    expect(status).toBe("complete");
    expect(trades).toMatchObject([{ reason: "account limit" }]);
    expect(orders.slice(1, 3).map(({ reason, tag, state }) => [reason, tag, state])).toEqual([
      ["account limit", "daily loss limit", "filled"],
      ["signal", "", "refused"],
    ]);
    expect(log[0]).toMatchObject({ barIndex: 2, level: "warning" });
    expect(log[0]!.text).toBe(
      "the account's daily loss limit is hit: equity has lost 300.00 in this session, the limit is 300.00; no entries until the session ends (R5.8)",
    );
    expect(log[1]!.text).toContain("refused: the account's daily loss limit is hit");
    expect(warnings.find(({ code }) => code === "account limit")?.text).toBe("The account's daily loss limit was hit on 2025-03-03");
  });

  test("entries that wait at a price are cancelled, exits are not", () => {
    const { orders } = run({ ...NONE, drawdown: money(300, "no entries") }, ({ on, enter }) => {
      let sent = false;
      on.barClose(() => {
        if (sent) return;
        sent = true;
        enter.long({ size: units(10) });
        enter.long.limit(50, { size: units(1) });
      });
    });
    expect(orders.map(({ kind, state, note }) => [kind, state, note])).toEqual([
      ["market", "filled", ""],
      ["limit", "cancelled", "the account's drawdown limit is hit (R5.8)"],
    ]);
  });

  test("a plan can neither see nor cancel what the account sends", () => {
    const seen: number[] = [];
    const { trades } = run({ ...NONE, dailyLoss: money(300, "flatten") }, (context) => {
      const { on, orders } = context;
      const cancel = (): void => {
        seen.push(orders.working.filter((order: { reason?: string; id: number }) => order.id < 0).length);
        orders.cancelAll();
      };
      on.accepted(({ id }: { id: number }) => id < 0 && cancel());
      on.barClose(cancel);
      // After that: what it sends itself waits for the next open.
      eager(context);
    });
    expect(trades).toMatchObject([{ exitBar: 3, reason: "account limit" }]);
    expect(Math.max(...seen)).toBe(0);
  });

  test.each([
    [{ ...NONE, drawdown: money(0, "stop") }, /above 0/],
    [{ ...NONE, dailyLoss: percent(101, "stop") }, /100 at most/],
    [{ ...NONE, dailyLoss: money(Number.NaN, "stop") }, /above 0/],
  ])("a limit that can't be is refused", (limits, message) => {
    expect(() => resolveSettings({ limits })).toThrow(message);
  });
});

/** Bars of a quarter of an hour: 96 a session. */
function quarters(seed: number): BarSeries {
  const { time, ...columns } = walk(480, seed);
  return makeSeries({ ...columns, time: time.map((t) => START + 15 * (t - START)) }, "15m", INSTRUMENT.calendar);
}

const limitOf = (most: number): fc.Arbitrary<AccountLimit | null> =>
  fc.option(
    fc.record({
      unit: fc.constant("money" as const),
      value: fc.integer({ min: 1, max: most }),
      act: fc.constantFrom(...ACCOUNT_LIMIT_ACTS),
    }),
  );
const cases = {
  seed: fc.integer({ min: 1, max: 1e6 }),
  every: fc.integer({ min: 5, max: 23 }),
  limits: fc.record({ drawdown: limitOf(1500), dailyLoss: limitOf(800) }),
};

/** Now long, now short, and flat again two bars ahead of the next. */
const restless =
  (every: number): Build =>
  ({ on, enter, position }) => {
    let bar = -1;
    on.barClose(() => {
      bar++;
      if (bar % every === every - 2) position.close();
      if (!position.flat || bar % every !== 0) return;
      if ((bar / every) % 2 === 0) enter.long({ size: units(10) });
      else enter.short({ size: units(10) });
    });
  };

const optionsOf = (bars: BarSeries, every: number, limits: AccountLimits | null) => ({
  ...{ plan: declare(restless(every)), inputs: {}, feeds: [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }] },
  settings: resolveSettings({ cash: 20_000, limits }),
});

/** R5.8 read from the curve, a close at a time. */
function slowHits(equity: Float64Array, { session, closeTime }: BarSeries, limits: AccountLimits): (readonly [string, number])[] {
  const hits: (readonly [string, number])[] = [];
  const state = { drawdown: { from: 20_000, over: -1 }, dailyLoss: { from: 20_000, over: -1 } };
  for (let i = 0; i < equity.length; i++) {
    const before = i > 0 ? equity[i - 1]! : 20_000;
    if (i > 0 && session[i] !== session[i - 1]) {
      state.dailyLoss.from = before;
      if (state.drawdown.over === session[i - 1]) state.drawdown.from = before;
    }
    state.drawdown.from = Math.max(state.drawdown.from, equity[i]!);
    for (const name of ["dailyLoss", "drawdown"] as const) {
      const limit = limits[name];
      const one = state[name];
      if (!limit || one.over >= session[i]! || one.from - equity[i]! < limit.value) continue;
      one.over = limit.act === "stop" ? Number.POSITIVE_INFINITY : session[i]!;
      hits.push([name, closeTime[i]!]);
    }
  }
  return hits;
}

test("hits are those of a reading of equity close by close, and nothing is opened while one is in force", () => {
  let hits = 0;
  fc.assert(
    fc.property(cases.seed, cases.every, cases.limits, (seed, every, limits) => {
      const bars = quarters(seed);
      const backtest = new Backtest(optionsOf(bars, every, limits));
      backtest.advance(bars.length);
      const { equity, trades } = backtest.result();
      const found = backtest.account.limits!.hits;
      expect(found.map(({ limit, timeMs }) => [limit, timeMs])).toEqual(slowHits(equity, bars, limits));
      hits += found.length;
      for (const { timeMs, act } of found) {
        const at = bars.closeTime.indexOf(timeMs);
        const untilMs = act === "stop" ? Number.POSITIVE_INFINITY : bars.sessions.closeMs[bars.session[at]!]!;
        expect(trades.filter(({ entryTime }) => entryTime >= timeMs && entryTime < untilMs)).toEqual([]);
        const held = trades.filter(({ entryTime, exitTime }) => entryTime < timeMs && exitTime > timeMs);
        const next = bars.time[at + 1];
        if (act !== "no entries" && next !== undefined) for (const { exitTime } of held) expect(exitTime).toBe(next);
      }
    }),
    { numRuns: 200, seed: 20_261_130 },
  );
  expect(hits).toBeGreaterThan(100);
});

test("limits that are never reached change nothing, and one plan on an account is the run itself", () => {
  fc.assert(
    fc.property(cases.seed, cases.every, cases.limits, (seed, every, limits) => {
      const bars = quarters(seed);
      const run = (given: AccountLimits | null) => {
        const backtest = new Backtest(optionsOf(bars, every, given));
        backtest.advance(bars.length);
        return backtest.result();
      };
      const far = run({ drawdown: money(1e9, "stop"), dailyLoss: money(1e9, "stop") });
      expect([far.trades, far.equity]).toEqual([run(null).trades, run(null).equity]);
      const blend = new BlendRun({ cash: 20_000, ruin: "stop", limits, members: [optionsOf(bars, every, null)] });
      blend.advance(Number.POSITIVE_INFINITY);
      const [shared] = blend.results();
      const own = run(limits);
      expect([shared!.trades, shared!.equity, shared!.log]).toEqual([own.trades, own.equity, own.log]);
    }),
    { numRuns: 60, seed: 20_261_130 },
  );
});

test("plans on one account share its limits: one that loses nothing is closed as well", () => {
  const bars = quarters(7);
  const hold: (side: "long" | "short") => Build =
    (side) =>
    ({ on, enter }) => {
      on.barClose(() => enter[side]({ size: units(side === "long" ? 10 : 1) }));
    };
  const member = (side: "long" | "short") => ({ ...optionsOf(bars, 5, null), plan: declare(hold(side)) });
  const limits: AccountLimits = { drawdown: money(500, "stop"), dailyLoss: null };
  const blend = new BlendRun({ cash: 20_000, ruin: "stop", limits, members: [member("long"), member("short")] });
  blend.advance(Number.POSITIVE_INFINITY);
  const [long, short] = blend.results();
  expect(blend.pool.limits!.hits).toHaveLength(1);
  const { timeMs } = blend.pool.limits!.hits[0]!;
  for (const { trades, log } of [long!, short!]) {
    expect(trades.length).toBeGreaterThan(0);
    for (const { exitTime, reason } of trades) expect([exitTime, reason]).toEqual([timeMs, "account limit"]);
    expect(log.some(({ text }) => text.includes("drawdown limit is hit"))).toBe(true);
  }
});
