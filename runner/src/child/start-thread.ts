/** Starts a worker thread with the file that this process was started with: a bundle, or the TypeScript source when running unbundled. */
import { pathToFileURL } from "node:url";
import { Worker, type WorkerOptions } from "node:worker_threads";

export function startThread(options: WorkerOptions): Worker {
  const file = process.argv[1]!;
  if (!file.endsWith(".ts")) return new Worker(file, options);
  // What turns TypeScript into JavaScript has to be asked for in each thread.
  const code = `import("tsx/esm/api").then(({ register }) => { register(); return import(${JSON.stringify(pathToFileURL(file).href)}); });`;
  return new Worker(code, { ...options, eval: true });
}
