/** Starts the exchange's thread: the bundle beside this one, or the TypeScript source when running unbundled. */
import { Worker } from "node:worker_threads";
import { bundleOf } from "@plan-tester/demo/root";
import type { ThreadStart } from "./thread-protocol.ts";

export function startExchangeThread(workerData: ThreadStart): Worker {
  const bundled = bundleOf("exchange-thread.js", import.meta.url);
  if (bundled) return new Worker(bundled, { workerData });
  const source = new URL("exchange-thread.ts", import.meta.url).href;
  // What turns TypeScript into JavaScript has to be asked for in each thread.
  const code = `import("tsx/esm/api").then(({ register }) => { register(); return import(${JSON.stringify(source)}); });`;
  return new Worker(code, { workerData, eval: true });
}
