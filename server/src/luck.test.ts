/** The luck test of a sweep over the API: reproducible, paused and gone on with after a restart, kept apart from trials. */
import { type ApiError, type LuckTest, SKELETON, type SweepRequest } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
let planId = "";
let sweepId = "";

const request = (): SweepRequest =>
  ({
    ...{
      planId,
      source: SKELETON,
      inputs: {},
      settings: { ...SWING_SETTINGS, to: "2025-04-20" },
      aim: "sharpe",
      constraints: [],
      search: null,
    },
    outOfSample: { from: "2025-04-21", to: "2025-04-28" },
    ranges: [
      { input: "fast", from: 5, to: 20, step: 5 },
      { input: "slow", from: 30, to: 60, step: 10 },
    ],
  }) as unknown as SweepRequest;

async function until<T>(ask: () => Promise<T>, holds: (value: T) => boolean): Promise<T> {
  for (let tries = 0; tries < 600; tries++) {
    const value = await ask();
    if (holds(value)) return value;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error("Waited in vain.");
}
const luck = async (): Promise<LuckTest | null> => (await server.ask("getLuck", { id: sweepId })).body;

beforeAll(async () => {
  await server.start();
  await server.importSwing("SWING", swingCsv(20, 60));
  planId = (await server.ask("createPlan", {}, { title: "Swing", source: SKELETON })).body.id;
  const made = await server.ask("createSweep", {}, request());
  expect([made.status, made.body]).toEqual([201, expect.objectContaining({ variants: 16 })]);
  sweepId = made.body.id;
  await until(
    async () => (await server.ask("getSweep", { id: sweepId })).body.status,
    (status) => status === "complete",
  );
}, 60_000);
afterAll(() => server.end());

test("it is made on so many markets, the same whoever makes it when, and goes on to more", async () => {
  expect(await luck()).toBeNull();
  const trials = (await server.ask("getJournal", { id: planId })).body;
  expect((await server.ask("startLuck", { id: sweepId }, { markets: 3 })).status).toBe(202);
  const three = (await until(luck, (found) => found?.status === "complete"))!;
  expect(three.ratios).toHaveLength(3);
  expect(new Set(three.ratios).size).toBe(3);
  await server.ask("startLuck", { id: sweepId }, { markets: 6 });
  const six = (await until(luck, (found) => found?.status === "complete"))!;
  expect(six.ratios.slice(0, 3)).toEqual(three.ratios);
  expect(six.ratios).toHaveLength(6);
  // None of them is the market itself.
  expect(six.ratios).not.toContain(six.best);
  // Markets without memory are no trials.
  expect((await server.ask("getJournal", { id: planId })).body).toEqual(trials);
}, 60_000);

test("paused, it keeps what is done; a restart in the middle goes on by itself, to the same", async () => {
  const before = (await luck())!;
  await server.ask("startLuck", { id: sweepId }, { markets: 40 });
  await until(luck, (found) => found!.ratios.length > before.ratios.length);
  expect((await server.ask("pauseLuck", { id: sweepId })).status).toBe(204);
  const paused = (await luck())!;
  expect(paused.status).toBe("paused");
  expect(paused.ratios.length).toBeLessThan(40);
  expect(paused.ratios.slice(0, 6)).toEqual(before.ratios);
  await server.ask("startLuck", { id: sweepId }, { markets: 14 });
  await until(luck, (found) => found!.ratios.length > paused.ratios.length || found!.status === "complete");
  await server.stop();
  await server.start();
  const done = (await until(luck, (found) => found?.status === "complete"))!;
  expect(done.ratios.slice(0, paused.ratios.length)).toEqual(paused.ratios);
  expect(done.ratios.length).toBeGreaterThanOrEqual(14);
}, 90_000);

test("what can't be tested is said", async () => {
  const nobody = await server.call<ApiError>("POST", "/sweeps/nobody/luck", {});
  expect([nobody.status, nobody.body.error.message]).toEqual([404, expect.stringContaining('no sweep "nobody"')]);
  expect((await server.call("POST", `/sweeps/${sweepId}/luck/pause`)).status).toBe(404);
  const many = await server.call<ApiError>("POST", `/sweeps/${sweepId}/luck`, { markets: 100 });
  expect([many.status, many.body.error.message]).toEqual([400, expect.stringContaining("markets")]);
});

test("it ends with its sweep, and what was found is there when the sweep is taken back", async () => {
  const before = (await luck())!;
  await server.ask("startLuck", { id: sweepId }, { markets: 99 });
  expect((await server.ask("deleteSweep", { id: sweepId })).status).toBe(204);
  expect((await server.call("POST", `/sweeps/${sweepId}/luck/pause`)).status).toBe(404);
  expect((await server.call("GET", `/sweeps/${sweepId}/luck`)).status).toBe(404);
  await server.ask("restoreDeleted", {}, { kind: "sweep", id: sweepId });
  const back = (await luck())!;
  expect(back.status).toBe("paused");
  expect(back.ratios.slice(0, before.ratios.length)).toEqual(before.ratios);
}, 60_000);
