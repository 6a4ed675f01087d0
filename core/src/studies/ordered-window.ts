/** Distinct values of a column, rising, NaN last; and for each place of the column the rank of its value. */
export class Ranks {
  readonly values: Float64Array;
  readonly of: Int32Array;

  constructor(column: Float64Array) {
    const sorted = Float64Array.from(column).sort();
    let distinct = 0;
    for (let i = 0; i < sorted.length; i++)
      if (distinct === 0 || (sorted[i] !== sorted[distinct - 1] && !(Number.isNaN(sorted[i]!) && Number.isNaN(sorted[distinct - 1]!))))
        sorted[distinct++] = sorted[i]!;
    this.values = sorted.slice(0, distinct);
    this.of = Int32Array.from(column, (value) => this.place(value));
  }

  /** The rank of the first value at or above `value`; the last one where none is. */
  place(value: number): number {
    let [low, high] = [0, this.values.length - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.values[middle]! < value || Number.isNaN(value)) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

/**
 * The values of a sliding window in order: how many are below one, and which is the k-th. A Fenwick tree (Fenwick 1994) of
 * counts over the ranks of all values of the column, so a step costs O(log n).
 */
export class OrderedWindow {
  readonly #ranks: Ranks;
  readonly #counts: Int32Array;
  readonly #tree: Int32Array;
  readonly #top: number;

  constructor(values: Float64Array) {
    this.#ranks = new Ranks(values);
    const distinct = this.#ranks.values.length;
    this.#counts = new Int32Array(distinct);
    this.#tree = new Int32Array(distinct + 1);
    this.#top = distinct === 0 ? 0 : 2 ** Math.floor(Math.log2(distinct));
  }

  #change(index: number, by: number): void {
    const rank = this.#ranks.of[index]!;
    this.#counts[rank]! += by;
    const tree = this.#tree;
    for (let k = rank + 1; k < tree.length; k += k & -k) tree[k]! += by;
  }

  /** @param index place of the value in the column */
  add(index: number): void {
    this.#change(index, 1);
  }

  remove(index: number): void {
    this.#change(index, -1);
  }

  /** How many values of the window are below that at a place of the column. */
  below(index: number): number {
    let count = 0;
    for (let k = this.#ranks.of[index]!; k > 0; k -= k & -k) count += this.#tree[k]!;
    return count;
  }

  /** How many are equal to it. */
  equal(index: number): number {
    return this.#counts[this.#ranks.of[index]!]!;
  }

  /** The k-th value of the window, 0 the lowest. */
  at(k: number): number {
    let place = 0;
    let left = k;
    for (let step = this.#top; step > 0; step >>= 1) {
      if (place + step >= this.#tree.length || this.#tree[place + step]! > left) continue;
      place += step;
      left -= this.#tree[place]!;
    }
    return this.#ranks.values[place]!;
  }
}
