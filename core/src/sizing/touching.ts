/** How likely an account is to touch a limit within so many trades: results drawn with replacement, sizes constant. */
import { Random } from "../random.ts";

export interface Touching {
  /** Share of the draws that fall by the limit or more from a high before. */
  readonly fall: number;
  /** Share of the draws that lose the whole account. */
  readonly ruin: number;
  readonly draws: number;
}

export interface TouchingQuestion {
  /** Results of the run's trades, money. */
  readonly nets: ArrayLike<number>;
  /** Times the size of the run. */
  readonly factor: number;
  readonly account: number;
  /** Money of a fall from a high. Above 0. */
  readonly limit: number;
  /** How many trades follow. */
  readonly trades: number;
}

const DRAWS = 4000;

/** Seeded: the same seed gives the same shares. null of no trades. */
export function touching({ nets, factor, account, limit, trades }: TouchingQuestion, seed = 1): Touching | null {
  const n = nets.length;
  if (n === 0) return null;
  const random = new Random(seed);
  let [falls, ruins] = [0, 0];
  for (let draw = 0; draw < DRAWS; draw++) {
    let [made, peak, hasFallen, isRuined] = [0, 0, false, false];
    for (let i = 0; i < trades && !(hasFallen && isRuined); i++) {
      made += factor * nets[Math.min(n - 1, Math.floor(random.next() * n))]!;
      if (made > peak) peak = made;
      hasFallen ||= peak - made >= limit;
      isRuined ||= account + made <= 0;
    }
    if (hasFallen) falls++;
    if (isRuined) ruins++;
  }
  return { fall: falls / DRAWS, ruin: ruins / DRAWS, draws: DRAWS };
}
