/**
 * 12,000 variants over 20,000 bars on all cores, through the threads of a plan process, against the single-purpose loop run as
 * often on one core, its time divided by the cores. Peak memory counts this process and the plan process.
 */
import { readFileSync } from "node:fs";
import { cpus } from "node:os";
import { type InputValues, resolveSettings, SWEEP_FIGURES } from "@plan-tester/core";
import { sharedThreads } from "@plan-tester/runner";
import { crossLoop } from "./cross-loop.ts";
import { INSTRUMENT, median, walk } from "./series.ts";
import { type Feeds, sweepThrough } from "./sweep-through.ts";

const BARS = 20_000;
const BATCH = 200;
const ROUNDS = 12;

const bars = walk(BARS, 11);
const settings = resolveSettings({ costs: INSTRUMENT.costs });
const variants: InputValues[] = [];
for (let fast = 5; fast <= 24; fast++)
  for (let slow = 30; slow <= 87; slow += 3)
    for (let stop = 20; stop <= 60; stop += 8)
      for (let target = 40; target <= 120; target += 20) variants.push({ fast, slow, stop, target });
if (variants.length !== 12_000) throw new Error(`There should be 12,000 variants, not ${variants.length}.`);

const FEEDS: Feeds = [{ instrument: INSTRUMENT, data: { key: "walk", series: bars, finer: null } }];
const threads = sharedThreads(cpus().length);
const width = SWEEP_FIGURES.length;
const figures = new Float64Array(variants.length * width);

/** Resident memory of a process at its peak, MB. */
function peakMemory(pid: number | undefined): number {
  return Number(/VmHWM:\s*(\d+)/.exec(readFileSync(`/proc/${pid ?? "self"}/status`, "utf8"))?.[1] ?? 0) / 1024;
}

// The process is started ahead, as the server keeps it.
for (const thread of threads) await sweepThrough([thread], variants.slice(0, 1), FEEDS, settings, BATCH);
const equity = new Float64Array(BARS);
const nets: { net: number; trades: number }[] = [];
const ratios: number[] = [];
let [sweepMs, loopMs] = [0, 0];
for (let round = 0; round < ROUNDS; round++) {
  // The two sides of a round follow each other, so that a slow moment of the machine meets both.
  const from = (round * variants.length) / ROUNDS;
  const to = ((round + 1) * variants.length) / ROUNDS;
  const began = performance.now();
  figures.set(await sweepThrough(threads, variants.slice(from, to), FEEDS, settings, BATCH), from * width);
  const between = performance.now();
  for (let v = from; v < to; v++) {
    const { fast, slow, stop, target } = variants[v]!;
    const { net, trades } = crossLoop(bars, INSTRUMENT, Number(fast), Number(slow), Number(stop), Number(target), settings.cash, equity);
    nets.push({ net, trades });
  }
  const ended = performance.now();
  sweepMs += between - began;
  loopMs += ended - between;
  ratios.push(((between - began) * threads.length) / (ended - between));
}
const memory = peakMemory(undefined) + peakMemory(threads[0]!.pid);
threads[0]!.kill("done");

nets.forEach(({ net, trades }, v) => {
  if (Math.abs(figures[v * width]! - net) > 1e-6 * Math.max(1, Math.abs(net)) || figures[v * width + 1] !== trades)
    throw new Error(
      `Variant ${JSON.stringify(variants[v])} differs: net ${figures[v * width]} and ${net}, trades ${figures[v * width + 1]} and ${trades}.`,
    );
});
console.log(
  `  sweep ${(sweepMs / 1000).toFixed(2)} s in ${threads.length} threads, loop ${(loopMs / 1000).toFixed(2)} s on one core; peak memory ${memory.toFixed(0)} MB of 600`,
);
if (memory > 600) throw new Error(`Peak memory is ${memory.toFixed(0)} MB; the most is 600.`);
console.log(`bench sweep ratio ${median(ratios).toFixed(2)}`);
process.exit(0);
