/** Starts the exchange's thread: the bundle beside this one, or the TypeScript source when running unbundled. */
import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { Worker } from "node:worker_threads";
import type { ThreadStart } from "./thread-protocol.ts";

export function startExchangeThread(workerData: ThreadStart): Worker {
  const here = dirname(fileURLToPath(import.meta.url));
  const bundled = join(here, "exchange-thread.js");
  if (existsSync(bundled)) return new Worker(bundled, { workerData });
  const source = pathToFileURL(join(here, "exchange-thread.ts")).href;
  // What turns TypeScript into JavaScript has to be asked for in each thread.
  const code = `import("tsx/esm/api").then(({ register }) => { register(); return import(${JSON.stringify(source)}); });`;
  return new Worker(code, { workerData, eval: true });
}
