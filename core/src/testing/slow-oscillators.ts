/** Slow twins of oscillators: each value from its definition alone. */
import type { BarSeries } from "../market/bars.ts";
import { type List, meanOf, slowEma, sumOf, windowOf, windows, zip } from "./slow-lists.ts";

export function oscillatorTwins(bars: BarSeries): readonly (readonly [string, List])[] {
  const [high, low, close] = [bars.high, bars.low, bars.close].map((column) => Array.from(column)) as [number[], number[], number[]];
  const indices = close.map((_value, i) => i);
  const top = (i: number, span: number): number => Math.max(...windowOf(high, i, span));
  const bottom = (i: number, span: number): number => Math.min(...windowOf(low, i, span));
  const from = (first: number, value: (i: number) => number): number[] => indices.map((i) => (i < first ? Number.NaN : value(i)));
  const range = (i: number): number => Math.max(high[i]!, close[i - 1] ?? 0) - Math.min(low[i]!, close[i - 1] ?? Number.POSITIVE_INFINITY);
  const ranges = indices.map((i) => (i === 0 ? high[0]! - low[0]! : range(i)));
  const lastOf = (i: number, span: number): number[] => indices.slice(i - span + 1, i + 1);
  const changes = from(1, (i) => close[i]! - close[i - 1]!);
  const twice = (values: List): number[] => slowEma(slowEma(values, 6, 1), 4, 6);
  const strength = zip(twice(changes), twice(changes.map(Math.abs)), (a, b) => (100 * a) / b);
  const middles = zip(high, low, (a, b) => (a + b) / 2);
  const bought = (span: number, i: number): number =>
    sumOf(lastOf(i, span).map((k) => close[k]! - Math.min(low[k]!, close[k - 1]!))) / sumOf(lastOf(i, span).map((k) => ranges[k]!));

  let [smoothed, transformed] = [0, 0];
  const fisher = from(9, (i) => {
    const window = windowOf(close, i, 10);
    const [most, least] = [Math.max(...window), Math.min(...window)];
    const place = (close[i]! - least) / (most - least);
    smoothed = Math.min(0.999, Math.max(-0.999, 0.66 * (place - 0.5) + 0.67 * smoothed));
    transformed = Math.atanh(smoothed) + 0.5 * transformed;
    return transformed;
  });

  return [
    ["percentRange(14)", from(13, (i) => -100 + (100 * (close[i]! - bottom(i, 14))) / (top(i, 14) - bottom(i, 14)))],
    [
      "riseFall(close, 14)",
      from(14, (i) => {
        const moves = lastOf(i, 14).map((k) => changes[k]!);
        return (100 * sumOf(moves)) / sumOf(moves.map(Math.abs));
      }),
    ],
    ["trueStrength(close, 6, 4, 5)", strength],
    ["trueStrength(close, 6, 4, 5).signal", slowEma(strength, 5, 9)],
    [
      "vortex(14)",
      from(14, (i) => sumOf(lastOf(i, 14).map((k) => Math.abs(high[k]! - low[k - 1]!))) / sumOf(lastOf(i, 14).map((k) => ranges[k]!))),
    ],
    [
      "vortex(14).minus",
      from(14, (i) => sumOf(lastOf(i, 14).map((k) => Math.abs(low[k]! - high[k - 1]!))) / sumOf(lastOf(i, 14).map((k) => ranges[k]!))),
    ],
    [
      "choppiness(14)",
      from(13, (i) => (100 * Math.log10(sumOf(lastOf(i, 14).map((k) => ranges[k]!)) / (top(i, 14) - bottom(i, 14)))) / Math.log10(14)),
    ],
    ["midMomentum(5, 34)", from(33, (i) => meanOf(windowOf(middles, i, 5)) - meanOf(windowOf(middles, i, 34)))],
    ["threeSpan(7, 14, 28)", from(28, (i) => (100 * (4 * bought(7, i) + 2 * bought(14, i) + bought(28, i))) / 7)],
    ["fisher(close, 10)", fisher],
    ["detrended(close, 20)", from(19, (i) => close[i - 11]! - meanOf(windowOf(close, i, 20)))],
    ["detrended(close, 2)", windows(close, 2, 1, (window, i) => close[i - 2]! - meanOf(window))],
  ];
}
