import { Ranks } from "./ordered-window.ts";

/**
 * Mean and absolute deviations of a sliding window: a tree of counts and sums over the ranks of all values of the column.
 * A step costs O(log n). Each node is added up afresh from the two below it, so what has left the window leaves no trace.
 */
export class DeviationWindow {
  readonly #ranks: Ranks;
  /** Node 1 is the root, the two below node k are 2k and 2k + 1; the leaves begin at `#leaves`. */
  readonly #counts: Float64Array;
  readonly #sums: Float64Array;
  readonly #leaves: number;
  /** Sums are of distances from it: they keep digits that sums of large values would lose. */
  readonly #origin: number;

  constructor(values: Float64Array) {
    this.#ranks = new Ranks(values);
    const { length } = this.#ranks.values;
    this.#leaves = 2 ** Math.ceil(Math.log2(Math.max(1, length)));
    this.#counts = new Float64Array(2 * this.#leaves);
    this.#sums = new Float64Array(2 * this.#leaves);
    this.#origin = this.#ranks.values[length >> 1] ?? 0;
  }

  #change(index: number, by: number): void {
    const rank = this.#ranks.of[index]!;
    const [counts, sums] = [this.#counts, this.#sums];
    let node = this.#leaves + rank;
    counts[node]! += by;
    sums[node] = counts[node]! * (this.#ranks.values[rank]! - this.#origin);
    for (node >>= 1; node > 0; node >>= 1) {
      counts[node] = counts[2 * node]! + counts[2 * node + 1]!;
      sums[node] = sums[2 * node]! + sums[2 * node + 1]!;
    }
  }

  /** @param index place of the value in the column */
  add(index: number): void {
    this.#change(index, 1);
  }

  remove(index: number): void {
    this.#change(index, -1);
  }

  get mean(): number {
    return this.#origin + this.#sums[1]! / this.#counts[1]!;
  }

  /** Mean distance of the window's values from their mean. */
  get meanDeviation(): number {
    const mean = this.#sums[1]! / this.#counts[1]!;
    let below = 0;
    let sum = 0;
    for (let node = this.#leaves + this.#ranks.place(this.#origin + mean); node > 1; node >>= 1)
      if (node % 2 === 1) {
        below += this.#counts[node - 1]!;
        sum += this.#sums[node - 1]!;
      }
    // As much lies above the mean as below it.
    return (2 * Math.max(0, below * mean - sum)) / this.#counts[1]!;
  }
}
