/** Plain lists, written for reading: what the slow twins of studies are made of. */

export type List = readonly number[];

export const meanOf = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
export const windowOf = (values: readonly number[], i: number, span: number): number[] => values.slice(i - span + 1, i + 1);

export function slowSmooth(values: readonly number[], span: number, alpha: number, from = 0): number[] {
  const out: number[] = values.map(() => Number.NaN);
  out[from + span - 1] = meanOf(values.slice(from, from + span));
  for (let i = from + span; i < values.length; i++) out[i] = alpha * values[i]! + (1 - alpha) * out[i - 1]!;
  return out;
}
export const slowEma = (values: readonly number[], span: number, from = 0): number[] => slowSmooth(values, span, 2 / (span + 1), from);
export const slowDeviation = (values: readonly number[]): number => Math.sqrt(meanOf(values.map((value) => (value - meanOf(values)) ** 2)));

/** Value of each window of `span` values that is full from `from` on. */
export const windows = (values: List, span: number, from: number, fold: (window: number[], i: number) => number): number[] =>
  values.map((_value, i) => (i < from + span - 1 ? Number.NaN : fold(windowOf(values, i, span), i)));
export const slowWma = (values: List, span: number, from = 0): number[] =>
  windows(values, span, from, (window) => window.reduce((sum, value, k) => sum + value * (k + 1), 0) / ((span * (span + 1)) / 2));
export const zip = (a: List, b: List, fold: (x: number, y: number) => number): number[] => a.map((value, i) => fold(value, b[i]!));
export const back = (values: List, bars: number, fold: (now: number, then: number) => number): number[] =>
  values.map((value, i) => (i < bars ? Number.NaN : fold(value, values[i - bars]!)));
export const sumOf = (values: List): number => values.reduce((sum, value) => sum + value, 0);
export const rankOf = (window: List): number => {
  const before = window.slice(0, -1);
  const x = window.at(-1)!;
  return (100 * (before.filter((value) => value < x).length + before.filter((value) => value === x).length / 2)) / before.length;
};
