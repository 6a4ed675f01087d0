/**
 * How sure one can be of a Sharpe ratio, given how long the track is, how its returns are shaped, and how many settings
 * were tried before it was found. Ratios here are those of one period (a session), not of a year.
 */
import { mean } from "../figures/statistics.ts";
import { normalCdf, normalQuantile } from "./normal.ts";

export interface ReturnShape {
  readonly count: number;
  /** Mean over sample standard deviation, of one period. */
  readonly sharpe: number;
  readonly skew: number;
  /** Not in excess of 3. */
  readonly kurtosis: number;
}

/**
 * Moments of returns (excess of the risk-free rate, where that matters). Skew and kurtosis are of the population, as in
 * the source. null with fewer than 3 returns or without variation.
 */
export function returnShape(returns: ArrayLike<number>): ReturnShape | null {
  const n = returns.length;
  if (n < 3) return null;
  const middle = mean(returns)!;
  let [m2, m3, m4] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const d = returns[i]! - middle;
    m2 += d * d;
    m3 += d * d * d;
    m4 += d * d * d * d;
  }
  // What rounding makes of equal returns is no variation.
  if (!(m2 > n * (middle * 1e-14) ** 2)) return null;
  const variance = m2 / n;
  return { count: n, sharpe: middle / Math.sqrt(m2 / (n - 1)), skew: m3 / n / variance ** 1.5, kurtosis: m4 / n / variance ** 2 };
}

/** Standard deviation of the estimated Sharpe ratio, times sqrt(count - 1). Bailey & Lopez de Prado 2012, eq. 8. */
const spread = ({ sharpe, skew, kurtosis }: ReturnShape): number =>
  Math.sqrt(Math.max(0, 1 - skew * sharpe + ((kurtosis - 1) / 4) * sharpe ** 2));

/**
 * P(true Sharpe > benchmark): Phi((SR - SR*) sqrt(n - 1) / sqrt(1 - skew SR + (kurtosis - 1) / 4 SR^2)).
 * Source: Bailey & Lopez de Prado 2012, "The Sharpe ratio efficient frontier".
 * @param benchmark a Sharpe ratio of one period.
 */
export function probabilisticSharpe(shape: ReturnShape, benchmark = 0): number {
  const reach = spread(shape);
  if (reach === 0) return shape.sharpe > benchmark ? 1 : 0;
  return normalCdf(((shape.sharpe - benchmark) * Math.sqrt(shape.count - 1)) / reach);
}

/**
 * Periods needed until the Sharpe ratio stands above the benchmark with a confidence: 1 + (1 - skew SR + (kurtosis - 1) / 4
 * SR^2) (z / (SR - SR*))^2. Same source. null when the ratio is not above the benchmark: no track is long enough.
 */
export function minimumTrackRecord(shape: ReturnShape, benchmark = 0, confidence = 0.95): number | null {
  const above = shape.sharpe - benchmark;
  return above > 0 ? 1 + spread(shape) ** 2 * (normalQuantile(confidence) / above) ** 2 : null;
}

const EULER = 0.577_215_664_901_532_9;

/**
 * The largest Sharpe ratio that chance alone is expected to show among independent trials of no skill:
 * sqrt(V) ((1 - g) z(1 - 1/N) + g z(1 - 1/(N e))), g the Euler constant; 0 for a single trial.
 * Source: Bailey & Lopez de Prado 2014, "The deflated Sharpe ratio".
 * @param variance of the Sharpe ratios across the trials, of one period.
 */
export function expectedMaximumSharpe(trials: number, variance: number): number {
  if (!(trials > 1) || !(variance > 0)) return 0;
  return Math.sqrt(variance) * ((1 - EULER) * normalQuantile(1 - 1 / trials) + EULER * normalQuantile(1 - 1 / (trials * Math.E)));
}

/** The probabilistic Sharpe ratio against the best that chance alone would have shown among so many trials. Same source. */
export function deflatedSharpe(shape: ReturnShape, trials: number, variance: number): number {
  return probabilisticSharpe(shape, expectedMaximumSharpe(trials, variance));
}

/**
 * Variance of Sharpe ratios across trials where no trial was measured: that of an estimate of no skill from so many
 * returns, 1 / (count - 1). Lo 2002, "The statistics of Sharpe ratios".
 */
export const chanceVariance = (count: number): number => 1 / Math.max(1, count - 1);
