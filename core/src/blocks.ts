/** Resampling of values in a row that may depend on those near them. */
import type { Random } from "./random.ts";

/**
 * Fills `order` with places of its own length in blocks of random length, begun anywhere and going round the end (Politis &
 * Romano 1994, the stationary bootstrap).
 * @param block mean length of a block; 1 draws each place for itself
 */
export function drawBlocks(order: Int32Array, block: number, random: Random): void {
  const n = order.length;
  let at = 0;
  for (let i = 0; i < n; i++) {
    at = i === 0 || random.next() * block < 1 ? Math.min(n - 1, Math.floor(random.next() * n)) : at + 1 === n ? 0 : at + 1;
    order[i] = at;
  }
}
