/** Columns and conditions of a plan on bars that come one by one: to the last bit what they are on all of them at once. */
import { expect, test } from "vitest";
import { LiveMarket } from "../live/live-market.ts";
import { minuteOf } from "../market/bar-frame.ts";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { resample } from "../market/resample.ts";
import { INSTRUMENT, walk } from "../testing/bars.ts";
import { words } from "../testing/run.ts";
import { type Column, Condition, entryOf, flagsOf } from "./columns.ts";
import { PlanBars } from "./market.ts";
import { newRunScope, newScope } from "./scope.ts";
import { bitsOf, refreshStores, StudyStore } from "./study-store.ts";

const instrument = { ...INSTRUMENT, calendar: ALWAYS_OPEN };
const minutes = walk(4000, 3);
const HISTORY = 1500;

/** Everything that a plan can declare, on bars of five minutes and of half an hour. */
function declared(bars: PlanBars): readonly (Column | Condition)[] {
  const { sma, ema, rsi, stepwise, larger, smaller, choose, becomes, countOf, isRising, isFalling, isBetween, barsSince } = words;
  const longer = bars.at("30m");
  const [fast, slow, daily] = [ema(bars.close, 4), sma(bars.close, 9), ema(longer.close, 3)];
  const [above, up] = [words.isAbove(fast, slow), words.crossesAbove(fast, slow)];
  const never = words.isAbove(bars.close, 1e9);
  const late = words.isAbove(
    bars.close,
    minutes.close.subarray(0, HISTORY).reduce((a, b) => Math.max(a, b), 0),
  );
  return [
    ...[fast, slow, daily, rsi(bars.close, 5), rsi(longer.close, 2)],
    ...[fast.plus(slow), fast.minus(1), fast.times(daily), fast.over(slow), fast.minus(slow).abs(), fast.earlier(3)],
    ...[larger(fast, daily), smaller(daily, 100), choose(above, fast, daily)],
    ...[above, up, words.crossesBelow(fast, slow), words.crosses(bars.close, daily), words.crossesAbove(longer.close, daily)],
    ...[words.isBelow(fast, daily), words.isAtOrAbove(bars.close, slow), words.isAtOrBelow(bars.close, 99)],
    ...[above.not(), above.and(up), above.or(words.isBelow(daily, slow)), becomes(above), isBetween(bars.close, slow, fast, "both")],
    ...[isRising(bars.close, 1), isRising(fast, 3), isFalling(bars.close, 2), countOf(above, 7), countOf(words.isAbove(daily, 1), 4)],
    ...[barsSince(up), barsSince(never), barsSince(late)],
    ...[words.valueWhen(up, bars.close), words.highestSince(up, bars.high), words.lowestSince(late, daily), words.valueWhen(never, fast)],
    stepwise([bars.close, daily], () => {
      let sum = 0;
      return (close: number, average: number) => {
        sum = 0.9 * sum + close - average;
        return sum;
      };
    }),
  ];
}

function on(series: BarSeries) {
  const store = new StudyStore(series);
  const made = declared(new PlanBars(newScope(newRunScope(), "", store, null), instrument));
  return { store, made };
}

const valuesOf = (one: Column | Condition): { first: number; values: ArrayLike<number> } =>
  one instanceof Condition
    ? { first: flagsOf(one).first, values: bitsOf(flagsOf(one)) }
    : { first: entryOf(one).first, values: entryOf(one).values };

test("bars that come one by one", () => {
  const whole = on(resample(minutes, "5m").series);
  const market = new LiveMarket(instrument, resample(sliceSeries(minutes, 0, HISTORY), "5m").series, undefined, minutes.time[HISTORY]!);
  const { store, made } = on(market.bars.series);
  market.follow([...store.higherStores.keys()], minutes.time[HISTORY]!);
  const grow = (): void =>
    refreshStores([
      { store, bars: market.bars.series },
      ...[...market.higher].map(([timeframe, bars]) => ({ store: store.higher(timeframe), bars })),
    ]);
  grow();
  let checked = 0;
  for (let i = HISTORY; i < minutes.length; i++) {
    market.add(minuteOf(minutes, i));
    if (!market.completeBy(minutes.closeTime[i]!)) continue;
    grow();
    const { completed } = market.bars;
    made.forEach((one, k) => {
      const [now, then] = [valuesOf(one), valuesOf(whole.made[k]!)];
      const isLonger = now.values.length < completed;
      const end = isLonger ? store.higher("30m").bars.length - 1 : completed;
      if (now.first < end) expect(now.first, String(one)).toBe(then.first);
      for (let j = isLonger ? end - 1 : Math.max(0, checked - 1); j < end; j++)
        expect(now.values[j], `${String(one)} at ${j} of ${end}`).toBe(then.values[j]);
    });
    checked = completed;
  }
  expect(checked).toBe(minutes.length / 5);
  made.forEach((one, k) => {
    const [now, then] = [valuesOf(one), valuesOf(whole.made[k]!)];
    const end = now.values.length - 1;
    expect(Array.from(now.values).slice(0, end), String(one)).toEqual(Array.from(then.values).slice(0, end));
  });
});
