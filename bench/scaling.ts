/**
 * Sweeps from one thread of a plan process to two; the probability of overfitting of 1,000 settings over 1,500 days; and a walk-forward of
 * 20 windows by 500 settings over 100,000 bars, as the server carries it out: a sweep for each window on all cores.
 */
import { cpus } from "node:os";
import { type InputValues, overfitting, Random, resolveSettings, sliceSeries } from "@plan-tester/core";
import { type PlanProcess, sharedThreads, sweepPlan } from "@plan-tester/runner";
import { CROSS_SOURCE } from "./cross-loop.ts";
import { INSTRUMENT, median, walk } from "./series.ts";
import { type Feeds, sweepThrough } from "./sweep-through.ts";

const settings = resolveSettings({ costs: INSTRUMENT.costs });
const variants: InputValues[] = [];
for (let fast = 5; fast <= 24; fast++) for (let slow = 30; slow <= 79; slow += 2) variants.push({ fast, slow, stop: 40, target: 80 });
if (variants.length !== 500) throw new Error(`There should be 500 settings, not ${variants.length}.`);
const withStops = [30, 40, 50, 60].flatMap((stop) => variants.map((variant) => ({ ...variant, stop })));

const BATCH = 200;
const ROUNDS = 7;
/** Until both threads run compiled code: what a sweep of some thousand variants soon does. */
const WARMING = 2;

const threads = sharedThreads(2);
const sweep = (through: readonly PlanProcess[], tried: readonly InputValues[], feeds: Feeds): Promise<Float64Array> =>
  sweepThrough(through, tried, feeds, settings, BATCH);
const whole: Feeds = [{ instrument: INSTRUMENT, data: { key: "whole", series: walk(20_000, 5), finer: null } }];
for (let round = 0; round < WARMING; round++) for (const thread of threads) await sweep([thread], withStops, whole);
const ratios: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  const began = performance.now();
  const one = await sweep([threads[round % 2]!], withStops, whole);
  const between = performance.now();
  const two = await sweep(threads, withStops, whole);
  ratios.push((between - began) / (performance.now() - between));
  if (one.some((value, i) => !Object.is(value, two[i]))) throw new Error("One thread and two give different figures.");
}
console.log(`bench scaling ratio ${median(ratios).toFixed(2)} from one thread to two on ${cpus().length} cores (goal 1.8)`);

const random = new Random(3);
const returns = Float64Array.from({ length: 1000 * 1500 }, () => random.normal() / 100);
let began = performance.now();
const { probability, logits } = overfitting(returns, 1000, 16);
if (logits.length !== 12_870) throw new Error(`There should be 12,870 ways, not ${logits.length}.`);
console.log(
  `bench overfitting 1,000 settings x 1,500 days, 12,870 ways: ${((performance.now() - began) / 1000).toFixed(2)} s (probability ${probability.toFixed(2)})`,
);

const series = walk(100_000, 9);
const [inside, outside, windows] = [20_000, 4000, 20];
began = performance.now();
for (let k = 0; k < windows; k++) {
  const start = inside + k * outside;
  const cut = (from: number, to: number): Feeds => [
    { instrument: INSTRUMENT, data: { key: `${from}:${to}`, series: sliceSeries(series, from, to), finer: null } },
  ];
  const figures = await sweep(threads, variants, cut(start - inside, start));
  if (figures.length === 0) throw new Error("A window found nothing.");
  await sweepPlan(threads[0]!, {
    source: CROSS_SOURCE,
    variants: variants.slice(0, 1),
    stretches: [cut(start, start + outside)],
    settings,
  });
}
console.log(`bench walk-forward 20 windows x 500 settings over 100,000 bars: ${((performance.now() - began) / 1000).toFixed(1)} s`);
threads[0]!.kill("done");
process.exit(0);
