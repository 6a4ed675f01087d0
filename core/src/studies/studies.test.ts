/** Every study against a slow, plainly written twin; warm-up, prefix and drift laws over all of them. */
import { describe, expect, test } from "vitest";
import { evaluateStudy } from "../language/expression.ts";
import type { BarSeries } from "../market/bars.ts";
import { sliceSeries } from "../market/bars.ts";
import { barsOf, tradedWalk } from "../testing/bars.ts";
import { twinsOf } from "../testing/slow-studies.ts";
import { STUDIES, studyNamed } from "./catalogue.ts";
import type { ColumnValues, StudyDefinition } from "./definition.ts";

const bars = tradedWalk(400, 5);
const TWINS = twinsOf(bars);

function defaults(definition: StudyDefinition, series: BarSeries): readonly ColumnValues[] {
  const columns = definition.inputs.filter((input) => input.kind === "column").map(() => ({ values: series.close, first: 0 }));
  const numbers = definition.inputs.flatMap((input) => (input.kind === "number" ? [input.default] : []));
  return definition.compute({ bars: series, columns, numbers });
}

const settleOf = (study: StudyDefinition): number =>
  study.settle(study.inputs.flatMap((input) => (input.kind === "number" ? [input.default] : [])));

describe("studies equal their slow twins", () => {
  test.each(TWINS)("%s", (expression, twin) => {
    const { values, first } = evaluateStudy(expression, bars);
    expect(values.length).toBe(bars.length);
    expect(values.findIndex((value) => !Number.isNaN(value))).toBe(first);
    for (let i = 0; i < values.length; i++)
      if (i < first) expect(values[i]).toBeNaN();
      else expect(Math.abs(values[i]! - twin[i]!), `${expression} at ${i}`).toBeLessThan(1e-9 * Math.max(1, Math.abs(twin[i]!)));
  });

  test("every study has a twin", () => {
    const covered = new Set(TWINS.map(([expression]) => expression.split("(")[0]));
    expect(STUDIES.map(({ name }) => name).filter((name) => !covered.has(name))).toEqual([]);
    expect(STUDIES.length).toBeGreaterThanOrEqual(60);
  });
});

describe("a price that stands still", () => {
  const still = barsOf(Array.from({ length: 200 }, () => [100.1, 100.1, 100.1, 100.1] as const));

  test.each([
    ["sma(close, 20)", 100.1],
    ["sma(close, 7)", 100.1],
    ["sma(close, 150)", 100.1],
    ["ema(close, 20)", 100.1],
    ["wilder(close, 14)", 100.1],
    ["wma(close, 20)", 100.1],
    ["wma(close, 150)", 100.1],
    ["hull(close, 16)", 100.1],
    ["vwma(close, volume, 20)", 100.1],
    ["medianOf(close, 150)", 100.1],
    ["regression(close, 20)", 100.1],
    ["regression(close, 150)", 100.1],
    ["regression(close, 20).slope", 0],
    ["adaptiveAverage(close, 10, 2, 30)", 100.1],
    ["bollinger(close, 20, 2).upper", 100.1],
    ["bollinger(close, 150, 2).lower", 100.1],
    ["standardDeviation(close, 20)", 0],
    ["standardDeviation(close, 150)", 0],
    ["zScore(close, 150)", 0],
    ["zScore(close, 20)", 0],
    ["cci(20)", 0],
    ["correlation(close, high, 50)", 0],
    ["beta(close, high, 50)", 0],
  ])("gives %s its neutral value, to the last bit", (expression, neutral) => {
    const { values, first } = evaluateStudy(expression, still);
    expect(first).toBeLessThan(160);
    for (let i = first; i < values.length; i++) expect(values[i]).toBe(neutral);
  });

  test("also after it has moved: no rounding is left in the running sum", () => {
    const rows = Array.from({ length: 200 }, (_none, i) => (i < 50 ? 100 + (i % 7) * 0.1 : 100.1));
    const { values } = evaluateStudy("sma(close, 20)", barsOf(rows.map((price) => [price, price, price, price] as const)));
    for (let i = 70; i < 200; i++) expect(values[i]).toBe(100.1);
  });
});

describe.each(STUDIES.map((study) => [study.name, study] as const))("%s", (_name, study) => {
  test("says what it is", () => {
    for (const text of [study.summary, study.formula, study.warmUp, study.source]) expect(text.length).toBeGreaterThan(3);
    expect(study.outputs.length).toBeGreaterThan(0);
  });

  test("sees nothing ahead: a prefix of the bars gives a prefix of the values", () => {
    const whole = defaults(study, bars);
    for (const length of [30, 57, 399]) {
      const part = defaults(study, sliceSeries(bars, 0, length));
      for (const [output, { values }] of part.entries()) expect(values).toEqual(whole[output]!.values.slice(0, length));
    }
  });

  test("is all NaN, not an error, on fewer bars than its warm-up", () => {
    const short = sliceSeries(bars, 0, 3);
    for (const { values, first } of defaults(study, short)) {
      expect(values.length).toBe(3);
      for (let i = 0; i < Math.min(3, first); i++) expect(values[i]).toBeNaN();
    }
  });
});

describe("a spike of 1e12 leaves no trace once all it could reach has passed", () => {
  const clean = tradedWalk(6000, 9);
  const spiked = { ...clean, close: clean.close.slice(), high: clean.high.slice() };
  spiked.close[300] = 1e12;
  spiked.high[300] = 1e12;
  // What remembers all of its history keeps the spike by its definition; all others forget it after their settling time.
  const forgetful = STUDIES.filter((study) => Number.isFinite(settleOf(study)));
  test.each(forgetful.map((study) => [study.name, study] as const))("%s", (_name, study) => {
    // A running sum is summed afresh every 256 bars. A weight of 1 / n has shrunk 1e12 below 1e-9 after 49 n bars.
    const from = 300 + Math.min(Math.ceil(1.5 * settleOf(study)), 4000) + 256;
    const [touched, untouched] = [defaults(study, spiked), defaults(study, clean)];
    for (const [output, { values }] of untouched.entries()) {
      const late = Array.from(values.keys()).slice(from);
      const remembers = late.find((i) => !(Math.abs(touched[output]!.values[i]! - values[i]!) < 1e-7 * Math.max(1, Math.abs(values[i]!))));
      expect(remembers, `${study.outputs[output]}: first bar that still knows of the spike`).toBeUndefined();
    }
  });
});

describe("expressions that can't be read say where", () => {
  test.each([
    ["ema(close", '"," or ")" is expected'],
    ["eam(close, 20)", 'no study "eam"'],
    ["ema(close, 0)", "span is 0"],
    ["ema(close, 2.5)", "whole number"],
    ["ema(20)", "takes 1 column"],
    ["bollinger(close, 20, 2).top", "one of middle, upper, lower"],
    ["highest(high, 10)[-1]", "whole number of bars back"],
    ["ema(close, 20) 7", "should end here"],
    ["close ! 1", "unexpected character"],
  ])("%s", (expression, message) => {
    expect(() => evaluateStudy(expression, bars)).toThrow(message);
  });
});

test("studyNamed lists what there is", () => {
  expect(() => studyNamed("nothing")).toThrow(/There are: sma, ema/);
});
