/**
 * Lowest and highest value of stretches of a column. Of long columns those of blocks are kept, so that half a million values
 * in view are not looked at one by one for each frame.
 */
const BLOCK = 64;
/** Shorter stretches are looked through. */
const LEAST = 4 * BLOCK;

interface Blocks {
  readonly low: Float64Array;
  readonly high: Float64Array;
}

const kept = new WeakMap<Float64Array, Blocks>();

function blocksOf(values: Float64Array): Blocks {
  const known = kept.get(values);
  if (known) return known;
  const count = Math.floor(values.length / BLOCK);
  const blocks = { low: new Float64Array(count), high: new Float64Array(count) };
  for (let block = 0; block < count; block++) {
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    const end = (block + 1) * BLOCK;
    for (let i = block * BLOCK; i < end; i++) {
      const value = values[i]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
    blocks.low[block] = low;
    blocks.high[block] = high;
  }
  kept.set(values, blocks);
  return blocks;
}

/** Of values [from, to], NaN passed over; null where none is a number. A column that has been asked about must not change. */
export function columnRange(values: Float64Array, from: number, to: number): readonly [number, number] | null {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  const first = Math.max(0, from);
  const last = Math.min(values.length - 1, to);
  const look = (start: number, end: number): void => {
    for (let i = start; i < end; i++) {
      const value = values[i]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  };
  if (last - first < LEAST) look(first, last + 1);
  else {
    const blocks = blocksOf(values);
    const [start, end] = [Math.ceil(first / BLOCK), Math.floor((last + 1) / BLOCK)];
    look(first, start * BLOCK);
    for (let block = start; block < end; block++) {
      if (blocks.low[block]! < low) low = blocks.low[block]!;
      if (blocks.high[block]! > high) high = blocks.high[block]!;
    }
    look(end * BLOCK, last + 1);
  }
  return low <= high ? [low, high] : null;
}
