/**
 * The size at which an account would have grown the most (Kelly 1956; for any results of trades: Vince 1990, "optimal f";
 * Thorp 2006): sizes follow equity, and every trade multiplies it by 1 + k x net / account, where net is that of the run.
 */
import { quantile } from "../figures/statistics.ts";
import { Random } from "../random.ts";

export interface GrowthSize {
  /** Times the size of the run on the account, at which the mean logarithm of growth is the greatest; 0 where none grows. */
  readonly factor: number;
  /** Mean growth per trade at that factor, a fraction. */
  readonly growth: number;
}

const MOST_HALVINGS = 200;

/**
 * @param nets results of the run's trades, money; @param account on which they are made, money
 * null under two trades, or where no trade lost: then there is no largest size.
 */
export function growthSize(nets: ArrayLike<number>, account: number): GrowthSize | null {
  const n = nets.length;
  let [sum, worst] = [0, 0];
  for (let i = 0; i < n; i++) {
    sum += nets[i]!;
    worst = Math.min(worst, nets[i]!);
  }
  if (n < 2 || worst >= 0) return null;
  if (sum <= 0) return { factor: 0, growth: 0 };
  /** Slope of the mean logarithm, which falls as the factor grows: concave, so its zero is the best. */
  const slope = (factor: number): number => {
    let total = 0;
    for (let i = 0; i < n; i++) total += nets[i]! / (account + factor * nets[i]!);
    return total;
  };
  // At this factor the worst trade takes everything.
  let [low, high] = [0, account / -worst];
  for (let step = 0; step < MOST_HALVINGS && high - low > 1e-12 * high; step++) {
    const middle = (low + high) / 2;
    if (slope(middle) > 0) low = middle;
    else high = middle;
  }
  let logs = 0;
  for (let i = 0; i < n; i++) logs += Math.log1p((low * nets[i]!) / account);
  return { factor: low, growth: Math.expm1(logs / n) };
}

export interface CompoundedFall {
  /** Deepest fall in percent of the peak before it, at 50 and 95 % of the draws, fractions. */
  readonly middle: number;
  readonly likely: number;
}

const DRAWS = 1000;

/** How deep equity falls where sizes follow it: sequences of as many trades, drawn with replacement. Seeded. */
export function compoundedFall(nets: ArrayLike<number>, account: number, factor: number, seed = 1): CompoundedFall | null {
  const n = nets.length;
  if (n < 2) return null;
  const random = new Random(seed);
  const falls = new Float64Array(DRAWS);
  for (let draw = 0; draw < DRAWS; draw++) {
    let [equity, peak, deepest] = [1, 1, 0];
    for (let i = 0; i < n; i++) {
      equity *= Math.max(0, 1 + (factor * nets[Math.min(n - 1, Math.floor(random.next() * n))]!) / account);
      if (equity > peak) peak = equity;
      else deepest = Math.max(deepest, 1 - equity / peak);
    }
    falls[draw] = deepest;
  }
  falls.sort();
  return { middle: quantile(falls, 0.5)!, likely: quantile(falls, 0.95)! };
}
