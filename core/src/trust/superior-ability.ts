/**
 * All settings at once: is the best of them better than nothing, with the search counted (Hansen 2005, "A test for superior
 * predictive ability"), and how many pass on their own (Romano & Wolf 2005, "Stepwise multiple testing as formalized data
 * snooping"). Days are drawn in blocks, the same for every setting (Politis & Romano 1994).
 */
import { drawBlocks } from "../blocks.ts";
import { Random } from "../random.ts";

export interface SuperiorAbility {
  /** How likely settings that earn nothing come to a best one as good; 1 where none has earned anything. */
  readonly p: number;
  /** Settings that pass on their own, at 95 % for all of them together. */
  readonly passing: readonly number[];
  /** Settings whose returns vary: the others are left out. */
  readonly settings: number;
}

export const ABILITY_DRAWS = 999;
/** Mean length of a block, sessions. */
const BLOCK = 5;
const LEVEL = 0.95;

/**
 * @param returns one row a setting, one column a session, as in `overfitting`.
 * null for fewer than 10 days or no setting that varies. Cost: draws times settings times days.
 */
export function superiorAbility(
  returns: Float64Array | Float32Array,
  settings: number,
  seed: number,
  draws = ABILITY_DRAWS,
): SuperiorAbility | null {
  const T = settings > 0 ? returns.length / settings : 0;
  if (T < 10) return null;
  const means = new Float64Array(settings);
  const kept: number[] = [];
  for (let s = 0; s < settings; s++) {
    let [sum, square] = [0, 0];
    for (let t = 0; t < T; t++) {
      const value = returns[s * T + t]!;
      sum += value;
      square += value * value;
    }
    means[s] = sum / T;
    if (square - (sum * sum) / T > 1e-18 * T) kept.push(s);
  }
  if (kept.length === 0) return null;
  const drawn = drawnMeans(returns, kept, T, seed, draws);
  const n = kept.length;
  /** Standard error of each mean, by the draws; and the studentised draws about the mean. */
  const widths = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    const row = drawn.subarray(k * draws, (k + 1) * draws);
    let sum = 0;
    for (const value of row) sum += value;
    let variance = 0;
    for (const value of row) variance += (value - sum / draws) ** 2;
    widths[k] = Math.sqrt(variance / (draws - 1));
  }
  const scores = Float64Array.from(kept, (s, k) => (widths[k]! > 0 ? means[s]! / widths[k]! : 0));
  const best = scores.reduce((most, score) => Math.max(most, score), 0);
  const drawnOnes: Drawn = { middles: Float64Array.from(kept, (s) => means[s]!), widths, scores, drawn, draws };
  return {
    p: best > 0 ? pOf(best, drawnOnes, T) : 1,
    passing: stepdown(drawnOnes).map((k) => kept[k]!),
    settings: n,
  };
}

/** What is known of each kept setting: its mean, the error of that, the one over the other, and its mean in each draw. */
interface Drawn {
  readonly middles: Float64Array;
  readonly widths: Float64Array;
  readonly scores: Float64Array;
  readonly drawn: Float64Array;
  readonly draws: number;
}

/** Raises each draw's largest score by that of one setting about a middle. */
function raise(reached: Float64Array, k: number, middle: number, { widths, drawn, draws }: Drawn): void {
  if (widths[k] === 0) return;
  for (let b = 0; b < draws; b++) reached[b] = Math.max(reached[b]!, (drawn[k * draws + b]! - middle) / widths[k]!);
}

/** Runs of days that stand side by side in the draws: those of draw b are first[b] up to first[b + 1]. */
function runsOf(T: number, seed: number, draws: number) {
  const random = new Random(seed);
  const order = new Int32Array(T);
  const first = new Int32Array(draws + 1);
  const from: number[] = [];
  const to: number[] = [];
  for (let b = 0; b < draws; b++) {
    drawBlocks(order, BLOCK, random);
    for (let i = 0; i < T; i++)
      if (i > 0 && order[i] === order[i - 1]! + 1) to[to.length - 1]!++;
      else {
        from.push(order[i]!);
        to.push(order[i]! + 1);
      }
    first[b + 1] = from.length;
  }
  return { first, from: Int32Array.from(from), to: Int32Array.from(to) };
}

/** Settings that are summed side by side: where a run of days lies is looked up once for all of them. */
const LANES = 4;

/** Mean of each kept setting in each draw: setting k, draw b stands at k * draws + b. */
function drawnMeans(returns: Float64Array | Float32Array, kept: readonly number[], T: number, seed: number, draws: number): Float64Array {
  const { first, from, to } = runsOf(T, seed, draws);
  // One lane more than there are settings is never read.
  const drawn = new Float64Array(Math.ceil(kept.length / LANES) * LANES * draws);
  // Sums up to a day, of the settings of a group beside one another: a run of days is then one difference for each.
  const upTo = new Float64Array((T + 1) * LANES);
  for (let k = 0; k < kept.length; k += LANES) {
    for (let lane = 0; lane < LANES; lane++) {
      const row = kept[Math.min(k + lane, kept.length - 1)]! * T;
      for (let t = 0; t < T; t++) upTo[(t + 1) * LANES + lane] = upTo[t * LANES + lane]! + returns[row + t]!;
    }
    for (let b = 0; b < draws; b++) {
      let a = 0;
      let c = 0;
      let d = 0;
      let e = 0;
      const end = first[b + 1]!;
      for (let run = first[b]!; run < end; run++) {
        const x = from[run]! * LANES;
        const y = to[run]! * LANES;
        a += upTo[y]! - upTo[x]!;
        c += upTo[y + 1]! - upTo[x + 1]!;
        d += upTo[y + 2]! - upTo[x + 2]!;
        e += upTo[y + 3]! - upTo[x + 3]!;
      }
      const at = k * draws + b;
      drawn[at] = a / T;
      drawn[at + draws] = c / T;
      drawn[at + 2 * draws] = d / T;
      drawn[at + 3 * draws] = e / T;
    }
  }
  return drawn;
}

function pOf(best: number, all: Drawn, T: number): number {
  const { scores, middles, draws } = all;
  // What does badly is not let stand in for nothing: its own mean is put in the middle of its draws, or 0 (Hansen's consistent one).
  const least = -Math.sqrt(2 * Math.log(Math.log(T)));
  const reached = new Float64Array(draws);
  for (let k = 0; k < scores.length; k++) raise(reached, k, scores[k]! >= least ? middles[k]! : 0, all);
  let asGood = 0;
  for (const value of reached) if (value >= best) asGood++;
  return (1 + asGood) / (draws + 1);
}

/** Places of the settings that pass, in ascending order. */
function stepdown(all: Drawn): number[] {
  const { scores, middles, draws } = all;
  const passing: number[] = [];
  const left = new Set(scores.keys());
  const reached = new Float64Array(draws);
  while (left.size > 0) {
    reached.fill(Number.NEGATIVE_INFINITY);
    for (const k of left) raise(reached, k, middles[k]!, all);
    const critical = reached.slice().sort()[Math.ceil(LEVEL * draws) - 1]!;
    const over = [...left].filter((k) => scores[k]! > critical && scores[k]! > 0);
    if (over.length === 0) break;
    for (const k of over) left.delete(k);
    passing.push(...over);
  }
  return passing.sort((a, b) => a - b);
}
