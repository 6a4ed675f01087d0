/**
 * Probability of backtest overfitting by combinatorially symmetric cross-validation. Source: Bailey, Borwein, Lopez de
 * Prado & Zhu 2017, "The probability of backtest overfitting".
 *
 * The returns of all settings are cut into S blocks. For every way of taking half of the blocks the best setting there is
 * looked up among the other half: does it still stand above the middle?
 */
import { PlanTesterError } from "../errors.ts";

export interface Overfitting {
  /** Share of the ways in which the best setting of one half stands at or below the middle in the other. */
  readonly probability: number;
  /** Logit of the relative rank in the other half, one for each way: below 0 is below the middle. */
  readonly logits: Float64Array;
  /** Sharpe ratios of one period of the best setting, in the half it was chosen on and in the other. */
  readonly inSample: Float64Array;
  readonly outOfSample: Float64Array;
  /** Share of the ways in which the chosen setting loses in the other half. */
  readonly lossProbability: number;
}

/**
 * @param returns one row a setting, one column a period: setting s, period t stands at s * periods + t.
 * @param blocks an even number from 2 to 20, at most as many as periods.
 * @throws PlanTesterError bad-input for too few settings, periods or blocks.
 * Cost: C(blocks, blocks / 2) times settings times blocks.
 */
export function overfitting(returns: Float64Array | Float32Array, settings: number, blocks = 16): Overfitting {
  const periods = returns.length / settings;
  const wrong = (message: string): PlanTesterError => new PlanTesterError("bad-input", message, { settings, periods, blocks });
  if (!(settings >= 2) || !Number.isInteger(periods))
    throw wrong(`Overfitting needs at least 2 settings of equal length; it got ${settings}.`);
  if (blocks % 2 !== 0 || blocks < 2 || blocks > 20) throw wrong(`The number of blocks is ${blocks}; it must be even, from 2 to 20.`);
  if (periods < 2 * blocks) throw wrong(`${periods} periods are too few for ${blocks} blocks: at least ${2 * blocks} are needed.`);
  const { sums, squares, counts } = blockSums(returns, settings, periods, blocks);
  const halves = combinations(blocks, blocks / 2);
  const logits = new Float64Array(halves.length);
  const [inSample, outOfSample] = [new Float64Array(halves.length), new Float64Array(halves.length)];
  const ratios = new Float64Array(settings);
  const [total, totalSquares] = [new Float64Array(settings), new Float64Array(settings)];
  for (let s = 0; s < settings; s++)
    for (let b = 0; b < blocks; b++) {
      total[s]! += sums[b * settings + s]!;
      totalSquares[s]! += squares[b * settings + s]!;
    }
  const [sum, square] = [new Float64Array(settings), new Float64Array(settings)];
  let [below, losing] = [0, 0];
  halves.forEach((half, k) => {
    sum.fill(0);
    square.fill(0);
    let count = 0;
    for (let b = 0; b < blocks; b++) {
      if ((half & (1 << b)) === 0) continue;
      count += counts[b]!;
      const at = b * settings;
      for (let s = 0; s < settings; s++) {
        sum[s]! += sums[at + s]!;
        square[s]! += squares[at + s]!;
      }
    }
    const rest = periods - count;
    let [best, bestRatio] = [0, Number.NEGATIVE_INFINITY];
    for (let s = 0; s < settings; s++) {
      const ratio = sharpeOf(sum[s]!, square[s]!, count);
      if (ratio > bestRatio) [best, bestRatio] = [s, ratio];
      ratios[s] = sharpeOf(total[s]! - sum[s]!, totalSquares[s]! - square[s]!, rest);
    }
    const chosen = ratios[best]!;
    // Relative rank, ties counted half: 1/(N+1) for the worst, N/(N+1) for the best.
    let rank = 0.5;
    for (let s = 0; s < settings; s++) rank += ratios[s]! < chosen ? 1 : ratios[s] === chosen ? 0.5 : 0;
    const relative = rank / (settings + 1);
    logits[k] = Math.log(relative / (1 - relative));
    inSample[k] = bestRatio;
    outOfSample[k] = chosen;
    if (logits[k]! <= 0) below++;
    if (chosen < 0) losing++;
  });
  return { probability: below / halves.length, logits, inSample, outOfSample, lossProbability: losing / halves.length };
}

/** 0 for a setting that never moved: it neither wins nor loses. */
function sharpeOf(sum: number, square: number, count: number): number {
  const variance = (square - (sum * sum) / count) / (count - 1);
  return variance > 1e-18 ? sum / count / Math.sqrt(variance) : 0;
}

function blockSums(returns: Float64Array | Float32Array, settings: number, periods: number, blocks: number) {
  const sums = new Float64Array(blocks * settings);
  const squares = new Float64Array(blocks * settings);
  const counts = new Int32Array(blocks);
  for (let b = 0; b < blocks; b++) {
    const [from, to] = [Math.floor((b * periods) / blocks), Math.floor(((b + 1) * periods) / blocks)];
    counts[b] = to - from;
    for (let s = 0; s < settings; s++) {
      let [sum, square] = [0, 0];
      for (let t = from; t < to; t++) {
        const value = returns[s * periods + t]!;
        sum += value;
        square += value * value;
      }
      sums[b * settings + s] = sum;
      squares[b * settings + s] = square;
    }
  }
  return { sums, squares, counts };
}

/** Every way to take `take` of `from` things, as bits. */
function combinations(from: number, take: number): number[] {
  const found: number[] = [];
  for (let bits = (1 << take) - 1; bits < 1 << from; ) {
    found.push(bits);
    // The next larger number with as many bits set (Gosper).
    const lowest = bits & -bits;
    const ripple = bits + lowest;
    bits = (((ripple ^ bits) >>> 2) / lowest) | ripple;
  }
  return found;
}
