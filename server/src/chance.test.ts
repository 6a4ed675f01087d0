/** Would chance have found it: a single run on markets without memory, and when that is no question for it. */
import { type ApiError, type ChanceAnswer, SKELETON } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
const settings = { ...SWING_SETTINGS, to: "2025-04-20" };
let planId = "";
beforeAll(async () => {
  await server.start();
  await server.importSwing("SWING", swingCsv(20, 60));
  planId = (await server.ask("createPlan", {}, { title: "Swing", source: SKELETON })).body.id;
  await server.ask("createRun", {}, { id: "one", planId, source: SKELETON, inputs: {}, settings });
}, 60_000);
afterAll(() => server.end());

const chance = async (id: string) => server.call<ChanceAnswer & ApiError>("POST", `/runs/${id}/chance`);

test("the run is made on 99 markets, the same whenever it is asked, and none of them is a trial", async () => {
  const trials = (await server.ask("getJournal", { id: planId })).body;
  const { status, body } = await chance("one");
  expect(status).toBe(200);
  expect(body.ratios).toHaveLength(99);
  expect(new Set(body.ratios).size).toBeGreaterThan(90);
  expect(body.best).toBe((await server.ask("getRun", { id: "one" })).body.figures.sharpe);
  expect((await chance("one")).body).toEqual(body);
  expect((await server.ask("getJournal", { id: planId })).body).toEqual(trials);
}, 60_000);

test("stopped, it answers with what is done", async () => {
  const asked = chance("one");
  await new Promise((resolve) => setTimeout(resolve, 60));
  for (let tries = 0; tries < 50; tries++) {
    if ((await server.call("POST", "/runs/one/chance/stop")).status === 204) break;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  const { body } = await asked;
  expect(body.isStopped).toBe(true);
  expect(body.ratios.length).toBeLessThan(99);
}, 60_000);

test("a run without a Sharpe ratio is refused, and one whose setting a sweep may have chosen is sent there", async () => {
  await server.ask("createRun", {}, { id: "short", planId, source: SKELETON, inputs: {}, settings: { ...settings, to: "2025-03-03" } });
  const short = await chance("short");
  expect([short.status, short.body.error.message]).toEqual([409, expect.stringContaining("no Sharpe ratio")]);
  const made = await server.call<{ id: string }>("POST", "/sweeps", {
    ...{ planId, source: SKELETON, inputs: {}, settings, outOfSample: null, aim: "sharpe", search: null },
    ranges: [{ input: "fast", from: 5, to: 10, step: 5 }],
  });
  expect(made.status).toBe(201);
  const chosen = await chance("one");
  expect([chosen.status, chosen.body.error.message]).toEqual([409, expect.stringContaining("Only the sweep's own luck test counts")]);
});
