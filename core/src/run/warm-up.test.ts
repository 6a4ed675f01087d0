/** R2.7: bars ahead of a period warm studies up, and handlers start with the period's first bar. */
import { describe, expect, test } from "vitest";
import { resolveSettings } from "../engine/settings.ts";
import { StudyStore } from "../language/study-store.ts";
import { makeSeries, sliceSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { INSTRUMENT, START, walk } from "../testing/bars.ts";
import { type Build, declare, words } from "../testing/run.ts";
import { Backtest } from "./backtest.ts";
import { Trace } from "./trace.ts";
import { runVariant, SWEEP_FIGURES, sweepFigures } from "./variant.ts";

const { crossesAbove, ema, sma, ticks } = words;
const LEAD = 300;
const { time, ...columns } = walk(1200, 21);
const whole = makeSeries({ ...columns, time: time.map((_t, i) => START + i * 3_600_000) }, "1h", ALWAYS_OPEN);
const period = sliceSeries(whole, LEAD, whole.length);

const feedOf = (lead: number, symbol: string) => ({
  instrument: { ...INSTRUMENT, symbol },
  store: new StudyStore(lead > 0 ? whole : period),
  finer: null,
  lead,
  period,
});
const optionsOf = (build: Build, lead: number, symbols: readonly string[] = ["TEST"]) => ({
  plan: declare(build),
  freshPlan: () => declare(build),
  inputs: {},
  feeds: symbols.map((symbol) => feedOf(lead, symbol)),
  settings: resolveSettings({}),
});
function run(build: Build, lead = LEAD, symbols?: readonly string[]) {
  const backtest = new Backtest(optionsOf(build, lead, symbols));
  backtest.advance(period.length);
  return backtest.result();
}

const crossing: Build = ({ bars, when, enter, position, show }) => {
  const slow = sma(bars.close, 200);
  show(slow, { label: "Slow" });
  when(crossesAbove(ema(bars.close, 5), slow), () => position.flat && enter.long({ stopLoss: ticks(12), target: ticks(20), tag: "up" }));
};

test("handlers act from the first bar, at its open and at its close, with every study full", () => {
  const told: string[] = [];
  const build: Build = ({ bars, on, log }) => {
    const slow = sma(bars.close, 200);
    on.start(() => told.push("start"));
    on.barClose(() => log(String(slow.now)));
  };
  const { log, firstBar, barsDone, equity } = run(build);
  expect([told, firstBar, barsDone, equity.length]).toEqual([["start"], 0, period.length, period.length]);
  expect(log.length).toBe(period.length);
  expect(log[0]!.barIndex).toBe(0);
  const mean = whole.close.slice(LEAD - 199, LEAD + 1).reduce((sum, close) => sum + close, 0) / 200;
  expect(Number(log[0]!.text)).toBeCloseTo(mean, 9);
  // Without earlier bars it waits for them, and says from when.
  expect(run(build, 0)).toMatchObject({ firstBar: 199 });
});

test("everything that is reported is numbered from the period's first bar", () => {
  const { trades, orders, fills, plots, figures, daily, benchmarkFigures } = run(crossing);
  expect(trades.length).toBeGreaterThan(3);
  for (const trade of trades) {
    expect(period.time[trade.entryBar]).toBe(trade.entryTime);
    for (const { barIndex } of trade.rails) expect(barIndex).toBeGreaterThanOrEqual(trade.entryBar);
  }
  for (const order of orders) expect(period.closeTime[order.submittedBar]).toBe(order.submittedTime);
  for (const fill of fills) expect(period.time[fill.barIndex]).toBe(fill.timeMs);
  expect(plots[0]!.values.length).toBe(period.length);
  expect(plots[0]!.values.every(Number.isFinite)).toBe(true);
  expect(daily.dates[0]).toBe(period.sessions.dates[period.session[0]!]);
  expect(benchmarkFigures.totalReturn).toBeCloseTo(period.close.at(-1)! / period.open[0]! - 1, 12);
  expect(figures.exposure).toBeLessThan(1);
});

test("a variant of a sweep has the figures of the run", () => {
  const out = new Float64Array(SWEEP_FIGURES.length);
  runVariant(optionsOf(crossing, LEAD), out, 0);
  const whole = sweepFigures(run(crossing));
  expect(whole.filter(Number.isNaN).length).toBeLessThan(3);
  SWEEP_FIGURES.forEach((figure, i) => {
    if (Number.isNaN(whole[i]!)) expect(out[i], figure).toBeNaN();
    else expect(out[i], figure).toBeCloseTo(whole[i]!, 9);
  });
});

test("several instruments: the curve begins with the period, both act from its start", () => {
  const build: Build = ({ markets }) => {
    for (const one of markets) {
      const slow = sma(one.bars.close, 150);
      one.onBarClose(() => {
        if (one.position.flat) one.enter.long({ stopLoss: ticks(15), tag: slow.now > 0 ? "full" : "empty" });
      });
    }
  };
  const { trades, equity, barsDone } = run(build, LEAD, ["TEST", "NEXT"]);
  expect([equity.length, barsDone]).toEqual([period.length, period.length]);
  expect(new Set(trades.map(({ entryTag }) => entryTag))).toEqual(new Set(["full"]));
  for (const symbol of ["TEST", "NEXT"]) {
    const first = trades.find((trade) => trade.symbol === symbol)!;
    expect([first.entryBar, first.entryTime]).toEqual([1, period.time[1]]);
  }
  expect(equity.at(-1)! - 100_000).toBeCloseTo(
    trades.reduce((sum, { net }) => sum + net, 0),
    6,
  );
});

describe("a run looked into", () => {
  test("steps through bars of the period", () => {
    const trace = new Trace([], []);
    trace.run(optionsOf(crossing, LEAD), { from: 0, to: period.length - 1 }, () => undefined);
    const { trades } = run(crossing);
    const opened = trace.steps()!.events.filter(({ kind }) => kind === "opened");
    expect(opened.map(({ barIndex }) => barIndex)).toEqual(trades.map(({ entryBar }) => entryBar));
    expect(trace.steps()!.closeStates.length).toBe(period.length);
  });
});
