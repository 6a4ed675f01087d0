/** What a sweep costs that goes over a queue to a worker on this machine, beside the same sweep in the server's own processes. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { cpus } from "node:os";
import { unpackColumns } from "@plan-tester/contract";
import { workspaceRoot } from "@plan-tester/demo/root";
import { type Served, serveApp } from "./app.ts";
import { median } from "./series.ts";

const ROUNDS = 3;
const PORT = 4398;
const QUEUE = `redis://127.0.0.1:${PORT}`;
const VARIANTS = 2000;

async function started(command: string, args: readonly string[], isReady: RegExp, env: NodeJS.ProcessEnv = {}): Promise<ChildProcess> {
  const child = spawn(command, args, { cwd: workspaceRoot(), env: { ...process.env, ...env }, stdio: ["ignore", "pipe", "inherit"] });
  process.on("exit", () => child.kill("SIGKILL"));
  for await (const text of child.stdout!) if (isReady.test(String(text))) break;
  return child;
}

/** Seconds of one sweep, and its figures. */
async function sweep(app: Served): Promise<{ seconds: number; figures: Float64Array }> {
  const plan = await app.call<{ source: string; settings: object }>("GET", "/plans/brine-cross");
  const began = performance.now();
  const { id, variants } = await app.call<{ id: string; variants: number }>("POST", "/sweeps", {
    planId: "bench",
    source: plan.source,
    inputs: {},
    settings: { ...plan.settings, timeframe: "15m" },
    ranges: [
      { input: "fast", from: 2, to: 41, step: 1 },
      { input: "slow", from: 50, to: 99, step: 1 },
    ],
    outOfSample: null,
    aim: "returnToDrawdown",
  });
  if (variants !== VARIANTS) throw new Error(`The sweep has ${variants} variants.`);
  for (let status = "running"; status === "running"; ) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    status = (await app.call<{ status: string }>("GET", `/sweeps/${id}`)).status;
    if (status !== "running" && status !== "complete") throw new Error(`The sweep ended as ${status}.`);
  }
  const seconds = (performance.now() - began) / 1000;
  const { figures } = unpackColumns(await app.bytes(`/sweeps/${id}/figures`)).columns;
  await fetch(`${app.base}/api/sweeps/${id}`, { method: "DELETE" });
  return { seconds, figures: figures! };
}

const redis = await started(
  "redis-server",
  ["--port", String(PORT), "--bind", "127.0.0.1", "--save", "", "--appendonly", "no"],
  /Ready to accept/,
);
const [own, queued]: [number[], number[]] = [[], []];
for (let round = 0; round < ROUNDS; round++) {
  const alone = await serveApp();
  await sweep(alone);
  const here = await sweep(alone);
  await alone.stop();
  const worker = await started(process.execPath, ["dist/worker.js"], /./, { PLAN_TESTER_QUEUE: QUEUE });
  const served = await serveApp({ PLAN_TESTER_QUEUE: QUEUE });
  await sweep(served);
  const there = await sweep(served);
  await served.stop();
  worker.kill("SIGTERM");
  await once(worker, "exit");
  if (here.figures.some((value, i) => !Object.is(value, there.figures[i]))) throw new Error("The two give different figures.");
  own.push(here.seconds);
  queued.push(there.seconds);
}
console.log(
  `bench queue ratio ${(median(queued) / median(own)).toFixed(2)}: ${VARIANTS.toLocaleString("en-GB")} variants in ${median(queued).toFixed(1)} s over a queue, in ${median(own).toFixed(1)} s in the server's own processes, on ${cpus().length} cores`,
);
redis.kill();
process.exit(0);
