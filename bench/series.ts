/** Seeded bars for the benchmarks: a random walk on a grid of 0.25, one bar a minute, around the clock. */
import { ALWAYS_OPEN, type BarSeries, type Instrument, makeSeries, NO_COSTS, Random } from "@plan-tester/core";

export const INSTRUMENT: Instrument = {
  symbol: "WALK",
  name: "Random walk",
  class: "other",
  currency: "XSC",
  tickSize: 0.25,
  pipSize: 0.25,
  pointValue: 20,
  decimals: 2,
  minQuantity: 1,
  quantityStep: 1,
  calendar: ALWAYS_OPEN,
  costs: { ...NO_COSTS, commissionPerUnit: 2, spreadTicks: 1, slippageTicks: 1 },
  note: "",
};

export function walk(length: number, seed: number): BarSeries {
  const random = new Random(seed);
  const column = (): Float64Array => new Float64Array(length);
  const [time, open, high, low, close, volume] = [column(), column(), column(), column(), column(), column()];
  const start = Date.UTC(2023, 0, 2);
  let price = 16_000;
  for (let i = 0; i < length; i++) {
    const o = price;
    const c = Math.max(400, o + Math.round(random.normal() * 6));
    const h = Math.max(o, c) + Math.floor(random.next() * 5);
    const l = Math.min(o, c) - Math.floor(random.next() * 5);
    time[i] = start + i * 60_000;
    open[i] = o / 4;
    high[i] = h / 4;
    low[i] = l / 4;
    close[i] = c / 4;
    volume[i] = 100;
    price = c;
  }
  return makeSeries({ time, open, high, low, close, volume }, "1m", ALWAYS_OPEN);
}

export function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

export function timed<T>(work: () => T): { ms: number; value: T } {
  const began = performance.now();
  const value = work();
  return { ms: performance.now() - began, value };
}

export const close = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(a));

/** Ratio of two works by rounds in which one follows the other, so that a slow moment of the machine meets both. */
export function ratioOf(rounds: number, engine: () => unknown, loop: () => unknown) {
  const engines: number[] = [];
  const loops: number[] = [];
  for (let round = 0; round < rounds; round++) {
    engines.push(timed(engine).ms);
    loops.push(timed(loop).ms);
  }
  return { ratio: median(engines.map((ms, k) => ms / loops[k]!)), engineMs: median(engines), loopMs: median(loops) };
}
