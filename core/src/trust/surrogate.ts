/**
 * A market without memory: the moves of a real one with two fair coins a bar, one for the gap ahead of it and one for the
 * move inside it. Volatility and its clusters, hours, sizes of gaps and volumes stay; every dependence of direction on the
 * past goes. The drift stays too: being long in a rising market is no skill.
 */
import type { BarColumns } from "../market/bars.ts";
import { toGrid } from "../market/price-grid.ts";

/** 32 bits that depend on a time and a seed alone: bars of other instruments may be missing (finaliser of MurmurHash3, Appleby 2011). */
function mixed(seed: number, time: number): number {
  let z = Math.imul(seed ^ Math.floor(time / 4_294_967_296), 0x9e3779b1) ^ ((time % 4_294_967_296) | 0);
  z = Math.imul(z ^ (z >>> 16), 0x85ebca6b);
  z = Math.imul(z ^ (z >>> 13), 0xc2b2ae35);
  return (z ^ (z >>> 16)) >>> 0;
}

/** Two coins of each time: instruments that share a seed share them, so that their correlation stays. */
function coinsOf(time: Float64Array, seed: number): Uint8Array {
  const coins = new Uint8Array(time.length);
  for (let i = 0; i < time.length; i++) coins[i] = mixed(seed, time[i]!) >>> 30;
  return coins;
}

/**
 * @param columns bars with prices above 0; not changed. @param seed the same gives the same coins at the same times
 * @returns columns of their own; times, volumes and spreads are those of `columns`
 */
export function surrogateBars(columns: BarColumns, tickSize: number, seed: number): BarColumns {
  const { time, open, high, low, close } = columns;
  const n = time.length;
  let drift = 0;
  for (let i = 0; i < n; i++) drift += Math.log(close[i]! / (i > 0 ? close[i - 1]! : open[0]!));
  drift /= Math.max(1, n);
  const coins = coinsOf(time, seed);
  const made = { open: new Float64Array(n), high: new Float64Array(n), low: new Float64Array(n), close: new Float64Array(n) };
  const onGrid = (price: number): number => Math.max(tickSize, toGrid(price, tickSize, "nearest"));
  let before = n > 0 ? Math.log(open[0]!) : 0;
  for (let i = 0; i < n; i++) {
    const gap = i > 0 ? Math.log(open[i]! / close[i - 1]!) : 0;
    const move = Math.log(close[i]! / open[i]!);
    const up = Math.log(high[i]! / open[i]!);
    const down = Math.log(low[i]! / open[i]!);
    const isTurned = (coins[i]! & 1) === 1;
    const opens = before + ((coins[i]! & 2) === 2 ? -gap : gap);
    const closes = opens + (isTurned ? -move : move) + drift;
    made.open[i] = onGrid(Math.exp(opens));
    made.close[i] = onGrid(Math.exp(closes));
    made.high[i] = Math.max(made.open[i]!, made.close[i]!, onGrid(Math.exp(opens + (isTurned ? -down : up))));
    made.low[i] = Math.min(made.open[i]!, made.close[i]!, onGrid(Math.exp(opens + (isTurned ? -up : down))));
    before = closes;
  }
  return { ...columns, ...made };
}
