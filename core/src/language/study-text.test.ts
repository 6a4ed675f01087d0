/** A study beside bars has, on each of them, what a plan that asks for it there is told. */
import { describe, expect, test } from "vitest";
import { tradedWalk } from "../testing/bars.ts";
import { backtestOf } from "../testing/run.ts";
import { readColumn, readCondition } from "./expression.ts";
import { splitStudyText, studyColumn } from "./study-text.ts";

const BARS = tradedWalk(600, 5);

describe("the text of a study", () => {
  test.each<[string, string, string | null]>([
    ["ema(close, 20)", "ema(close, 20)", null],
    ["ema(close, 20) on 1d", "ema(close, 20)", "1d"],
    ["  close > open   on 4h ", "close > open", "4h"],
    ["bollinger(close, 20, 2).upper on 1w", "bollinger(close, 20, 2).upper", "1w"],
  ])("%s", (text, expression, timeframe) => {
    expect(splitStudyText(text)).toEqual({ expression, timeframe });
  });
});

test.each(["ema(close, 9)", "rsi(close, 5)[2]", "high - low"])("%s, on the bars and on longer ones, is what a plan reads", (expression) => {
  for (const timeframe of [null, "1h"]) {
    const seen: number[] = [];
    const backtest = backtestOf(BARS, ({ bars, on }) => {
      const column = readColumn(expression, timeframe ? bars.at(timeframe) : bars);
      on.barClose(() => void seen.push(column.now));
    });
    backtest.advance(BARS.length);
    const { values, first, kind } = studyColumn(timeframe ? `${expression} on ${timeframe}` : expression, BARS);
    expect(kind).toBe("number");
    expect(seen.length).toBeGreaterThan(500);
    expect([...values.slice(-seen.length)]).toEqual(seen);
    expect(values.findIndex((value) => !Number.isNaN(value))).toBe(first);
  }
});

test("a crossing of longer bars is told on the bar at whose close it happens, and on no other", () => {
  const text = "close crosses above sma(close, 4)";
  const acted: number[] = [];
  const backtest = backtestOf(BARS, ({ bars, when, clock }) => {
    when(readCondition(text, bars.at("1h")), () => acted.push(clock.timeMs));
  });
  backtest.advance(BARS.length);
  const { values, kind } = studyColumn(`${text} on 1h`, BARS);
  expect(kind).toBe("crossing");
  expect(acted.length).toBeGreaterThan(5);
  expect([...BARS.closeTime].filter((_time, i) => values[i] === 1)).toEqual(acted);
});

test("nothing is known ahead: with later bars cut off the column is the same", () => {
  const text = "sma(close, 3) on 1h";
  const { values } = studyColumn(text, BARS);
  for (const length of [50, 233, 400]) {
    const cut = tradedWalk(length, 5);
    expect([...studyColumn(text, cut).values]).toEqual([...values.slice(0, length)]);
  }
});

test.each<[string, RegExp]>([
  ["ema(close", /Can't read/],
  ["ema(close, 20) on 1s", /"1s"/],
  ["close on 1m", /1m is shorter than the bars of 30m/],
  ["", /nothing is written here/],
  ["constructor(close)", /There is no study "constructor"/],
  ["toString(close)", /There is no study "toString"/],
  ["close constructor close", /should end here/],
])("%s is refused in words", (text, message) => {
  expect(() => studyColumn(text, BARS)).toThrow(message);
});
