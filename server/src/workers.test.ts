/** Sweeps carried by workers in processes of their own, over a queue on a real Redis. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type SweepSummary, unpackColumns, type WalkForwardSummary } from "@plan-tester/contract";
import { seedFrom } from "@plan-tester/core";
import { EXAMPLES, exampleSource } from "@plan-tester/demo";
import { bundleOf } from "@plan-tester/demo/root";
import { embeddedExecutor, ProcessPool, SweepJob } from "@plan-tester/runner";
import { afterAll, beforeAll, expect, test } from "vitest";
import { bestRatio } from "./features/sweeps/luck-service.ts";
import { freePort, SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
const call = <T>(method: string, path: string, body?: unknown) => server.call<T>(method, path, body);
const folder = mkdtempSync(join(tmpdir(), "plan-tester-redis-"));
const source = exampleSource(EXAMPLES.find(({ id }) => id === "brine-cross")!);
const spec = {
  planId: "lighthouse",
  source,
  inputs: {},
  settings: SWING_SETTINGS,
  ranges: [
    { input: "fast", from: 2, to: 31, step: 1 },
    { input: "slow", from: 65, to: 84, step: 1 },
  ],
  outOfSample: { from: "2025-03-13", to: "2025-03-16" },
  aim: "netProfit",
};
let redis: ChildProcess;
let url = "";

/** A worker on one core, ready to work. */
async function startWorker(): Promise<ChildProcess> {
  const worker = spawn(process.execPath, [bundleOf("worker.js", import.meta.url)!], {
    env: { ...process.env, PLAN_TESTER_QUEUE: url, PLAN_TESTER_CORES: "1" },
    stdio: ["ignore", "pipe", "inherit"],
  });
  await once(worker.stdout!, "data");
  return worker;
}

beforeAll(async () => {
  const port = await freePort();
  url = `redis://127.0.0.1:${port}`;
  redis = spawn("redis-server", ["--port", String(port), "--bind", "127.0.0.1", "--dir", folder, "--save", "", "--appendonly", "no"], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  for await (const text of redis.stdout!) if (String(text).includes("Ready to accept connections")) break;
  await server.start();
  await server.importSwing("SWING", swingCsv(20, 60));
});
afterAll(async () => {
  await server.end();
  redis.kill();
  rmSync(folder, { recursive: true, force: true });
});

const columnsOf = async (id: string) => ({
  figures: unpackColumns(await server.bytes(`/sweeps/${id}/figures`)).columns.figures!,
  daily: unpackColumns(await server.bytes(`/sweeps/${id}/daily`)).singles.daily!,
});

test("two workers carry a sweep; one is killed in the middle, and the result is the same to the last bit", async () => {
  const { body: here } = await call<SweepSummary>("POST", "/sweeps", spec);
  await server.application.sweeps.finished(here.id);
  const { body: walkedHere } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk);
  await server.application.walks.finished(walkedHere.id);
  await server.stop();
  await server.start(url);

  // Nobody works yet, and that is said rather than waited for.
  expect(await call("POST", "/sweeps", spec)).toMatchObject({
    status: 503,
    body: { error: { message: expect.stringMatching(/No worker is connected/) } },
  });

  // The first worker is killed when it has done a part; only then is there another.
  const lost = await startWorker();
  const { body: there } = await call<SweepSummary>("POST", "/sweeps", spec);
  const isDone = async (): Promise<number> => (await server.ask("getSweep", { id: there.id })).body.done;
  while ((await isDone()) === 0) await new Promise((resolve) => setTimeout(resolve, 5));
  lost.kill("SIGKILL");
  await once(lost, "exit");
  const part = await isDone();
  expect(part).toBeLessThan(600);
  const kept = await startWorker();
  await server.application.sweeps.finished(there.id);
  const { body: done } = await server.ask("getSweep", { id: there.id });
  expect(done).toMatchObject({ status: "complete", done: 600, failed: 0 });
  expect(await columnsOf(there.id)).toEqual(await columnsOf(here.id));

  // A plan that ends its process costs only itself, there as here.
  const bomb = source.replace(
    "const fast =",
    "if (inputs.fast === 3) { const kept = []; for (;;) kept.push(new Array(1e6).fill(1)); }\n    const fast =",
  );
  const small = { ...spec, source: bomb, ranges: [{ input: "fast", values: [2, 3, 4] }] };
  const { body: bombed } = await call<SweepSummary>("POST", "/sweeps", small);
  await server.application.sweeps.finished(bombed.id);
  const { body: told } = await server.ask("getSweep", { id: bombed.id });
  expect(told).toMatchObject({ status: "complete", done: 3, failed: 1 });
  expect(told.failures[0]?.message).toMatch(/memory|steps/);

  // Windows of a walk-forward are carried as well.
  const { body: walked } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk);
  await server.application.walks.finished(walked.id);
  const windowsOf = async (id: string) => (await server.ask("getWalkForward", { id })).body.windows;
  expect(await windowsOf(walked.id)).toEqual(await windowsOf(walkedHere.id));
  // So are markets without memory: the worker makes them of the bars it has, to the last bit as a process here does.
  const long = {
    ...spec,
    settings: { ...SWING_SETTINGS, to: "2025-04-20" },
    outOfSample: null,
    ranges: [{ input: "fast", values: [3, 5, 9] }],
  };
  const { id } = (await call<SweepSummary>("POST", "/sweeps", long)).body;
  await server.application.sweeps.finished(id);
  await server.ask("startLuck", { id }, { markets: 2 });
  const luck = async () => (await server.ask("getLuck", { id })).body;
  await expect.poll(async () => (await luck())?.status, { timeout: 60_000 }).toBe("complete");
  const { request, source: linked, createdMs } = (await server.ask("getSweep", { id })).body;
  const asked = { ...request, source: linked };
  const task = await server.application.sweeps.surrogateTask(asked, seedFrom(`${id} luck 1`), createdMs);
  const pool = new ProcessPool(1);
  const job = new SweepJob(task, embeddedExecutor(pool));
  await job.run(() => undefined);
  pool.close();
  expect((await luck())!.ratios[1]).toBe(bestRatio(job.figures, job.rowWidth));
  kept.kill("SIGTERM");
  await once(kept, "exit");
}, 120_000);

const walk = {
  ...{ planId: "lighthouse", source, inputs: {}, settings: { ...SWING_SETTINGS, to: "2025-03-16" } },
  ...{ ranges: [{ input: "fast", from: 4, to: 40, step: 4 }], aim: "netProfit" },
  ...{ inSample: 5, outOfSample: 3, anchored: false, leastTrades: 1 },
};
