/** What the same trades could have come to in another order, or resampled from themselves (metrics: trade resampling). */
import { quantile } from "../figures/statistics.ts";
import { Random } from "../random.ts";

export const BAND_LEVELS = [0.05, 0.25, 0.5, 0.75, 0.95] as const;

export interface Bands {
  /** Values at 5, 25, 50, 75 and 95 %. */
  readonly finalEquity: readonly number[];
  readonly maxDrawdown: readonly number[];
  /** The drawdown that one draw in a hundred exceeds. */
  readonly rareDrawdown: number;
  /** Share of the draws that end below where they began. */
  readonly lossProbability: number;
}

export interface Resampling {
  readonly draws: number;
  readonly seed: number;
  /** Trades drawn with replacement: how far luck in which trades came could have carried. */
  readonly bootstrap: Bands;
  /** The same trades in another order: the end is the same, the way there is not. */
  readonly reshuffle: Bands;
  /** For each number of trades so far the 5, 50 and 95 % of equity over the bootstrap draws, thinned to at most 200 points. */
  readonly fan: {
    readonly trades: readonly number[];
    readonly low: readonly number[];
    readonly middle: readonly number[];
    readonly high: readonly number[];
  };
}

const FAN_POINTS = 200;

/**
 * @param nets net results of closed trades in exit order; at least 2.
 * Seeded: the same seed gives the same bands. null for fewer than 2 trades.
 */
export function resampleTrades(nets: ArrayLike<number>, cash: number, draws = 2000, seed = 1): Resampling | null {
  const n = nets.length;
  if (n < 2) return null;
  const random = new Random(seed);
  const points = Math.min(FAN_POINTS, n);
  const at = Array.from({ length: points }, (_none, k) => Math.round(((k + 1) * n) / points));
  const paths = at.map(() => new Float64Array(draws));
  const order = Float64Array.from(nets);
  const drawn = new Float64Array(n);
  const [boot, shuffle] = [new Ends(draws), new Ends(draws)];
  for (let d = 0; d < draws; d++) {
    for (let i = 0; i < n; i++) drawn[i] = nets[Math.min(n - 1, Math.floor(random.next() * n))]!;
    let equity = cash;
    let point = 0;
    for (let i = 0; i < n; i++) {
      equity += drawn[i]!;
      if (at[point] === i + 1) paths[point++]![d] = equity;
    }
    boot.take(drawn, cash);
    random.shuffle(order);
    shuffle.take(order, cash);
  }
  for (const values of paths) values.sort();
  const level = (share: number): number[] => paths.map((values) => quantile(values, share)!);
  return {
    draws,
    seed,
    bootstrap: boot.bands(cash),
    reshuffle: shuffle.bands(cash),
    fan: { trades: at, low: level(0.05), middle: level(0.5), high: level(0.95) },
  };
}

class Ends {
  readonly #final: Float64Array;
  readonly #drawdown: Float64Array;
  #taken = 0;

  constructor(draws: number) {
    this.#final = new Float64Array(draws);
    this.#drawdown = new Float64Array(draws);
  }

  take(nets: Float64Array, cash: number): void {
    let [equity, peak, deepest] = [cash, cash, 0];
    for (let i = 0; i < nets.length; i++) {
      equity += nets[i]!;
      if (equity > peak) peak = equity;
      if (peak - equity > deepest) deepest = peak - equity;
    }
    this.#final[this.#taken] = equity;
    this.#drawdown[this.#taken++] = deepest;
  }

  bands(cash: number): Bands {
    const final = this.#final.slice().sort();
    const drawdown = this.#drawdown.slice().sort();
    const levels = (sorted: Float64Array): number[] => BAND_LEVELS.map((share) => quantile(sorted, share)!);
    let losing = 0;
    for (const value of final) if (value < cash) losing++;
    return {
      ...{ finalEquity: levels(final), maxDrawdown: levels(drawdown), rareDrawdown: quantile(drawdown, 0.99)! },
      lossProbability: losing / final.length,
    };
  }
}
