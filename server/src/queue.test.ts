/** Runs in the background over restarts of the server, on a real SQLite file. */
import type { QueuedRun } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test } from "vitest";
import { QueuedRunEntity } from "./db/entities.ts";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();

beforeAll(async () => {
  await server.start();
  await server.importSwing();
}, 60_000);
afterAll(() => server.end());

/** Busy for so many steps at every bar. */
const source = (steps: number): string => `export default plan({
  title: "Patient",
  build({ on, enter, position }) {
    on.barClose(() => {
      let sum = 0;
      for (let k = 0; k < ${steps}; k++) sum += k;
      if (position.flat && sum >= 0) enter.long({ stopLoss: ticks(20) });
    });
  },
});`;
const run = (label: string, steps: number) => ({
  planId: "patient",
  source: source(steps),
  inputs: {},
  settings: { ...SWING_SETTINGS, timeframe: "1m" },
  label,
});

async function until(holds: (queue: readonly QueuedRun[]) => boolean): Promise<readonly QueuedRun[]> {
  for (;;) {
    const { body } = await server.ask("listQueue");
    if (holds(body)) return body;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
const areOver = (queue: readonly QueuedRun[]): boolean => queue.every(({ state }) => state !== "waiting" && state !== "running");
const trials = async (): Promise<number> => (await server.ask("getJournal", { id: "patient" })).body.length;

test("what waits or is under way when the server ends is done by the next one, once", async () => {
  const runs = [run("Long", 20_000), run("Short", 10), run("Shorter", 5)];
  const { batch } = (await server.ask("queueRuns", {}, { name: "night", runs })).body;
  await until((queue) => queue[0]!.state === "running");
  await server.stop();

  await server.start();
  const queue = await until(areOver);
  expect(queue.map(({ name, state, batch: own }) => [name, state, own])).toEqual([
    ["Long", "kept", batch],
    ["Short", "kept", batch],
    ["Shorter", "kept", batch],
  ]);
  const { body } = await server.ask("listRuns", { batch: batch });
  expect(body.runs.map(({ name, status }) => [name, status]).sort()).toEqual([
    ["Long", "complete"],
    ["Short", "complete"],
    ["Shorter", "complete"],
  ]);
  // The one that was cut off is no trial.
  expect(await trials()).toBe(3);
}, 120_000);

test("one that was kept before the server could note it is not run again", async () => {
  const before = await trials();
  const { database } = server.application;
  const row = (await database.read.findOneByOrFail(QueuedRunEntity, { tag: "night" }))!;
  await database.write((manager) =>
    manager.update(QueuedRunEntity, { id: row.id }, { shown: { ...row.shown, state: "waiting", netProfit: null } }),
  );
  await server.stop();
  await server.start();
  const queue = await until(areOver);
  expect(queue[0]).toMatchObject({ name: "Long", state: "kept", netProfit: row.shown.netProfit });
  expect(await trials()).toBe(before);
});

test("what was cleared stays so", async () => {
  expect((await server.ask("clearQueue")).status).toBe(204);
  await server.stop();
  await server.start();
  expect((await server.ask("listQueue")).body).toEqual([]);
});
