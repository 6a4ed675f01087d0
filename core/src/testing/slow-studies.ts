/**
 * Every study once more, written for reading: plain lists, each value from its definition alone. The tests hold the fast
 * columns against these.
 */
import type { BarSeries } from "../market/bars.ts";
import { levelTwins } from "./slow-levels.ts";
import {
  back,
  type List,
  meanOf,
  rankOf,
  slowDeviation,
  slowEma,
  slowSmooth,
  slowWma,
  sumOf,
  windowOf,
  windows,
  zip,
} from "./slow-lists.ts";
import { oscillatorTwins } from "./slow-oscillators.ts";
import { statisticTwins } from "./slow-statistics.ts";

/** Slope and intercept by the normal equations. */
function lineOf(window: List): { slope: number; end: number; fit: number } {
  const n = window.length;
  const xs = window.map((_value, k) => k);
  const [sx, sy] = [sumOf(xs), sumOf(window)];
  const sxy = sumOf(window.map((value, k) => value * k));
  const sxx = sumOf(xs.map((k) => k * k));
  const slope = (n * sxy - sx * sy) / (n * sxx - sx * sx);
  const start = (sy - slope * sx) / n;
  const total = sumOf(window.map((value) => (value - sy / n) ** 2));
  const left = sumOf(window.map((value, k) => (value - start - slope * k) ** 2));
  return { slope, end: start + slope * (n - 1), fit: total === 0 ? 0 : 1 - left / total };
}

function slowAdaptive(values: List, span: number, fast: number, slow: number): number[] {
  const out: number[] = values.map(() => Number.NaN);
  for (let i = span; i < values.length; i++) {
    const way = sumOf(
      windowOf(values, i, span + 1)
        .slice(1)
        .map((value, k) => Math.abs(value - values[i - span + k]!)),
    );
    const ratio = Math.abs(values[i]! - values[i - span]!) / way;
    const c = (ratio * (2 / (fast + 1) - 2 / (slow + 1)) + 2 / (slow + 1)) ** 2;
    const before = i === span ? values[i - 1]! : out[i - 1]!;
    out[i] = before + c * (values[i]! - before);
  }
  return out;
}

/** The directional system by Wilder's own wording. */
function slowDirectional({ high, low, length }: BarSeries, ranges: List, span: number) {
  const moves = (side: 1 | -1): number[] =>
    Array.from({ length }, (_v, i) => {
      if (i === 0) return Number.NaN;
      const up = high[i]! - high[i - 1]!;
      const down = low[i - 1]! - low[i]!;
      if (side > 0) return up > down ? Math.max(up, 0) : 0;
      return down > up ? Math.max(down, 0) : 0;
    });
  const range = slowSmooth(ranges, span, 1 / span, 1);
  const plus = zip(slowSmooth(moves(1), span, 1 / span, 1), range, (a, b) => (100 * a) / b);
  const minus = zip(slowSmooth(moves(-1), span, 1 / span, 1), range, (a, b) => (100 * a) / b);
  const dx = zip(plus, minus, (a, b) => (100 * Math.abs(a - b)) / (a + b));
  return { plus, minus, adx: slowSmooth(dx, span, 1 / span, span) };
}

/** The ATR stop line by its two sides. */
function slowStopLine({ high, low, close, length }: BarSeries, ranges: List, span: number, width: number): number[] {
  const range = slowSmooth(ranges, span, 1 / span);
  const out: number[] = Array.from({ length }, () => Number.NaN);
  let isUp = true;
  for (let i = span - 1; i < length; i++) {
    const middle = (high[i]! + low[i]!) / 2;
    const under = middle - width * range[i]!;
    const over = middle + width * range[i]!;
    const before = i === span - 1 ? Number.NaN : out[i - 1]!;
    if (Number.isNaN(before)) out[i] = under;
    else if (isUp && close[i]! < before) {
      isUp = false;
      out[i] = over;
    } else if (!isUp && close[i]! > before) {
      isUp = true;
      out[i] = under;
    } else out[i] = isUp ? Math.max(before, under) : Math.min(before, over);
  }
  return out;
}

/** Wilder's parabolic system told as two cases. */
function slowParabolic({ high, low, close, length }: BarSeries, step: number, most: number): { line: number[]; direction: number[] } {
  const line: number[] = [Number.NaN];
  const direction: number[] = [Number.NaN];
  let isLong = close[1]! >= close[0]!;
  let stop = isLong ? low[0]! : high[0]!;
  let best = isLong ? high[0]! : low[0]!;
  let speed = step;
  for (let i = 1; i < length; i++) {
    stop = stop + speed * (best - stop);
    const two = i >= 2 ? [i - 1, i - 2] : [i - 1];
    if (isLong) {
      stop = Math.min(stop, ...two.map((k) => low[k]!));
      if (low[i]! < stop) {
        isLong = false;
        stop = Math.max(best, high[i]!);
        best = low[i]!;
        speed = step;
      } else if (high[i]! > best) {
        best = high[i]!;
        speed = Math.min(most, speed + step);
      }
    } else {
      stop = Math.max(stop, ...two.map((k) => high[k]!));
      if (high[i]! > stop) {
        isLong = true;
        stop = Math.min(best, low[i]!);
        best = high[i]!;
        speed = step;
      } else if (low[i]! < best) {
        best = low[i]!;
        speed = Math.min(most, speed + step);
      }
    }
    line.push(stop);
    direction.push(isLong ? 1 : -1);
  }
  return { line, direction };
}

function slowReading(values: List, above: number, below: number): number[] {
  let now = 0;
  return values.map((value) => {
    if (value > above) now = 1;
    else if (value < below) now = -1;
    return Number.isNaN(value) ? Number.NaN : now;
  });
}

/** Expressions, and the column that the twin of each makes. */
export function twinsOf(bars: BarSeries): readonly (readonly [string, List])[] {
  const [open, high, low, close, volume] = [bars.open, bars.high, bars.low, bars.close, bars.volume].map((column) =>
    Array.from(column),
  ) as [number[], number[], number[], number[], number[]];
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

  const typical = close.map((value, i) => (high[i]! + low[i]! + value) / 3);
  const startOf = (i: number): number => bars.session.indexOf(bars.session[i]!);
  const weighted = (i: number, span: number): number => {
    const w = windowOf(volume, i, span);
    return sumOf(windowOf(close, i, span).map((value, k) => value * w[k]!)) / sumOf(w);
  };
  const weightedTypical = (i: number): number => {
    const w = volume.slice(startOf(i), i + 1);
    return sumOf(w) === 0 ? typical[i]! : sumOf(w.map((value, k) => value * typical[startOf(i) + k]!)) / sumOf(w);
  };
  const rawK = close.map((value, i) => {
    if (i < 13) return Number.NaN;
    const top = Math.max(...windowOf(high, i, 14));
    const bottom = Math.min(...windowOf(low, i, 14));
    return (100 * (value - bottom)) / (top - bottom);
  });
  const stochasticK = windows(rawK, 3, 13, meanOf);
  const directional = slowDirectional(bars, slowTrueRange, 14);
  const atrAt14 = slowSmooth(slowTrueRange, 14, 1 / 14);
  const fresh = (values: List, best: (window: number[]) => number): number[] =>
    windows(values, 26, 0, (w) => (100 * w.lastIndexOf(best(w))) / 25);
  const varying = (fold: (window: number[]) => number): number[] =>
    close.map((_v, i) => (i < 11 ? Number.NaN : fold(windowOf(close, i, Math.min(12, Math.max(3, i - startOf(i) + 1))))));
  const running = (share: (i: number) => number): number[] => {
    let sum = 0;
    return close.map((_v, i) => {
      if (i > 0) sum += share(i);
      return sum;
    });
  };
  const placeIn = (i: number): number => {
    const range = high[i]! - low[i]!;
    return range === 0 ? 0 : (close[i]! - low[i]! - (high[i]! - close[i]!)) / range;
  };
  const flowShare = (i: number, span: number): number => {
    const steps = Array.from({ length: span }, (_v, k) => i - span + 1 + k);
    const total = (side: 1 | -1): number =>
      sumOf(steps.map((k) => (Math.sign(typical[k]! - typical[k - 1]!) === side ? typical[k]! * volume[k]! : 0)));
    return 100 - 100 / (1 + total(1) / total(-1));
  };
  const covariance = (a: List, b: List): number => meanOf(zip(a, b, (x, y) => (x - meanOf(a)) * (y - meanOf(b))));
  const before = (value: (from: number, to: number) => number): number[] =>
    close.map((_v, i) => (startOf(i) === 0 ? Number.NaN : value(startOf(startOf(i) - 1), startOf(i))));
  const pivotOf = (from: number, to: number): number =>
    (Math.max(...high.slice(from, to)) + Math.min(...low.slice(from, to)) + close[to - 1]!) / 3;
  return [
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
    ["wma(close, 20)", slowWma(close, 20)],
    ["wma(close, 90)", slowWma(close, 90)],
    ["standardDeviation(close, 90)", rolling(90, slowDeviation)],
    ["medianOf(close, 91)", rolling(91, (values) => values.toSorted((a, b) => a - b)[45]!)],
    ["medianOf(close, 90)", rolling(90, (values) => meanOf(values.toSorted((a, b) => a - b).slice(44, 46)))],
    ["percentRank(close, 90)", windows(close, 91, 0, rankOf)],
    ["zScore(close, 90)", rolling(90, (w) => (w.at(-1)! - meanOf(w)) / slowDeviation(w))],
    ["regression(close, 90)", rolling(90, (w) => lineOf(w).end)],
    ["regression(close, 90).slope", rolling(90, (w) => lineOf(w).slope)],
    ["regression(close, 90).fit", rolling(90, (w) => lineOf(w).fit)],
    [
      "hull(close, 16)",
      slowWma(
        zip(slowWma(close, 8), slowWma(close, 16), (a, b) => 2 * a - b),
        4,
        15,
      ),
    ],
    ["dema(close, 10)", zip(slowEma(close, 10), slowEma(slowEma(close, 10), 10, 9), (a, b) => 2 * a - b)],
    [
      "tema(close, 10)",
      zip(
        zip(slowEma(close, 10), slowEma(slowEma(close, 10), 10, 9), (a, b) => 3 * a - 3 * b),
        slowEma(slowEma(slowEma(close, 10), 10, 9), 10, 18),
        (a, b) => a + b,
      ),
    ],
    ["adaptiveAverage(close, 10, 2, 30)", slowAdaptive(close, 10, 2, 30)],
    ["vwma(close, volume, 20)", windows(close, 20, 0, (_w, i) => weighted(i, 20))],
    ["medianOf(close, 9)", rolling(9, (values) => values.toSorted((a, b) => a - b)[4]!)],
    ["medianOf(close, 4)", rolling(4, (values) => meanOf(values.toSorted((a, b) => a - b).slice(1, 3)))],
    ["stochastic(14, 3, 3)", stochasticK],
    ["stochastic(14, 3, 3).d", windows(stochasticK, 3, 15, meanOf)],
    ["cci(20)", windows(typical, 20, 0, (w) => (w.at(-1)! - meanOf(w)) / (0.015 * meanOf(w.map((value) => Math.abs(value - meanOf(w))))))],
    ["momentum(close, 10)", back(close, 10, (a, b) => a - b)],
    ["rateOfChange(close, 10)", back(close, 10, (a, b) => ((a - b) / b) * 100)],
    ["trix(close, 6)", back(slowEma(slowEma(slowEma(close, 6), 6, 5), 6, 10), 1, (a, b) => ((a - b) / b) * 100)],
    ["directional(14)", directional.adx],
    ["directional(14).plus", directional.plus],
    ["directional(14).minus", directional.minus],
    ["aroon(25)", fresh(high, (w) => Math.max(...w))],
    ["aroon(25).down", fresh(low, (w) => Math.min(...w))],
    [
      "aroon(25).gap",
      zip(
        fresh(high, (w) => Math.max(...w)),
        fresh(low, (w) => Math.min(...w)),
        (a, b) => a - b,
      ),
    ],
    ["placeInRange(close, 14)", rolling(14, (w) => (100 * (w.at(-1)! - Math.min(...w))) / (Math.max(...w) - Math.min(...w)))],
    ["reading(rsi(close, 14), 55, 45)", slowReading(slowRsi(14), 55, 45)],
    ["keltner(20, 2)", slowEma(close, 20)],
    ["keltner(20, 2).upper", zip(slowEma(close, 20), slowSmooth(slowTrueRange, 20, 1 / 20), (a, b) => a + 2 * b)],
    ["atrBands(open, 14, 1.5)", open],
    ["atrBands(open, 14, 1.5).lower", zip(open, atrAt14, (a, b) => a - 1.5 * b)],
    ["donchian(20)", windows(high, 20, 0, (w) => Math.max(...w))],
    ["donchian(20).lower", windows(low, 20, 0, (w) => Math.min(...w))],
    ["donchian(20).middle", windows(high, 20, 0, (w, i) => (Math.max(...w) + Math.min(...windowOf(low, i, 20))) / 2)],
    ["stopLine(10, 3)", slowStopLine(bars, slowTrueRange, 10, 3)],
    ["parabolic(0.02, 0.2)", slowParabolic(bars, 0.02, 0.2).line],
    ["parabolic(0.02, 0.2).direction", slowParabolic(bars, 0.02, 0.2).direction],
    [
      "averageRange(20)",
      windows(
        zip(high, low, (a, b) => a - b),
        20,
        0,
        meanOf,
      ),
    ],
    ["highestOver(close, barsSinceOpen(), 3, 12)", varying((w) => Math.max(...w))],
    ["lowestOver(close, barsSinceOpen(), 3, 12)", varying((w) => Math.min(...w))],
    ["averageOver(close, barsSinceOpen(), 3, 12)", varying(meanOf)],
    ["onBalanceVolume()", running((i) => Math.sign(close[i]! - close[i - 1]!) * volume[i]!)],
    ["accumulation()", running((i) => placeIn(i) * volume[i]!)],
    ["moneyFlow(14)", windows(typical, 15, 0, (_w, i) => flowShare(i, 14))],
    ["volumeRatio(20)", windows(volume, 20, 0, (w) => w.at(-1)! / meanOf(w))],
    ["volumePressure(20)", windows(volume, 20, 0, (w, i) => sumOf(w.map((v, k) => v * placeIn(i - 19 + k))) / sumOf(w))],
    [
      "historicalVolatility(close, 20, 252)",
      windows(
        back(close, 1, (a, b) => Math.log(a) - Math.log(b)),
        20,
        1,
        (w) => 100 * Math.sqrt(252 * (sumOf(w.map((v) => (v - meanOf(w)) ** 2)) / 19)),
      ),
    ],
    ["zScore(close, 20)", rolling(20, (w) => (w.at(-1)! - meanOf(w)) / slowDeviation(w))],
    ["percentRank(close, 50)", windows(close, 51, 0, rankOf)],
    ["sumOf(close, 20)", rolling(20, sumOf)],
    [
      "efficiency(close, 10)",
      windows(close, 11, 0, (w) => Math.abs(w[10]! - w[0]!) / sumOf(w.slice(1).map((v, k) => Math.abs(v - w[k]!)))),
    ],
    ["regression(close, 20)", rolling(20, (w) => lineOf(w).end)],
    ["regression(close, 20).slope", rolling(20, (w) => lineOf(w).slope)],
    ["regression(close, 20).fit", rolling(20, (w) => lineOf(w).fit)],
    [
      "correlation(close, volume, 50)",
      windows(close, 50, 0, (w, i) => covariance(w, windowOf(volume, i, 50)) / (slowDeviation(w) * slowDeviation(windowOf(volume, i, 50)))),
    ],
    [
      "beta(close, volume, 50)",
      windows(close, 50, 0, (w, i) => covariance(w, windowOf(volume, i, 50)) / slowDeviation(windowOf(volume, i, 50)) ** 2),
    ],
    ["sessionVwap()", close.map((_v, i) => weightedTypical(i))],
    ["openingRange(3)", close.map((_v, i) => Math.max(...high.slice(startOf(i), Math.min(i, startOf(i) + 2) + 1)))],
    ["openingRange(3).low", close.map((_v, i) => Math.min(...low.slice(startOf(i), Math.min(i, startOf(i) + 2) + 1)))],
    ["previousSession()", before((from) => open[from]!)],
    ["previousSession().high", before((from, to) => Math.max(...high.slice(from, to)))],
    ["previousSession().low", before((from, to) => Math.min(...low.slice(from, to)))],
    ["previousSession().close", before((_from, to) => close[to - 1]!)],
    ["previousSession().range", before((from, to) => Math.max(...high.slice(from, to)) - Math.min(...low.slice(from, to)))],
    ["pivots()", before((from, to) => pivotOf(from, to))],
    ["pivots().r1", before((from, to) => 2 * pivotOf(from, to) - Math.min(...low.slice(from, to)))],
    ["pivots().s2", before((from, to) => pivotOf(from, to) - Math.max(...high.slice(from, to)) + Math.min(...low.slice(from, to)))],
    ["weekday()", Array.from(bars.session, (s) => new Date(bars.sessions.dates[s]!).getUTCDay() || 7)],
    ["minutesToClose()", Array.from(bars.closeTime, (ms, i) => Math.max(0, (bars.sessions.closeMs[bars.session[i]!]! - ms) / 60_000))],
    ["minuteOfDay()", Array.from(bars.time, (ms) => new Date(ms).getUTCHours() * 60 + new Date(ms).getUTCMinutes())],
    ["typicalPrice()", typical],
    ["medianPrice()", zip(high, low, (a, b) => b + (a - b) / 2)],
    ["barRange()", zip(high, low, (a, b) => a - b)],
    ["barBody()", zip(close, open, (a, b) => a - b)],
    ...oscillatorTwins(bars),
    ...statisticTwins(bars),
    ...levelTwins(bars),
  ];
}
