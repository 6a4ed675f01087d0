/** Every study against a slow, plainly written twin; warm-up, prefix and drift laws over all of them. */
import { describe, expect, test } from "vitest";
import { evaluateStudy } from "../language/expression.ts";
import type { BarSeries } from "../market/bars.ts";
import { sliceSeries } from "../market/bars.ts";
import { walk } from "../testing/bars.ts";
import { STUDIES, studyNamed } from "./catalogue.ts";
import type { ColumnValues, StudyDefinition } from "./definition.ts";

const bars = walk(400, 5);
const close = Array.from(bars.close);

const meanOf = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
const windowOf = (values: readonly number[], i: number, span: number): number[] => values.slice(i - span + 1, i + 1);

function slowSmooth(values: readonly number[], span: number, alpha: number, from = 0): number[] {
  const out: number[] = values.map(() => Number.NaN);
  out[from + span - 1] = meanOf(values.slice(from, from + span));
  for (let i = from + span; i < values.length; i++) out[i] = alpha * values[i]! + (1 - alpha) * out[i - 1]!;
  return out;
}
const slowEma = (values: readonly number[], span: number, from = 0): number[] => slowSmooth(values, span, 2 / (span + 1), from);
const slowDeviation = (values: readonly number[]): number => Math.sqrt(meanOf(values.map((value) => (value - meanOf(values)) ** 2)));
const slowTrueRange = Array.from(bars.close, (_c, i) =>
  i === 0
    ? bars.high[0]! - bars.low[0]!
    : Math.max(bars.high[i]! - bars.low[i]!, Math.abs(bars.high[i]! - close[i - 1]!), Math.abs(bars.low[i]! - close[i - 1]!)),
);
const rolling = (span: number, fold: (values: number[]) => number): number[] =>
  close.map((_c, i) => (i < span - 1 ? Number.NaN : fold(windowOf(close, i, span))));

function slowRsi(span: number): number[] {
  const changes = close.map((value, i) => (i === 0 ? 0 : value - close[i - 1]!));
  const gains = slowSmooth(
    changes.map((change) => Math.max(change, 0)),
    span,
    1 / span,
    1,
  );
  const losses = slowSmooth(
    changes.map((change) => Math.max(-change, 0)),
    span,
    1 / span,
    1,
  );
  return gains.map((gain, i) => (gain + losses[i]! === 0 ? 50 : 100 - 100 / (1 + gain / losses[i]!)));
}

const minus = (a: readonly number[], b: readonly number[]): number[] => a.map((value, i) => value - b[i]!);
const macdLine = minus(slowEma(close, 12), slowEma(close, 26));
const macdSignal = slowEma(macdLine, 9, 25);
const sessionFold = (fold: (values: readonly number[]) => number, column: Float64Array): number[] =>
  Array.from(column, (_value, i) => {
    let start = i;
    while (start > 0 && bars.session[start - 1] === bars.session[i]) start--;
    return fold(Array.from(column.subarray(start, i + 1)));
  });

/** Expression, and the column its twin makes. */
const TWINS: readonly (readonly [string, readonly number[]])[] = [
  ["sma(close, 20)", rolling(20, meanOf)],
  ["sma(close, 1)", close],
  ["ema(close, 20)", slowEma(close, 20)],
  ["wilder(close, 14)", slowSmooth(close, 14, 1 / 14)],
  ["rsi(close, 14)", slowRsi(14)],
  ["trueRange()", slowTrueRange],
  ["atr(14)", slowSmooth(slowTrueRange, 14, 1 / 14)],
  ["standardDeviation(close, 20)", rolling(20, slowDeviation)],
  ["bollinger(close, 20, 2)", rolling(20, meanOf)],
  ["bollinger(close, 20, 2).upper", rolling(20, (values) => meanOf(values) + 2 * slowDeviation(values))],
  ["bollinger(close, 20, 2).lower", rolling(20, (values) => meanOf(values) - 2 * slowDeviation(values))],
  ["macd(close, 12, 26, 9)", macdLine],
  ["macd(close, 12, 26, 9).signal", macdSignal],
  ["macd(close, 12, 26, 9).histogram", minus(macdLine, macdSignal)],
  ["highest(close, 10)", rolling(10, (values) => Math.max(...values))],
  ["lowest(close, 10)", rolling(10, (values) => Math.min(...values))],
  ["highest(close, 10)[1]", [Number.NaN, ...rolling(10, (values) => Math.max(...values)).slice(0, -1)]],
  ["sessionOpen()", sessionFold((values) => values[0]!, bars.open)],
  ["sessionHigh()", sessionFold((values) => Math.max(...values), bars.high)],
  ["sessionLow()", sessionFold((values) => Math.min(...values), bars.low)],
  ["barsSinceOpen()", sessionFold((values) => values.length, bars.open)],
  ["ema(ema(close, 5), 8)", slowEma(slowEma(close, 5), 8, 4)],
];

function defaults(definition: StudyDefinition, series: BarSeries): readonly ColumnValues[] {
  const columns = definition.inputs.filter((input) => input.kind === "column").map(() => ({ values: series.close, first: 0 }));
  const numbers = definition.inputs.flatMap((input) => (input.kind === "number" ? [input.default] : []));
  return definition.compute({ bars: series, columns, numbers });
}

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
    expect(STUDIES.length).toBeGreaterThanOrEqual(15);
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

test("a spike of 1e12 leaves no trace in a window that has passed it", () => {
  const spiked = { ...walk(2000, 9), close: walk(2000, 9).close.slice() };
  const clean = walk(2000, 9);
  spiked.close[100] = 1e12;
  for (const expression of ["sma(close, 20)", "standardDeviation(close, 20)", "bollinger(close, 20, 2).upper"]) {
    const [with_, without] = [evaluateStudy(expression, spiked).values, evaluateStudy(expression, clean).values];
    for (let i = 120 + 256; i < 2000; i++) expect(Math.abs(with_[i]! - without[i]!), `${expression} at ${i}`).toBeLessThan(1e-9);
  }
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
