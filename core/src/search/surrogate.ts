/**
 * A Gaussian process over a lattice, as a stand-in for runs that would take long (Rasmussen & Williams 2006, algorithm
 * 2.1). Scores enter as normal scores of their ranks, so that single huge ones don't bend it.
 */
import { normalQuantile } from "../trust/normal.ts";
import { ranksOf } from "./ranks.ts";

/** Length scales an axis may have, in shares of its length. */
const SCALES = [0.08, 0.15, 0.3, 0.6, 1.2];
/** Share of the variance that is not explained by place. */
const NOISE = 0.02;
/** Distance between two values of an axis without order. */
const APART = 0.6;

/** Ranks as normal scores (Blom 1958): the k-th of n stands at the quantile (k - 3/8) / (n + 1/4). Equal values share theirs. */
export function normalScores(values: Float64Array): Float64Array {
  const n = values.length;
  return ranksOf(values).map((rank) => normalQuantile((rank * (n - 1) + 1 - 0.375) / (n + 0.25)));
}

export interface Axis {
  readonly size: number;
  readonly ordered: boolean;
}

/** Squared distance on one axis in units of its length scale. */
function apart(a: number, b: number, { size, ordered }: Axis, scale: number): number {
  if (a === b) return 0;
  const distance = ordered ? (a - b) / Math.max(1, size - 1) : APART;
  return (distance / scale) ** 2;
}

/** Mean of the score at a place, and the share of its variance that is known. */
export interface Guess {
  readonly place: readonly number[];
  readonly row: number[];
  mean: number;
  explained: number;
}

export class Surrogate {
  readonly #axes: readonly Axis[];
  readonly #scales: readonly number[];
  readonly #places: (readonly number[])[] = [];
  /** Rows of the lower Cholesky factor of the covariance. */
  readonly #factor: number[][] = [];
  /** The factor's inverse times the scores. */
  readonly #solved: number[] = [];

  private constructor(axes: readonly Axis[], scales: readonly number[]) {
    this.#axes = axes;
    this.#scales = scales;
  }

  /**
   * Fits places and scores (mean about 0, variance about 1). Length scales are chosen axis by axis by the marginal
   * likelihood of at most `tune` of them.
   */
  static fit(axes: readonly Axis[], places: readonly (readonly number[])[], scores: ArrayLike<number>, tune = 80): Surrogate {
    const step = Math.max(1, Math.ceil(places.length / tune));
    const some = places.map((_place, i) => i).filter((i) => i % step === 0);
    const likelihoodOf = (scales: readonly number[]): number => {
      const model = new Surrogate(axes, scales);
      for (const i of some) model.add(places[i]!, scores[i]!);
      return model.likelihood;
    };
    let scales = axes.map(() => 0.3);
    let best = likelihoodOf(scales);
    for (let pass = 0; pass < 2; pass++)
      for (let a = 0; a < axes.length; a++)
        for (const scale of SCALES) {
          if (scale === scales[a]) continue;
          const other = scales.map((own, b) => (b === a ? scale : own));
          const likelihood = likelihoodOf(other);
          if (likelihood > best) [best, scales] = [likelihood, other];
        }
    const model = new Surrogate(axes, scales);
    for (const [i, place] of places.entries()) model.add(place, scores[i]!);
    return model;
  }

  #covariance(a: readonly number[], b: readonly number[]): number {
    let sum = 0;
    for (let axis = 0; axis < this.#axes.length; axis++) sum += apart(a[axis]!, b[axis]!, this.#axes[axis]!, this.#scales[axis]!);
    return (1 - NOISE) * Math.exp(-0.5 * sum);
  }

  /** One more observation; the factor grows by a row. */
  add(place: readonly number[], score: number): void {
    const { row, mean, explained } = this.guess(place);
    const root = Math.sqrt(Math.max(1 - explained, 1e-10));
    row.push(root);
    this.#factor.push(row);
    this.#places.push(place);
    this.#solved.push((score - mean) / root);
  }

  /** Log marginal likelihood of the scores. */
  get likelihood(): number {
    let value = -0.5 * this.#places.length * Math.log(2 * Math.PI);
    for (let i = 0; i < this.#places.length; i++) value -= 0.5 * this.#solved[i]! ** 2 + Math.log(this.#factor[i]![i]!);
    return value;
  }

  /** What is thought of a place; brought up to date by `renew` when the model has learnt more. */
  guess(place: readonly number[]): Guess {
    const guess = { place, row: [], mean: 0, explained: 0 };
    this.renew(guess);
    return guess;
  }

  renew(guess: Guess): void {
    const { place, row } = guess;
    for (let i = row.length; i < this.#places.length; i++) {
      const factor = this.#factor[i]!;
      let value = this.#covariance(this.#places[i]!, place);
      for (let k = 0; k < i; k++) value -= factor[k]! * row[k]!;
      value /= factor[i]!;
      row.push(value);
      guess.mean += value * this.#solved[i]!;
      guess.explained += value * value;
    }
  }

  /** Standard deviation of the score at a place, without noise. */
  static deviationOf({ explained }: Guess): number {
    return Math.sqrt(Math.max(1 - NOISE - explained, 0));
  }
}
