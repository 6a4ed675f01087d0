/** Deletions come back as they were, rules touch only what they may, and the file gets small again. */
import { readFileSync, statSync } from "node:fs";
import type { BinKind, BlendSetup, SourceBody } from "@plan-tester/contract";
import { DAY_MS } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { RunEntity, SweepEntity } from "../../db/entities.ts";
import { SWING_FORMAT, SWING_SETTINGS, swingCsv, TestServer } from "../../testing.ts";

const source = `
export default plan({
  title: "Fortnight",
  inputs: { bars: whole(3, { min: 1, max: 20 }) },
  build({ on, enter, exit, position, inputs }) {
    on.barClose(() => {
      if (position.flat) enter.long();
      else if (position.barsHeld >= inputs.bars) exit.long();
    });
  },
});`;
const server = new TestServer();
let planId = "";
const runRequest = (id: string) => ({ id, planId, source, inputs: {}, settings: SWING_SETTINGS });
const ranges = [{ input: "bars", from: 1, to: 9, step: 1 }];
const sweepRequest = () => ({
  ...{ planId, source, inputs: {}, settings: SWING_SETTINGS, ranges, aim: "netProfit" as const },
  ...{ outOfSample: null, constraints: [], search: null },
});

beforeAll(async () => {
  await server.start();
  await server.importSwing();
  planId = (await server.ask("createPlan", {}, { source })).body.id;
  expect((await server.ask("createRun", {}, runRequest("kept"))).body).toMatchObject({ status: "complete" });
  await server.ask("keepRun", { id: "kept" }, { name: "Good", note: "", tags: ["mine"] });
});
afterAll(() => server.end());

interface Deletable {
  readonly id: string;
  readonly remove: () => Promise<{ status: number }>;
  readonly get: () => Promise<{ status: number; body: unknown }>;
  readonly listed: () => Promise<readonly string[]>;
}

async function sweepOf(): Promise<string> {
  const { body } = await server.ask("createSweep", {}, sweepRequest());
  await server.application.sweeps.finished(body.id);
  return body.id;
}

async function walkOf(): Promise<string> {
  const { outOfSample: _out, ...rest } = sweepRequest();
  const { body } = await server.ask("createWalkForward", {}, { ...rest, inSample: 5, outOfSample: 2, anchored: false, leastTrades: 1 });
  await server.application.walks.finished(body.id);
  return body.id;
}

const BLEND_OF_KEPT: BlendSetup = {
  ...{
    cash: 5000,
    currency: "XSC",
    rates: {},
    tolerated: 20,
    allowance: 0,
    fall: "measured",
    weighting: "by hand",
    chosenBy: 60,
    days: "shared",
  },
  members: [{ runId: "kept", size: 1 }],
};

/** A folder of its own data; nothing is looked at before its time. */
const LATER_DAYS: SourceBody = {
  ...{
    name: "Later days",
    kind: "folder",
    place: server.folder,
    symbol: "LATER",
    everyMinutes: 1440,
    overlap: "keep",
    allowsPrivate: false,
  },
};

const KINDS: Readonly<Record<BinKind, () => Promise<Deletable>>> = {
  plan: async () => ({
    id: planId,
    remove: () => server.ask("deletePlan", { id: planId }),
    get: () => server.ask("getPlan", { id: planId }),
    listed: async () => (await server.ask("listPlans")).body.map(({ id }) => id),
  }),
  run: async () => ({
    id: "kept",
    remove: () => server.ask("deleteRun", { id: "kept" }),
    get: () => server.ask("getRun", { id: "kept" }),
    listed: async () => (await server.ask("listRuns", {})).body.runs.map(({ id }) => id),
  }),
  sweep: async () => {
    const id = await sweepOf();
    return {
      id,
      remove: () => server.ask("deleteSweep", { id }),
      get: () => server.ask("getSweep", { id }),
      listed: async () => (await server.ask("listSweeps")).body.map((sweep) => sweep.id),
    };
  },
  "walk-forward": async () => {
    const id = await walkOf();
    return {
      id,
      remove: () => server.ask("deleteWalkForward", { id }),
      get: () => server.ask("getWalkForward", { id }),
      listed: async () => (await server.ask("listWalkForwards")).body.map((walk) => walk.id),
    };
  },
  blend: async () => {
    const { id } = (await server.ask("createBlend", {}, { name: "Alone", note: "", setup: BLEND_OF_KEPT })).body;
    return {
      id,
      remove: () => server.ask("deleteBlend", { id }),
      get: () => server.ask("getBlend", { id }),
      listed: async () => (await server.ask("listBlends")).body.map((blend) => blend.id),
    };
  },
  source: async () => {
    // How its files are read is taken from one that was imported by hand.
    await server.importSwing("LATER", swingCsv(20, 2), SWING_FORMAT, { shape: "a shape" });
    const { id } = (await server.ask("createSource", {}, LATER_DAYS)).body;
    return {
      id,
      remove: () => server.ask("deleteSource", { id }),
      get: () => server.ask("getSourceLog", { id }),
      listed: async () => (await server.ask("listSources")).body.map((source) => source.id),
    };
  },
  market: async () => ({
    id: "SWING",
    remove: () => server.ask("deleteMarket", { symbol: "SWING" }),
    get: () => server.ask("getHistory", { symbol: "SWING" }),
    listed: async () => (await server.ask("listMarkets")).body.map(({ instrument }) => instrument.symbol),
  }),
};

test.each(Object.keys(KINDS) as BinKind[])("a %s that was deleted is nowhere but in the bin, and comes back as it was", async (kind) => {
  const { id, remove, get, listed } = await KINDS[kind]();
  const before = await get();
  expect(before.status).toBe(200);
  expect((await remove()).status).toBe(204);
  expect((await remove()).status).toBe(404);
  expect((await get()).status).toBe(404);
  expect(await listed()).not.toContain(id);
  expect((await server.ask("getStorage")).body.bin[0]).toMatchObject({ kind, id });
  expect((await server.ask("restoreDeleted", {}, { kind, id })).status).toBe(204);
  expect((await server.ask("restoreDeleted", {}, { kind, id })).status).toBe(404);
  expect(await get()).toEqual(before);
  expect(await listed()).toContain(id);
  expect((await server.ask("getStorage")).body.bin).toEqual([]);
});

test("a deleted run can't be looked into by any of its addresses", async () => {
  await server.ask("deleteRun", { id: "kept" });
  for (const name of ["getRun", "getRunOrders", "getRunColumns", "getRunLines", "verifyRun"] as const)
    expect((await server.ask(name, { id: "kept" })).status, name).toBe(404);
  await server.ask("restoreDeleted", {}, { kind: "run", id: "kept" });
});

test("what takes space is told by its kind, and only what is deleted counts as deleted", async () => {
  const partsOf = async () => Object.fromEntries((await server.ask("getStorage")).body.parts.map((part) => [part.kind, part]));
  const before = await partsOf();
  expect(before).toMatchObject({ bars: { count: 2 }, runs: { count: 2 }, deleted: { count: 0, bytes: 0 } });
  // Six columns, eight bytes each, of two weeks of minutes and of two days.
  expect(before.bars!.bytes).toBe((14 + 2) * 1440 * 6 * 8);
  await server.ask("deleteRun", { id: "kept" });
  const after = await partsOf();
  expect(after.runs!.count).toBe(1);
  expect(after.deleted).toMatchObject({ count: 1, bytes: before.runs!.bytes - after.runs!.bytes });
  await server.ask("restoreDeleted", {}, { kind: "run", id: "kept" });
});

test("old background runs go into the bin; named, tagged and compared ones stay, and so do young ones", async () => {
  const { storage, database } = server.application;
  const runs = ["old", "named", "compared", "young"].map((label) => ({ planId, source, inputs: {}, settings: SWING_SETTINGS, label }));
  const { batch } = (await server.ask("queueRuns", {}, { name: "Four", runs })).body;
  const kept = async () => (await server.ask("listRuns", { batch })).body.runs;
  while ((await kept()).length < 4) await new Promise((resolve) => setTimeout(resolve, 30));
  const idOf = Object.fromEntries((await kept()).map(({ name, id }) => [name, id]));
  await server.ask("keepRun", { id: idOf.named! }, { name: "named", note: "by hand", tags: [] });
  expect((await server.ask("noteCompared", {}, { ids: [idOf.compared!] })).status).toBe(204);
  const now = Date.now();
  for (const name of ["old", "named", "compared"])
    await database.write((manager) => manager.update(RunEntity, { id: idOf[name]! }, { createdMs: now - 31 * DAY_MS }));
  await storage.applyRules(now);
  expect((await kept()).length).toBe(4);
  const { body } = await server.ask("setRetention", {}, { binDays: 14, batchRunDays: 30, dailyReturnDays: null });
  expect(body.rules).toEqual({ binDays: 14, batchRunDays: 30, dailyReturnDays: null });
  await storage.applyRules(now);
  expect((await kept()).map(({ name }) => name).sort()).toEqual(["compared", "named", "young"]);
  expect((await server.ask("getStorage")).body.bin).toMatchObject([{ kind: "run", id: idOf.old, name: "old" }]);
  // Longer in the bin than it may be.
  await storage.applyRules(now + 15 * DAY_MS);
  expect((await server.ask("getStorage")).body.bin).toEqual([]);
  expect((await server.ask("restoreDeleted", {}, { kind: "run", id: idOf.old! })).status).toBe(404);
});

test("old sweeps lose their daily returns and nothing else", async () => {
  const { storage, database } = server.application;
  const id = await sweepOf();
  const read = async () => [await server.bytes(`/sweeps/${id}/figures`), (await server.ask("getSweep", { id })).body] as const;
  const [figures, detail] = await read();
  await database.write((manager) => manager.update(SweepEntity, { id }, { createdMs: 1 }));
  await server.ask("setRetention", {}, { binDays: 14, batchRunDays: null, dailyReturnDays: 60 });
  const size = async () => (await server.bytes(`/sweeps/${id}/daily`)).byteLength;
  const before = await size();
  await storage.applyRules(Date.now());
  expect(await size()).toBeLessThan(before);
  const [figuresAfter, detailAfter] = await read();
  expect(Buffer.compare(Buffer.from(figures), Buffer.from(figuresAfter))).toBe(0);
  expect(detailAfter).toEqual({ ...detail, createdMs: 1 });
  await server.ask("deleteSweep", { id });
});

test("emptying the bin and compacting make the file smaller, and what is kept is whole", async () => {
  const whole = await server.bytes("/runs/kept");
  await server.importSwing("SECOND");
  await server.ask("deleteMarket", { symbol: "SECOND" });
  const { body: emptied } = await server.ask("emptyBin");
  expect(emptied.bin).toEqual([]);
  expect(emptied.emptyBytes).toBeGreaterThan(500_000);
  const { body: compacted } = await server.ask("compactStorage");
  expect(compacted.emptyBytes).toBe(0);
  expect(compacted.fileBytes).toBeLessThanOrEqual(emptied.fileBytes - emptied.emptyBytes + 100_000);
  expect(statSync(server.application.database.file).size).toBe(compacted.fileBytes);
  expect(readFileSync(server.application.database.file).subarray(0, 15).toString()).toBe("SQLite format 3");
  expect(Buffer.compare(Buffer.from(whole), Buffer.from(await server.bytes("/runs/kept")))).toBe(0);
});

test.each([
  [{ binDays: 0, batchRunDays: null, dailyReturnDays: null }, /binDays/],
  [{ binDays: 14, batchRunDays: 1.5, dailyReturnDays: null }, /batchRunDays/],
  [{ binDays: 14 }, /batchRunDays/],
])("rules that make no sense are refused: %j", async (rules, words) => {
  const { status, body } = await server.call<{ error: { message: string } }>("PUT", "/storage/rules", rules);
  expect([status, words.test(body.error.message)]).toEqual([400, true]);
});

test("one of the bin's id may be made again, as the demo world is", async () => {
  const { plans } = server.application;
  const plan = (await plans.find(planId))!;
  await server.ask("deletePlan", { id: planId });
  await plans.insert({ ...plan, title: "Again" });
  expect((await server.ask("getPlan", { id: planId })).body.title).toBe("Again");
  expect((await server.ask("getStorage")).body.bin).toEqual([]);
});
