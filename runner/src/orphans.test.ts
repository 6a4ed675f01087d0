/** Plan processes end with whoever started them, also while a plan spins and the starter was killed. */
import { spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";

/** Starts a plan that spins at its first bar, and tells the process in which it does. */
const STARTER = `
import { PlanProcess } from ${JSON.stringify(join(import.meta.dirname, "parent/plan-process.ts"))};
import { eachBar, run } from ${JSON.stringify(join(import.meta.dirname, "testing.ts"))};
const worker = new PlanProcess();
await run(worker, eachBar("log('sound')"));
run(worker, eachBar("for (;;) {}")).catch(() => undefined);
setTimeout(() => console.log("spinning in " + worker.pid), 500);
`;

const isAlive = (pid: number): boolean => existsSync(`/proc/${pid}`);

test("a plan that spins is ended when the server is killed with -9", async () => {
  const starter = spawn(process.execPath, ["--import", import.meta.resolve("tsx"), "--input-type=module", "-e", STARTER], {
    stdio: ["ignore", "pipe", "inherit"],
  });
  const [said] = (await once(starter.stdout, "data")) as [Buffer];
  const pid = Number(/\d+/.exec(String(said))![0]);
  expect(isAlive(pid)).toBe(true);
  starter.kill("SIGKILL");
  await once(starter, "exit");
  while (isAlive(pid)) await new Promise((resolve) => setTimeout(resolve, 20));
}, 120_000);
