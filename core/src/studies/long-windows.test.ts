/** Long windows against windows computed afresh, on columns that are hard: huge values that leave, ties, values far from 0. */
import { describe, expect, test } from "vitest";
import { evaluateStudy } from "../language/expression.ts";
import { Random } from "../random.ts";
import { barsOf, walk } from "../testing/bars.ts";
import { DeviationWindow } from "./deviation-window.ts";
import { squaresOver, sumOver, weightedSumOver } from "./long-windows.ts";
import { OrderedWindow } from "./ordered-window.ts";
import { meanOf, varianceOf } from "./windows.ts";

const N = 700;
const generator = new Random(11);
const random = (): number => generator.next();
const COLUMNS: readonly (readonly [string, Float64Array])[] = [
  ["a walk", walk(N, 3).close],
  ["values about a million, a hundredth apart", Float64Array.from({ length: N }, () => 1e6 + Math.round(random() * 4) / 100)],
  ["huge values now and then", Float64Array.from({ length: N }, (_, i) => (i % 97 === 5 ? 1e12 : random()))],
  ["many ties and both zeros", Float64Array.from({ length: N }, (_, i) => (i % 9 === 0 ? -0 : Math.floor(random() * 3)))],
];
const LENGTHS = [1, 2, 3, 64, 65, 200, 699, 700];

/** Largest distance, relative to the values, between a column and its slow twin. */
function distance(fast: { values: Float64Array; first: number }, length: number, slow: (from: number, to: number) => number): number {
  expect(fast.first).toBe(length - 1);
  let worst = 0;
  for (let i = length - 1; i < N; i++) {
    const wanted = slow(i - length + 1, i);
    worst = Math.max(worst, Math.abs(fast.values[i]! - wanted) / Math.max(1e-300, Math.abs(wanted)));
  }
  return worst;
}

describe.each(COLUMNS)("%s", (_name, x) => {
  test.each(LENGTHS)("sums and weighted sums of %i", (length) => {
    const sum = (from: number, to: number): number => meanOf(x, from, to) * length;
    if (x.every((value) => value > 0))
      expect(
        distance(
          sumOver(N, 0, length, (i) => x[i]!),
          length,
          sum,
        ),
      ).toBeLessThan(1e-12);
    const weigh = (from: number, to: number): number => x.slice(from, to + 1).reduce((total, value, k) => total + (k + 1) * value, 0);
    expect(
      distance(
        weightedSumOver(x, 0, length, (total) => total),
        length,
        weigh,
      ),
    ).toBeLessThan(1e-12);
  });

  test.each(LENGTHS)("squares about the mean of %i", (length) => {
    const squares = squaresOver(x, 0, length, (value, mean) => value + 1e-9 * Math.abs(mean) ** 2);
    const slow = (from: number, to: number): number => varianceOf(x, from, to) * length + 1e-9 * meanOf(x, from, to) ** 2;
    expect(distance(squares, length, slow)).toBeLessThan(1e-10);
  });

  test.each(LENGTHS)("mean deviations in windows of %i", (length) => {
    const window = new DeviationWindow(x);
    for (let i = 0; i < N; i++) {
      window.add(i);
      if (i >= length) window.remove(i - length);
      if (i < length - 1) continue;
      // Large values added up lose the digits that matter here: distances from the first keep them.
      const held = x.slice(i - length + 1, i + 1).map((value) => value - x[i - length + 1]!);
      const middle = meanOf(held, 0, length - 1);
      const slow = held.reduce((total, value) => total + Math.abs(value - middle), 0) / length;
      const mean = middle + x[i - length + 1]!;
      const scale = 1e-6 * Math.max(...held.map(Math.abs));
      expect(Math.abs(window.mean - mean)).toBeLessThanOrEqual(1e-9 * (Math.abs(mean) + 1e-9));
      expect(Math.abs(window.meanDeviation - slow)).toBeLessThanOrEqual(1e-9 * Math.max(slow, scale, 1e-9));
    }
  });

  test.each(LENGTHS)("order in windows of %i, exactly", (length) => {
    const window = new OrderedWindow(x);
    for (let i = 0; i < N; i++) {
      window.add(i);
      if (i >= length) window.remove(i - length);
      if (i % 13 > 0) continue;
      const held = Array.from(x.slice(Math.max(0, i - length + 1), i + 1)).sort((a, b) => a - b);
      expect(window.below(i)).toBe(held.filter((value) => value < x[i]!).length);
      expect(window.equal(i)).toBe(held.filter((value) => value === x[i]!).length);
      for (const k of [0, held.length >> 1, held.length - 1]) expect(window.at(k) + 0).toBe(held[k]! + 0);
    }
  });
});

test("a value that is none has no place in the order, and no number is below it by accident", () => {
  const values = Float64Array.from([3, Number.NaN, 1, 2, Number.NaN]);
  const window = new OrderedWindow(values);
  for (let i = 0; i < values.length; i++) window.add(i);
  expect([0, 1, 2, 3].map((k) => window.at(k))).toEqual([1, 2, 3, Number.NaN]);
  expect([window.below(0), window.below(2), window.equal(3)]).toEqual([2, 0, 1]);
});

test("windows longer than the bars give no value and no error", () => {
  const bars = barsOf(Array.from({ length: 80 }, (_, i) => [i + 1, i + 1, i + 1, i + 1] as const));
  for (const study of [
    "wma(close, 90)",
    "medianOf(close, 90)",
    "cci(90)",
    "percentRank(close, 90)",
    "standardDeviation(close, 90)",
    "sumOf(close, 90)",
  ])
    expect(evaluateStudy(study, bars).values.every(Number.isNaN)).toBe(true);
});
