/** What is told by itself on a market's chart: where a column belongs, what a distance is, what a drag marks. */
import { expressionOf, STUDIES } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { distanceWords, markOf, onGrid } from "./measure.ts";
import { isAmongPrices, studyPanes } from "./study-panes.ts";
import { problemOf } from "./study-problem.ts";
import type { StudyColumn } from "./use-study-columns.ts";

const FACTS = { tickSize: 0.25, decimals: 2, pointValue: 50, currency: "XSC" };
const TIME = Float64Array.from({ length: 40 }, (_none, i) => i * 900_000);
const column = (value: (k: number) => number): Float64Array => Float64Array.from({ length: 100 }, (_none, k) => value(k));
const prices = { high: column((k) => 110 + (k % 9)), low: column((k) => 100 + (k % 9)) };

test("distances are told in bars, time, price, ticks, percent and money, of prices that can be had", () => {
  const words = distanceWords({ from: { index: 2, value: 100.1 }, to: { index: 14, value: 104.3 } }, TIME, FACTS);
  expect(words).toBe("12 bars, 3 h 0 min · +4.25 to 104.25: 17 ticks, 4.25 %, 212.50 XSC a unit");
  expect(onGrid(0.3, { tickSize: 0.1, decimals: 1 })).toBe(0.3);
});

describe("a mark", () => {
  test("gets in where a drag begins and out where it ends, from left to right whichever way it was dragged", () => {
    const [a, b] = [
      { index: 3, value: 100.1 },
      { index: 9, value: 101.9 },
    ];
    const expected = { side: -1, entryMs: 2_700_000, entryPrice: 100, exitMs: 8_100_000, exitPrice: 102 };
    expect(markOf({ from: a, to: b }, -1, TIME, FACTS)).toMatchObject(expected);
    expect(markOf({ from: b, to: a }, -1, TIME, FACTS)).toMatchObject(expected);
  });
  test("has no exit where one only clicks", () => {
    const at = { index: 3, value: 100.1 };
    expect(markOf({ from: at, to: at }, 1, TIME, FACTS)).toMatchObject({ side: 1, entryMs: 2_700_000, exitMs: null, exitPrice: null });
  });
});

describe("a column is drawn", () => {
  test.each<[string, (k: number) => number, boolean]>([
    ["over the prices where it moves among them", (k) => 104 + Math.sin(k), true],
    ["over them although it warms up", (k) => (k < 30 ? Number.NaN : 105), true],
    ["below where it does not", (k) => 50 + Math.sin(k), false],
    ["below where it only crosses them", (k) => k * 30, false],
    ["below where it has no value yet", () => Number.NaN, false],
  ])("%s", (_what, value, expected) => {
    expect(isAmongPrices(column(value), prices)).toBe(expected);
  });

  test("conditions are rows of one pane, what can't be computed is not drawn", () => {
    const of = (study: string, kind: StudyColumn["kind"], values: Float64Array | null): StudyColumn => ({
      study,
      kind,
      values,
      problem: "",
    });
    const { over, below } = studyPanes(
      [
        of(
          "a",
          "number",
          column(() => 105),
        ),
        of(
          "b",
          "condition",
          column((k) => k % 2),
        ),
        of(
          "c",
          "crossing",
          column((k) => k % 3),
        ),
        of("d", null, null),
        of(
          "e",
          "number",
          column(() => 3),
        ),
      ],
      prices,
      2,
    );
    expect(over).toHaveLength(1);
    expect(below.map(({ id, rows }) => [id, rows])).toEqual([
      ["own1", undefined],
      ["conditions", 2],
    ]);
  });
});

describe("what is written as a study", () => {
  test.each<[string, RegExp | null]>([
    ["ema(close, 20)", null],
    ["close crosses above sma(close, 20) and rsi(close, 14) < 30", null],
    ["ema(close", /Can't read/],
    ["nothing(close)", /There is no study "nothing"/],
    ["ema(close, 0)", /ema/],
  ])("%s", (text, problem) => {
    if (problem === null) expect(problemOf(text)).toBeNull();
    else expect(problemOf(text)).toMatch(problem);
  });
  test("every study of the library, and each of its columns, is one", () => {
    expect(STUDIES.length).toBeGreaterThan(80);
    for (const study of STUDIES) for (const output of study.outputs) expect(problemOf(expressionOf(study, output)), study.name).toBeNull();
  });
});
