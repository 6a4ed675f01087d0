/** What this machine itself gives: the hand-written loop on one thread, and on two that share nothing. Scaling can't be above it. */
import { cpus } from "node:os";
import { isMainThread, parentPort, Worker } from "node:worker_threads";
import { crossLoop } from "./cross-loop.ts";
import { INSTRUMENT, median, walk } from "./series.ts";

const LOOPS = 400;
const ROUNDS = 7;

if (isMainThread) {
  const workers = [0, 1].map(() => new Worker(new URL(import.meta.url)));
  const answer = (worker: Worker): Promise<unknown> => new Promise((resolve) => worker.once("message", resolve));
  const loops = async (worker: Worker, count: number): Promise<void> => {
    const done = answer(worker);
    worker.postMessage(count);
    await done;
  };
  for (const worker of workers) await loops(worker, LOOPS / 4);
  const ratios: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    await loops(workers[0]!, LOOPS);
    const between = performance.now();
    await Promise.all(workers.map((worker) => loops(worker, LOOPS / 2)));
    ratios.push((between - began) / (performance.now() - between));
  }
  console.log(`bench machine ratio ${median(ratios).toFixed(2)} from one thread to two that share nothing, on ${cpus().length} cores`);
  process.exit(0);
} else {
  const bars = walk(20_000, 5);
  const equity = new Float64Array(bars.length);
  parentPort!.on("message", (count: number) => {
    let net = 0;
    for (let k = 0; k < count; k++) net += crossLoop(bars, INSTRUMENT, 5 + (k % 20), 55, 40, 80, 100_000, equity).net;
    parentPort!.postMessage(net);
  });
}
