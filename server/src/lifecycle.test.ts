/** The server as a process: one to a folder and a port, killed and started again, with a log that tells what was done. */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Health } from "@plan-tester/contract";
import { bundleOf } from "@plan-tester/demo/root";
import { afterAll, expect, test } from "vitest";
import { freePort } from "./testing.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-life-"));
const children: ChildProcess[] = [];
afterAll(() => {
  for (const child of children) child.kill("SIGKILL");
  rmSync(folder, { recursive: true, force: true });
});

interface Started {
  readonly child: ChildProcess;
  readonly port: number;
  /** What it said until it was ready, or until it ended. */
  readonly said: string;
}

async function start(port: number, data = folder): Promise<Started> {
  const child = spawn(process.execPath, [bundleOf("server.js", import.meta.url)!], {
    env: {
      ...process.env,
      ...{ PLAN_TESTER_PORT: String(port), PLAN_TESTER_VENUE_PORT: String(await freePort()), PLAN_TESTER_DATA: data },
      ...{ PLAN_TESTER_DEMO: "off", LOG_LEVEL: "info" },
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  children.push(child);
  let said = "";
  await new Promise<void>((resolve) => {
    const hear = (text: Buffer): void => {
      said += text;
      if (said.includes("is ready")) resolve();
    };
    child.stdout.on("data", hear);
    child.stderr.on("data", hear);
    child.once("close", () => resolve());
  });
  return { child, port, said };
}

const logText = (): string =>
  readdirSync(join(folder, "logs"))
    .map((name) => readFileSync(join(folder, "logs", name), "utf8"))
    .join("");

test("a folder and a port belong to one server at a time; one that was killed leaves nothing behind", async () => {
  // A killed import leaves what it was reading.
  mkdirSync(join(folder, "incoming"), { recursive: true });
  writeFileSync(join(folder, "incoming", "half.csv"), "time,open");
  const first = await start(await freePort());
  expect(first.said).toContain("is ready");
  expect(existsSync(join(folder, "incoming"))).toBe(false);

  const sameFolder = await start(await freePort());
  expect(sameFolder.said).toContain(`process ${first.child.pid}, http://localhost:${first.port}`);
  expect(sameFolder.said).toContain("PLAN_TESTER_DATA");
  expect(sameFolder.child.exitCode).toBe(1);

  const otherFolder = join(folder, "other");
  const samePort = await start(first.port, otherFolder);
  expect(samePort.said).toContain(`Port ${first.port} is taken`);
  expect(samePort.child.exitCode).toBe(1);
  // The port is tried before anything is written.
  expect(existsSync(join(otherFolder, "plan-tester.sqlite"))).toBe(false);

  const health = async (): Promise<Health> => (await fetch(`http://127.0.0.1:${first.port}/api/health`)).json() as Promise<Health>;
  while ((await health()).venue !== "connected") await new Promise((resolve) => setTimeout(resolve, 50));
  expect(await health()).toMatchObject({
    ...{ ok: true, database: "ok", queue: { waiting: 0, running: 0 }, troubles: [] },
    processes: { runs: { size: 2, busy: 0 } },
  });
  expect((await health()).freeBytes).toBeGreaterThan(0);

  first.child.kill("SIGKILL");
  await once(first.child, "close");
  const again = await start(first.port);
  expect(again.said).toContain("is ready");
  const refused = await fetch(`http://127.0.0.1:${first.port}/api/plans/nobody`);
  expect(refused.status).toBe(404);
  again.child.kill("SIGTERM");
  await once(again.child, "close");
  expect(again.child.exitCode).toBe(0);

  const log = logText();
  expect(log).toMatch(/"server started"/);
  expect(log).toMatch(/"path":"\/api\/plans\/nobody","status":404,.*"code":"not-found".*"request refused"/);
  expect(log).toMatch(/"why":"SIGTERM".*"server ends"/);
}, 120_000);
