/** Disks that are full, writes that fail, files that another program holds: said in words, nothing lost, nothing half done. */

import { join } from "node:path";
import { type SweepSummary, unpackColumns, type WalkForwardSummary } from "@plan-tester/contract";
import { EXAMPLES, exampleSource } from "@plan-tester/demo";
import Sqlite from "better-sqlite3";
import { afterAll, afterEach, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
const call = <T>(method: string, path: string, body?: unknown) => server.call<T>(method, path, body);
const source = exampleSource(EXAMPLES.find(({ id }) => id === "brine-cross")!);

beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterEach(() => repair());
afterAll(() => server.end());

/** An error as the driver gives it. */
const driverError = (code: string): Error => Object.assign(new Error(`${code} by this test`), { code });

/** From the n-th write on, counted from now, every write fails. */
function failFrom(nth: number, code = "SQLITE_FULL"): void {
  let count = 0;
  server.application.database.beforeWrite = () => {
    if (++count >= nth) throw driverError(code);
  };
}

function repair(): void {
  server.application.database.beforeWrite = null;
}

/** The file may not grow any more: what SQLite then says is what it says of a full disk. */
async function fillDisk(): Promise<() => Promise<void>> {
  const { read } = server.application.database;
  const [{ page_count: pages }] = await read.query("PRAGMA page_count");
  await read.query(`PRAGMA max_page_count = ${pages}`);
  return async () => void (await read.query("PRAGMA max_page_count = 1073741823"));
}

interface Refusal {
  readonly error: { readonly code: string; readonly message: string };
}
const FULL = {
  status: 507,
  body: { error: { code: "storage", message: expect.stringMatching(/disk of the data folder is full: \d.* free/) } },
};
const troubles = async (): Promise<string[]> => (await server.ask("getHealth")).body.troubles.map(({ text }) => text);

test("a plan on a full disk: refused in words, its last text stays, and saving goes on when there is room", async () => {
  const { body: plan } = await server.ask("createPlan", {}, { source });
  const long = `${source}\n// ${"x".repeat(400_000)}`;
  const makeRoom = await fillDisk();
  expect(await server.ask("updatePlan", { id: plan.id }, { source: long })).toMatchObject(FULL);
  expect((await server.ask("getPlan", { id: plan.id })).body.source).toBe(source);
  await makeRoom();
  expect((await server.ask("updatePlan", { id: plan.id }, { source: long })).status).toBe(200);
  expect((await server.ask("getPlan", { id: plan.id })).body.source).toBe(long);
});

test("an import on a full disk leaves the bars of before, or nothing", async () => {
  const before = (await server.ask("listMarkets")).body;
  const makeRoom = await fillDisk();
  const refused = await server.importSwing("FRESH");
  expect([refused.status, refused.body.error?.message]).toEqual([507, expect.stringMatching(/disk .* is full/)]);
  expect((await server.importSwing("SWING", swingCsv(7))).status).toBe(507);
  expect((await server.ask("listMarkets")).body).toEqual(before);
  await makeRoom();
  expect((await server.importSwing("FRESH")).status).toBe(200);
  expect((await server.ask("listMarkets")).body.map(({ instrument }) => instrument.symbol)).toContain("FRESH");
});

test("a run is shown whatever the disk says, and is noted in the journal when there is room again", async () => {
  failFrom(1);
  const made = await server.ask("createRun", {}, { id: "full", planId: "tried", source, inputs: {}, settings: SWING_SETTINGS });
  expect(made.status).toBe(200);
  expect(await server.ask("keepRun", { id: "full" }, { name: "Full", tags: [] })).toMatchObject(FULL);
  expect((await troubles()).join("\n")).toMatch(/A run was not noted in the journal yet, it is tried again: The disk/);
  repair();
  for (let noted = 0; noted !== 1; noted = (await server.ask("getJournal", { id: "tried" })).body.length)
    await new Promise((resolve) => setTimeout(resolve, 50));
  expect((await server.ask("keepRun", { id: "full" }, { name: "Full", tags: [] })).status).toBe(200);
}, 120_000);

const sweepRequest = {
  planId: "swept",
  source,
  inputs: {},
  settings: SWING_SETTINGS,
  ranges: [
    { input: "fast", from: 2, to: 11, step: 1 },
    { input: "slow", from: 65, to: 74, step: 1 },
  ],
  outOfSample: null,
  aim: "netProfit",
};
const figuresOf = async (id: string) => unpackColumns(await server.bytes(`/sweeps/${id}/figures`)).columns.figures!;
const sweepOf = async (id: string) => (await server.ask("getSweep", { id })).body;

test("a sweep whose writes fail is refused at its start, goes on in its middle, and waits with its end", async () => {
  const { body: whole } = await call<SweepSummary>("POST", "/sweeps", sweepRequest);
  await server.application.sweeps.finished(whole.id);

  failFrom(1);
  expect(await call<Refusal>("POST", "/sweeps", sweepRequest)).toMatchObject(FULL);
  repair();
  expect((await server.ask("listSweeps")).body.length).toBe(1);

  const { body: begun } = await call<SweepSummary>("POST", "/sweeps", sweepRequest);
  failFrom(1, "SQLITE_IOERR_WRITE");
  // All variants are run, and what they came to can be looked at; only the end is not written down.
  while ((await sweepOf(begun.id)).done < 100) await new Promise((resolve) => setTimeout(resolve, 20));
  while (!(await troubles()).join("\n").includes("A sweep that is done was not saved yet"))
    await new Promise((resolve) => setTimeout(resolve, 20));
  expect(await sweepOf(begun.id)).toMatchObject({ status: "running", done: 100 });
  expect(await figuresOf(begun.id)).toEqual(await figuresOf(whole.id));
  repair();
  await server.application.sweeps.finished(begun.id);
  expect(await sweepOf(begun.id)).toMatchObject({ status: "complete", done: 100, error: "" });
  expect(await figuresOf(begun.id)).toEqual(await figuresOf(whole.id));
}, 60_000);

test("a sweep whose end could not be written is taken up by the next server", async () => {
  const { body: begun } = await call<SweepSummary>("POST", "/sweeps", sweepRequest);
  failFrom(1);
  while (!(await troubles())[0]?.includes("A sweep that is done")) await new Promise((resolve) => setTimeout(resolve, 20));
  await server.stop();
  await server.start();
  await server.application.sweeps.finished(begun.id);
  expect(await sweepOf(begun.id)).toMatchObject({ status: "complete", done: 100 });
}, 60_000);

test("a walk-forward whose writes fail loses no window", async () => {
  const request = {
    ...{ planId: "walked", source, inputs: {}, settings: SWING_SETTINGS, aim: "netProfit", leastTrades: 0, anchored: false, search: null },
    ...{ inSample: 5, outOfSample: 2, ranges: [{ input: "fast", from: 2, to: 5, step: 1 }] },
  };
  const { body: begun, status } = await call<WalkForwardSummary>("POST", "/walk-forwards", request);
  expect([status, begun]).toEqual([201, expect.objectContaining({ status: "running" })]);
  failFrom(1);
  while (!(await troubles())[0]?.includes("walk-forward")) await new Promise((resolve) => setTimeout(resolve, 20));
  repair();
  await server.application.walks.finished(begun.id);
  const { body: done } = await server.ask("getWalkForward", { id: begun.id });
  expect(done).toMatchObject({ status: "complete", error: "" });
  expect(done.windows.length).toBe(done.total);
  expect((await server.ask("getRun", { id: done.runId })).status).toBe(200);
}, 60_000);

test("a file that another program holds is waited for, while the server answers others", async () => {
  const { body: plan } = await server.ask("createPlan", {}, { source });
  const other = new Sqlite(join(server.folder, "plan-tester.sqlite"));
  other.exec("BEGIN IMMEDIATE");
  let isSaved = false;
  const saving = server.ask("updatePlan", { id: plan.id }, { source: `${source}\n` }).then(({ status }) => {
    isSaved = true;
    return status;
  });
  for (let k = 0; k < 5; k++) expect((await server.ask("getPlan", { id: plan.id })).status).toBe(200);
  expect(isSaved).toBe(false);
  other.exec("COMMIT");
  other.close();
  expect(await saving).toBe(200);
});

test.each([
  ["SQLITE_IOERR_FSYNC", /disk reports an error|disk of the data folder reports an error/],
  ["SQLITE_READONLY", /can't be written to/],
  ["SQLITE_CORRUPT", /damaged/],
])("%s is said in words", async (code, words) => {
  failFrom(1, code);
  const { status, body } = await call<Refusal>("POST", "/plans", { source });
  expect([status, body.error.code, body.error.message]).toEqual([507, "storage", expect.stringMatching(words)]);
  expect(body.error.message).toContain("Nothing was changed");
});
