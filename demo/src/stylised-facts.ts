/** What markets have in common, measured on a history of minutes. Sources: Cont 2001, Empirical properties of asset returns. */
import { type BarSeries, mean, resample, sampleDeviation } from "@plan-tester/core";

export interface StylisedFacts {
  /** Standard deviation of daily log returns, close to close. */
  readonly deviation: number;
  readonly excessKurtosis: number;
  readonly skewness: number;
  /** Autocorrelation of daily returns at one day. */
  readonly memory: number;
  /** Of their absolute values: mean of lags 1 to 5, and of 10 to 30. */
  readonly clustering: number;
  readonly lastingClustering: number;
  /** Standard deviation of the log of each session's realised volatility. */
  readonly volatilityOfVolatility: number;
  /** Correlation of log volume with log volatility, session by session. */
  readonly volumeWithVolatility: number;
  /** Standard deviation of the overnight gaps over that of daily returns. */
  readonly gapShare: number;
  /** Correlation of a day's return with the mean absolute return of the five days after. */
  readonly leverage: number;
  /** Variance ratio of ten days: 1 for no memory, less for reversion, more for trends. */
  readonly varianceRatio: number;
  readonly sessions: number;
}

export function autocorrelation(values: readonly number[], lag: number): number {
  const m = mean(values)!;
  let [products, squares] = [0, 0];
  values.forEach((value, i) => {
    squares += (value - m) ** 2;
    if (i >= lag) products += (value - m) * (values[i - lag]! - m);
  });
  return products / squares;
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const [ma, mb] = [mean(a)!, mean(b)!];
  let [ab, aa, bb] = [0, 0, 0];
  a.forEach((value, i) => {
    ab += (value - ma) * (b[i]! - mb);
    aa += (value - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  });
  return ab / Math.sqrt(aa * bb);
}

const lags = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_, k) => from + k);

/** @param minutes a whole history of 1-minute bars */
export function stylisedFacts(minutes: BarSeries): StylisedFacts {
  const { series: days } = resample(minutes, "1d");
  const returns: number[] = [];
  const gaps: number[] = [];
  for (let d = 1; d < days.length; d++) {
    returns.push(Math.log(days.close[d]! / days.close[d - 1]!));
    gaps.push(Math.log(days.open[d]! / days.close[d - 1]!));
  }
  const m = mean(returns)!;
  const deviation = sampleDeviation(returns)!;
  const moment = (power: number): number => mean(returns.map((value) => ((value - m) / deviation) ** power))!;
  const sizes = returns.map(Math.abs);
  const clusteringAt = (from: number, to: number): number => mean(lags(from, to).map((lag) => autocorrelation(sizes, lag)))!;
  const tens = returns.slice(9).map((_value, i) => returns.slice(i, i + 10).reduce((sum, value) => sum + value, 0));
  const after = sizes.slice(0, -5).map((_size, i) => mean(sizes.slice(i + 1, i + 6))!);
  const { volatility, volume } = bySession(minutes);
  return {
    deviation,
    excessKurtosis: moment(4) - 3,
    skewness: moment(3),
    memory: autocorrelation(returns, 1),
    clustering: clusteringAt(1, 5),
    lastingClustering: clusteringAt(10, 30),
    volatilityOfVolatility: sampleDeviation(volatility)!,
    volumeWithVolatility: correlation(volume, volatility),
    gapShare: sampleDeviation(gaps)! / deviation,
    leverage: correlation(returns.slice(0, -5), after),
    varianceRatio: sampleDeviation(tens)! ** 2 / (10 * deviation ** 2),
    sessions: days.length,
  };
}

/** Logs of the realised volatility (of minutes) and of the volume of each session. */
function bySession({ session, close, volume, length }: BarSeries): { volatility: number[]; volume: number[] } {
  const told = { volatility: [] as number[], volume: [] as number[] };
  let [squares, traded] = [0, 0];
  for (let i = 1; i <= length; i++) {
    const isSame = i < length && session[i] === session[i - 1];
    traded += volume[i - 1]!;
    if (isSame) squares += Math.log(close[i]! / close[i - 1]!) ** 2;
    else {
      if (squares > 0) {
        told.volatility.push(0.5 * Math.log(squares));
        told.volume.push(Math.log(traded));
      }
      [squares, traded] = [0, 0];
    }
  }
  return told;
}
