/**
 * Long sliding windows in O(n): each is put together from the end of one block and the start of the next, blocks as long as
 * the window.
 *
 *      |.....block.....|.....block.....|
 *             [..tail..|..head..]            the window
 *
 * Only values inside the window are ever added up, so nothing that has left it can spoil a value, and the result is as
 * exact as adding up each window afresh.
 */
import type { ColumnValues } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** Windows up to this long are computed afresh, which is quicker and keeps their values to the last bit. */
export const SHORT_WINDOW = 64;

/**
 * Aggregates of a block's tails and of the head that grows: `width` numbers each.
 * @param prepend makes the aggregate at `to` from that at `from` with one more value ahead of it
 * @param append takes one more value behind the head; `count` values are in it already
 * @param combine the window's value from a tail of so many values and the head
 */
export interface WindowParts {
  readonly width: number;
  prepend(tails: Float64Array, from: number, to: number, index: number, count: number): void;
  append(head: Float64Array, index: number, count: number): void;
  combine(tails: Float64Array, at: number, tailCount: number, head: Float64Array, headCount: number, index: number): number;
}

/** One value for each window of `length` values of columns that begin at `start`. O(n). */
export function overBlocks(n: number, start: number, length: number, { width, prepend, append, combine }: WindowParts): ColumnValues {
  const first = start + length - 1;
  const out = newColumn(n, first);
  // Slot k holds the tail of the last block that begins at its value k; the one past the end is empty.
  const tails = new Float64Array((length + 1) * width);
  const head = new Float64Array(width);
  // From the start of the block in which the first value to be written lies, behind a whole block or none.
  const from = startAt(first);
  const blocks = Math.floor((startAt(start) - start) / length);
  let count = blocks > 0 ? length : 0;
  for (let i = start + blocks * length; i < n; i++) {
    if (count === length) {
      tails.fill(0, length * width);
      for (let k = length - 1; k >= 0; k--) prepend(tails, (k + 1) * width, k * width, i - length + k, length - 1 - k);
      head.fill(0);
      count = 0;
    }
    append(head, i, count);
    count++;
    if (i >= from) out[i] = combine(tails, count * width, length - count, head, count, i);
  }
  return { values: out, first };
}

/** The sum of a term over each window, and what is made of it. */
export const sumOver = (
  n: number,
  start: number,
  length: number,
  term: (index: number) => number,
  value: (sum: number, index: number) => number = (sum) => sum,
): ColumnValues =>
  overBlocks(n, start, length, {
    width: 1,
    prepend(tails, from, to, index) {
      tails[to] = tails[from]! + term(index);
    },
    append(head, index) {
      head[0]! += term(index);
    },
    combine: (tails, at, tailCount, head, _headCount, index) => value(tailCount === 0 ? head[0]! : tails[at]! + head[0]!, index),
  });

/** Linearly weighted sums: weight 1 for the oldest value of a window, `length` for the newest. */
export const weightedSumOver = (values: Float64Array, start: number, length: number, value: (sum: number) => number): ColumnValues =>
  overBlocks(values.length, start, length, {
    width: 2,
    // Everything behind a new first value weighs one more.
    prepend(tails, from, to, index) {
      tails[to + 1] = tails[from + 1]! + values[index]!;
      tails[to] = tails[from]! + tails[to + 1]!;
    },
    append(head, index, count) {
      head[0]! += (count + 1) * values[index]!;
      head[1]! += values[index]!;
    },
    combine: (tails, at, tailCount, head) => value(tailCount === 0 ? head[0]! : tails[at]! + head[0]! + tailCount * head[1]!),
  });

/** Sums of squared distances from the mean, and the mean, by Welford's updates and Chan's way of joining two parts. */
export const squaresOver = (
  values: Float64Array,
  start: number,
  length: number,
  value: (squares: number, mean: number, index: number) => number,
): ColumnValues => {
  const take = (part: Float64Array, from: number, to: number, x: number, count: number): void => {
    const away = x - part[from]!;
    const mean = part[from]! + away / (count + 1);
    part[to + 1] = part[from + 1]! + away * (x - mean);
    part[to] = mean;
  };
  return overBlocks(values.length, start, length, {
    width: 2,
    prepend: (tails, from, to, index, count) => take(tails, from, to, values[index]!, count),
    append: (head, index, count) => take(head, 0, 0, values[index]!, count),
    combine(tails, at, tailCount, head, headCount, index) {
      if (tailCount === 0) return value(head[1]!, head[0]!, index);
      const apart = head[0]! - tails[at]!;
      const mean = tails[at]! + (apart * headCount) / length;
      return value(tails[at + 1]! + head[1]! + (apart * apart * tailCount * headCount) / length, mean, index);
    },
  });
};

/** Sums of products and of squares of distances from the means of two columns. */
export interface Products {
  meanX: number;
  meanY: number;
  xx: number;
  yy: number;
  xy: number;
}

/** The same for two columns at once; the object that `value` gets is one and the same. */
export function productsOver(
  x: Float64Array,
  y: Float64Array,
  start: number,
  length: number,
  value: (products: Readonly<Products>) => number,
): ColumnValues {
  const told: Products = { meanX: 0, meanY: 0, xx: 0, yy: 0, xy: 0 };
  // A part is mean of x, mean of y, xx, yy, xy.
  const take = (part: Float64Array, from: number, to: number, index: number, count: number): void => {
    const [awayX, awayY] = [x[index]! - part[from]!, y[index]! - part[from + 1]!];
    const meanX = part[from]! + awayX / (count + 1);
    const meanY = part[from + 1]! + awayY / (count + 1);
    part[to + 2] = part[from + 2]! + awayX * (x[index]! - meanX);
    part[to + 3] = part[from + 3]! + awayY * (y[index]! - meanY);
    part[to + 4] = part[from + 4]! + awayX * (y[index]! - meanY);
    part[to] = meanX;
    part[to + 1] = meanY;
  };
  return overBlocks(x.length, start, length, {
    width: 5,
    prepend: take,
    append: (head, index, count) => take(head, 0, 0, index, count),
    combine(tails, at, tailCount, head, headCount) {
      const [apartX, apartY] = tailCount === 0 ? [0, 0] : [head[0]! - tails[at]!, head[1]! - tails[at + 1]!];
      const shared = (tailCount * headCount) / length;
      const tail = (k: number): number => (tailCount === 0 ? 0 : tails[at + k]!);
      told.meanX = head[0]! - (apartX * tailCount) / length;
      told.meanY = head[1]! - (apartY * tailCount) / length;
      told.xx = tail(2) + head[2]! + apartX * apartX * shared;
      told.yy = tail(3) + head[3]! + apartY * apartY * shared;
      told.xy = tail(4) + head[4]! + apartX * apartY * shared;
      return value(told);
    },
  });
}
