/** Slow twins of statistics: volatility from ranges, quantiles, shape, reversion. */
import type { BarSeries } from "../market/bars.ts";
import { back, type List, meanOf, slowDeviation, sumOf, windowOf, windows, zip } from "./slow-lists.ts";

const moment = (window: List, power: number): number =>
  meanOf(window.map((value) => ((value - meanOf(window)) / slowDeviation(window)) ** power));

function quantile(window: List, share: number): number {
  const sorted = window.toSorted((a, b) => a - b);
  const place = share * (sorted.length - 1);
  const rest = place - Math.floor(place);
  return (1 - rest) * sorted[Math.floor(place)]! + rest * sorted[Math.ceil(place)]!;
}

/** Intercept and slope of the least-squares line of y on x, by the normal equations. */
function lineOn(y: List, x: List): { start: number; slope: number } {
  const n = x.length;
  const slope = (n * sumOf(zip(x, y, (a, b) => a * b)) - sumOf(x) * sumOf(y)) / (n * sumOf(x.map((a) => a * a)) - sumOf(x) ** 2);
  return { slope, start: (sumOf(y) - slope * sumOf(x)) / n };
}

const correlation = (x: List, y: List): number => {
  const [dx, dy] = [x.map((value) => value - meanOf(x)), y.map((value) => value - meanOf(y))];
  return sumOf(zip(dx, dy, (a, b) => a * b)) / Math.sqrt(sumOf(dx.map((a) => a * a)) * sumOf(dy.map((a) => a * a)));
};

export function statisticTwins(bars: BarSeries): readonly (readonly [string, List])[] {
  const [open, high, low, close, volume] = [bars.open, bars.high, bars.low, bars.close, bars.volume].map((column) =>
    Array.from(column),
  ) as [number[], number[], number[], number[], number[]];
  const log = (a: List, b: List): number[] => zip(a, b, (x, y) => Math.log(x) - Math.log(y));
  const yearly = (terms: List): number[] => windows(terms, 20, 0, (window) => 100 * Math.sqrt(252 * meanOf(window)));
  const ranges = log(high, low);
  const bodies = log(close, open);
  const rogersSatchell = close.map(
    (_value, i) =>
      Math.log(high[i]! / close[i]!) * Math.log(high[i]! / open[i]!) + Math.log(low[i]! / close[i]!) * Math.log(low[i]! / open[i]!),
  );
  const gaps = open.map((value, i) => (i === 0 ? Number.NaN : Math.log(value / close[i - 1]!)));
  const variance = (window: List): number => sumOf(window.map((value) => (value - meanOf(window)) ** 2)) / (window.length - 1);
  const k = 0.34 / (1.34 + 21 / 19);
  const halfLife = (i: number, span: number): number => {
    const { slope } = lineOn(
      windowOf(
        back(close, 1, (now, then) => now - then),
        i,
        span,
      ),
      windowOf(close, i - 1, span),
    );
    if (slope >= 0) return 10 * span;
    return slope <= -1 ? 0 : Math.min(10 * span, Math.log(2) / -Math.log(1 + slope));
  };
  const left = (i: number, span: number): { value: number; beta: number; score: number } => {
    const [x, y] = [windowOf(close, i, span), windowOf(volume, i, span)];
    const { start, slope } = lineOn(x, y);
    const residuals = zip(x, y, (a, b) => a - start - slope * b);
    const value = residuals.at(-1)!;
    return { value, beta: slope, score: value / Math.sqrt(meanOf(residuals.map((residual) => residual ** 2))) };
  };
  return [
    ["parkinsonVolatility(20, 252)", yearly(ranges.map((range) => range ** 2 / (4 * Math.log(2))))],
    ["garmanKlassVolatility(20, 252)", yearly(zip(ranges, bodies, (range, body) => 0.5 * range ** 2 - (2 * Math.log(2) - 1) * body ** 2))],
    ["rogersSatchellVolatility(20, 252)", yearly(rogersSatchell)],
    [
      "yangZhangVolatility(20, 252)",
      windows(close, 20, 1, (_window, i) => {
        const part =
          variance(windowOf(gaps, i, 20)) + k * variance(windowOf(bodies, i, 20)) + (1 - k) * meanOf(windowOf(rogersSatchell, i, 20));
        return 100 * Math.sqrt(252 * part);
      }),
    ],
    ["quantileOf(close, 20, 0.3)", windows(close, 20, 0, (window) => quantile(window, 0.3))],
    ["quantileOf(close, 90, 0.9)", windows(close, 90, 0, (window) => quantile(window, 0.9))],
    ["quantileOf(close, 90, 1)", windows(close, 90, 0, (window) => Math.max(...window))],
    ["skewness(close, 50)", windows(close, 50, 0, (window) => moment(window, 3))],
    ["kurtosis(close, 50)", windows(close, 50, 0, (window) => moment(window, 4))],
    ["autocorrelation(close, 40, 3)", windows(close, 40, 3, (window, i) => correlation(window, windowOf(close, i - 3, 40)))],
    ["autocorrelation(close, 90, 1)", windows(close, 90, 1, (window, i) => correlation(window, windowOf(close, i - 1, 90)))],
    ["halfLife(close, 30)", windows(close, 30, 1, (_window, i) => halfLife(i, 30))],
    ["halfLife(close, 100)", windows(close, 100, 1, (_window, i) => halfLife(i, 100))],
    ["cointegration(close, volume, 50)", windows(close, 50, 0, (_window, i) => left(i, 50).value)],
    ["cointegration(close, volume, 50).beta", windows(close, 50, 0, (_window, i) => left(i, 50).beta)],
    ["cointegration(close, volume, 90).score", windows(close, 90, 0, (_window, i) => left(i, 90).score)],
  ];
}
