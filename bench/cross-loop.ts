/**
 * The other side of the engine's benchmarks: one loop written for one strategy only. Two exponential averages cross; when
 * flat, enter at the next open; stop and target from the fill; one unit; commission, spread and slippage. The bar path is
 * the assumed one. It gives net, trades, equity at each close and the deepest drawdown.
 */
import { type BarSeries, type FinerBars, firstExtreme, type Instrument } from "@plan-tester/core";

export interface LoopResult {
  readonly net: number;
  readonly trades: number;
  readonly maxDrawdown: number;
  readonly equity: Float64Array;
}

export function crossLoop(
  bars: BarSeries,
  instrument: Instrument,
  fast: number,
  slow: number,
  stopTicks: number,
  targetTicks: number,
  cash: number,
  equity: Float64Array,
): LoopResult {
  const { open, high, low, close, length } = bars;
  const { tickSize, pointValue, costs } = instrument;
  const half = (costs.spreadTicks * tickSize) / 2;
  const slip = costs.slippageTicks * tickSize;
  const fee = costs.commissionPerUnit;
  const fastWeight = 2 / (fast + 1);
  const slowWeight = 2 / (slow + 1);
  let fastMean = 0;
  let slowMean = 0;
  let fastBefore = 0;
  let slowBefore = 0;
  let fastSum = 0;
  let slowSum = 0;
  let side = 0;
  let entry = 0;
  let stop = 0;
  let target = 0;
  let order = 0;
  let trades = 0;
  let balance = cash;
  let peak = cash;
  let drawdown = 0;
  const grid = (price: number, up: boolean): number => {
    const ticks = price / tickSize;
    const nearest = Math.round(ticks);
    return (Math.abs(ticks - nearest) < 1e-6 ? nearest : up ? Math.ceil(ticks) : Math.floor(ticks)) * tickSize;
  };
  for (let i = 0; i < length; i++) {
    if (order !== 0) {
      side = order;
      order = 0;
      entry = open[i]! + side * (half + slip);
      balance -= fee;
      stop = grid(entry - side * stopTicks * tickSize, side < 0);
      target = grid(entry + side * targetTicks * tickSize, side > 0);
    }
    if (side !== 0) {
      const h = high[i]!;
      const l = low[i]!;
      const stopAt = stop + side * half;
      const targetAt = target + side * half;
      const stopHit = side > 0 ? l <= stopAt : h >= stopAt;
      const targetHit = side > 0 ? h >= targetAt : l <= targetAt;
      if (stopHit || targetHit) {
        const o = open[i]!;
        const highFirst = firstExtreme(o, h, l, close[i]!) === "high";
        const gapStop = side > 0 ? o <= stopAt : o >= stopAt;
        const gapTarget = side > 0 ? o >= targetAt : o <= targetAt;
        const stopFirst = gapStop || (stopHit && !gapTarget && (!targetHit || highFirst !== side > 0));
        const exit = stopFirst ? (gapStop ? o - side * half : stop) - side * slip : gapTarget ? o - side * half : target;
        balance += side * (exit - entry) * pointValue - fee;
        trades++;
        side = 0;
      }
    }
    const c = close[i]!;
    if (i < fast) fastSum += c;
    if (i < slow) slowSum += c;
    fastBefore = fastMean;
    slowBefore = slowMean;
    fastMean = i === fast - 1 ? fastSum / fast : fastMean + fastWeight * (c - fastMean);
    slowMean = i === slow - 1 ? slowSum / slow : slowMean + slowWeight * (c - slowMean);
    const value = balance + (side === 0 ? 0 : side * (c - entry) * pointValue);
    equity[i] = value;
    if (value > peak) peak = value;
    else if (peak - value > drawdown) drawdown = peak - value;
    if (i >= slow && side === 0) {
      if (fastMean > slowMean && fastBefore <= slowBefore) order = 1;
      else if (fastMean < slowMean && fastBefore >= slowBefore) order = -1;
    }
  }
  if (side !== 0) {
    balance += side * (close[length - 1]! - entry) * pointValue;
    trades++;
  }
  return { net: balance - cash, trades, maxDrawdown: drawdown, equity };
}

/** The same on coarse bars whose stop and target are looked for bar by bar in the finer series inside. */
export function finerLoop(
  bars: BarSeries,
  finer: FinerBars,
  instrument: Instrument,
  fast: number,
  slow: number,
  stopTicks: number,
  targetTicks: number,
  cash: number,
  equity: Float64Array,
): LoopResult {
  const { close, length } = bars;
  const { open, high, low, close: fineClose } = finer.series;
  const { first } = finer;
  const { tickSize, pointValue, costs } = instrument;
  const half = (costs.spreadTicks * tickSize) / 2;
  const slip = costs.slippageTicks * tickSize;
  const fee = costs.commissionPerUnit;
  const fastWeight = 2 / (fast + 1);
  const slowWeight = 2 / (slow + 1);
  let [fastMean, slowMean, fastBefore, slowBefore, fastSum, slowSum] = [0, 0, 0, 0, 0, 0];
  let [side, entry, stop, target, order, trades] = [0, 0, 0, 0, 0, 0];
  let [balance, peak, drawdown] = [cash, cash, 0];
  const grid = (price: number, up: boolean): number => {
    const ticks = price / tickSize;
    const nearest = Math.round(ticks);
    return (Math.abs(ticks - nearest) < 1e-6 ? nearest : up ? Math.ceil(ticks) : Math.floor(ticks)) * tickSize;
  };
  for (let i = 0; i < length; i++) {
    if (order !== 0) {
      side = order;
      order = 0;
      entry = open[first[i]!]! + side * (half + slip);
      balance -= fee;
      stop = grid(entry - side * stopTicks * tickSize, side < 0);
      target = grid(entry + side * targetTicks * tickSize, side > 0);
    }
    if (side !== 0) {
      const stopAt = stop + side * half;
      const targetAt = target + side * half;
      const end = first[i + 1]!;
      for (let j = first[i]!; j < end; j++) {
        const h = high[j]!;
        const l = low[j]!;
        const stopHit = side > 0 ? l <= stopAt : h >= stopAt;
        const targetHit = side > 0 ? h >= targetAt : l <= targetAt;
        if (!stopHit && !targetHit) continue;
        const o = open[j]!;
        const highFirst = firstExtreme(o, h, l, fineClose[j]!) === "high";
        const gapStop = side > 0 ? o <= stopAt : o >= stopAt;
        const gapTarget = side > 0 ? o >= targetAt : o <= targetAt;
        const stopFirst = gapStop || (stopHit && !gapTarget && (!targetHit || highFirst !== side > 0));
        const exit = stopFirst ? (gapStop ? o - side * half : stop) - side * slip : gapTarget ? o - side * half : target;
        balance += side * (exit - entry) * pointValue - fee;
        trades++;
        side = 0;
        break;
      }
    }
    const c = close[i]!;
    if (i < fast) fastSum += c;
    if (i < slow) slowSum += c;
    fastBefore = fastMean;
    slowBefore = slowMean;
    fastMean = i === fast - 1 ? fastSum / fast : fastMean + fastWeight * (c - fastMean);
    slowMean = i === slow - 1 ? slowSum / slow : slowMean + slowWeight * (c - slowMean);
    const value = balance + (side === 0 ? 0 : side * (c - entry) * pointValue);
    equity[i] = value;
    if (value > peak) peak = value;
    else if (peak - value > drawdown) drawdown = peak - value;
    if (i >= slow && side === 0) {
      if (fastMean > slowMean && fastBefore <= slowBefore) order = 1;
      else if (fastMean < slowMean && fastBefore >= slowBefore) order = -1;
    }
  }
  if (side !== 0) {
    balance += side * (close[length - 1]! - entry) * pointValue;
    trades++;
  }
  return { net: balance - cash, trades, maxDrawdown: drawdown, equity };
}

export const CROSS_SOURCE = `export default plan({
  title: "Cross",
  inputs: { fast: whole(21), slow: whole(55), stop: whole(60), target: whole(120) },
  build({ bars, inputs, when, enter, position }) {
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    const exits = { stopLoss: ticks(inputs.stop), target: ticks(inputs.target) };
    when(crossesAbove(fast, slow), () => {
      if (position.flat) enter.long(exits);
    });
    when(crossesBelow(fast, slow), () => {
      if (position.flat) enter.short(exits);
    });
  },
});
`;
