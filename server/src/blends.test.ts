/** Blends, by the API on a real SQLite file. */
import { type ApiError, type BlendBody, type BlendRunMeta, type BlendRunRequest, type Packed, unpackColumns } from "@plan-tester/contract";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { RunEntity } from "./db/entities.ts";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const DAY_MS = 86_400_000;

const server = new TestServer();
const runIds: string[] = [];
let batchRunId = "";
beforeAll(async () => {
  await server.start();
  await server.importSwing();
  const { id: planId, source } = (await server.ask("createPlan", {}, { title: "Swing" })).body;
  const runs = ["one", "two", "member"].map((label) => ({ planId, source, inputs: {}, settings: SWING_SETTINGS, label }));
  const { batch } = (await server.ask("queueRuns", {}, { name: "Three", runs })).body;
  const kept = async () => (await server.ask("listRuns", { batch })).body.runs;
  while ((await kept()).length < runs.length) await new Promise((resolve) => setTimeout(resolve, 30));
  for (const { id, name } of await kept())
    if (name === "member") batchRunId = id;
    else runIds.push(id);
}, 60_000);
afterAll(() => server.end());

const bodyOf = (ids: readonly string[], size = 2): BlendBody => ({
  ...{ name: "Two", note: "" },
  setup: {
    ...{
      cash: 100_000,
      currency: "XSC",
      rates: {},
      tolerated: 20,
      allowance: 0,
      fall: "measured",
      weighting: "by hand",
      chosenBy: 60,
      days: "shared",
    },
    members: ids.map((runId) => ({ runId, size })),
  },
});

test("a blend is kept, changed against its revision, found in the bin, and comes back", async () => {
  const { status, body: made } = await server.ask("createBlend", {}, bodyOf(runIds));
  expect([status, made.revision]).toEqual([201, 1]);
  expect((await server.ask("getBlend", { id: made.id })).body).toEqual(made);
  const larger = { ...bodyOf(runIds, 3), name: "Three each", revision: 1 };
  const { body: changed } = await server.ask("replaceBlend", { id: made.id }, larger);
  expect(changed).toMatchObject({ name: "Three each", revision: 2 });
  expect(changed.fingerprint).not.toBe(made.fingerprint);
  const late = await server.call<ApiError>("PUT", `/blends/${made.id}`, larger);
  expect([late.status, late.body.error.message]).toEqual([409, expect.stringContaining("at revision 2, and this change is of revision 1")]);
  expect((await server.ask("listBlends")).body).toEqual([changed]);
  await server.ask("deleteBlend", { id: made.id });
  expect((await server.ask("listBlends")).body).toEqual([]);
  expect((await server.call("GET", `/blends/${made.id}`)).status).toBe(404);
  await server.ask("restoreDeleted", {}, { kind: "blend", id: made.id });
  expect((await server.ask("listBlends")).body).toEqual([changed]);
});

test("its name and words don't change what it is; its sizes and account do", async () => {
  const { body: one } = await server.ask("createBlend", {}, bodyOf(runIds));
  const { body: named } = await server.ask("createBlend", {}, { ...bodyOf(runIds), name: "Another", note: "why" });
  const { body: rich } = await server.ask("createBlend", {}, { ...bodyOf(runIds), setup: { ...bodyOf(runIds).setup, cash: 200_000 } });
  expect(named.fingerprint).toBe(one.fingerprint);
  expect(rich.fingerprint).not.toBe(one.fingerprint);
});

test.each([
  ["a run that was never kept", { members: [{ runId: "nobody", size: 1 }] }, 404, /no kept run "nobody"/],
  [
    "the same run twice",
    {
      members: [
        { runId: "r", size: 1 },
        { runId: "r", size: 1 },
      ],
    },
    400,
    /a member twice/,
  ],
  ["a size below nothing", { members: [{ runId: "r", size: -1 }] }, 400, /size must be >= 0/],
  ["an account of nothing", { cash: 0 }, 400, /cash must be >= 1/],
  ["weights that are unknown", { weighting: "by luck" }, 400, /weighting must be one of/],
  ["more members than can be", { members: Array.from({ length: 21 }, () => ({ runId: "r", size: 1 })) }, 400, /more than 20|20 items/],
])("%s is refused in words", async (_what, part, status, words) => {
  const { setup } = bodyOf(runIds);
  const refused = await server.call<ApiError>("POST", "/blends", { ...bodyOf(runIds), setup: { ...setup, ...part } });
  expect(refused.status).toBe(status);
  expect(refused.body.error.message).toMatch(words);
});

describe("as several plans on one account", () => {
  const membersOf = (units: number | null) => runIds.map((runId) => ({ runId, units, rate: 1 }));
  async function blended(
    id: string,
    members: ReturnType<typeof membersOf>,
    cash = 1e6,
    limits: BlendRunRequest["limits"] = null,
  ): Promise<Packed<BlendRunMeta>> {
    const response = await fetch(`${server.base}/blend-runs`, {
      method: "POST",
      body: JSON.stringify({ id, cash, limits, members }),
      headers: { "Content-Type": "application/json" },
    });
    expect(response.status).toBe(200);
    return unpackColumns<BlendRunMeta>(await response.arrayBuffer());
  }
  const equityOf = async (id: string): Promise<Float64Array> => unpackColumns(await server.bytes(`/runs/${id}/columns`)).columns.equity!;

  test("without limits that are shared each does what its own run did, to the last bit", async () => {
    const { meta, columns } = await blended("plain", membersOf(null));
    expect(meta.members.map(({ runId, status }) => [runId, status])).toEqual(runIds.map((id) => [id, "complete"]));
    for (const [m, id] of runIds.entries()) {
      const { figures, trades } = (await server.ask("getRun", { id })).body;
      expect(trades.length).toBeGreaterThan(3);
      expect(meta.members[m]!.netProfit).toBe(figures.netProfit);
      expect(meta.members[m]!.trades.map(({ net }) => net)).toEqual(trades.map(({ net }) => net));
      expect([...columns[`equity${m}`]!]).toEqual([...(await equityOf(id))]);
    }
  });

  test("at twice the size each makes twice as much", async () => {
    const [one, two] = [await blended("one", membersOf(1)), await blended("two", membersOf(2))];
    expect(two.meta.members[0]!.netProfit).toBe(2 * one.meta.members[0]!.netProfit);
    expect(two.meta.members[0]!.trades.every(({ quantity }) => quantity === 2)).toBe(true);
  });

  test("an account on which all is lost is over for every plan", async () => {
    const { meta } = await blended("poor", membersOf(100), 1000);
    expect(meta.ruinMs).not.toBeNull();
    expect(meta.members.map(({ status }) => status)).toEqual(["ruined", "ruined"]);
  });

  test("it is noted in the Journal of each plan, as no trial; a holdout that a member reaches into refuses it", async () => {
    const { planId } = (await server.ask("getRun", { id: runIds[0]! })).body;
    const trialsOf = async () => (await server.ask("getTrialContext", { id: planId })).body.trials;
    const before = await trialsOf();
    await blended("noted", membersOf(2));
    const noted = async () => (await server.ask("getJournal", { id: planId })).body.filter(({ kind }) => kind === "blend");
    for (let tries = 0; tries < 100 && (await noted()).length === 0; tries++) await new Promise((resolve) => setTimeout(resolve, 20));
    expect((await noted())[0]!.changes).toEqual(["blend: 2 units on an account of 1000000, with 1 other plan"]);
    expect(await trialsOf()).toBe(before);
    await server.ask("updatePlan", { id: planId }, { reservedFrom: "2025-03-10" });
    const refused = await server.call<ApiError>("POST", "/blend-runs", { id: "held", cash: 1e6, members: membersOf(1) });
    expect([refused.status, refused.body.error.message]).toEqual([409, expect.stringContaining("reaches into the holdout")]);
    await server.ask("updatePlan", { id: planId }, { reservedFrom: "" });
  });

  test("a limit on losses of the account closes what all have open, and none opens any more", async () => {
    const drawdown = { unit: "money", value: 40, act: "stop" } as const;
    const { meta } = await blended("limited", membersOf(2), 1e6, { drawdown, dailyLoss: null });
    const [hit, ...further] = meta.limitHits;
    expect(further).toEqual([]);
    expect(hit).toMatchObject({ limit: "drawdown", act: "stop" });
    expect(hit!.lost).toBeGreaterThanOrEqual(40);
    const trades = meta.members.flatMap((member) => member.trades);
    expect(trades.some(({ reason }) => reason === "account limit")).toBe(true);
    expect(trades.filter(({ entryTime }) => entryTime >= hit!.timeMs)).toEqual([]);
  });

  test("what can't be run is said, and what does not run can't be stopped", async () => {
    const bad = await server.call<ApiError>("POST", "/blend-runs", { id: "bad", cash: 1, members: [{ runId: "nobody" }] });
    expect([bad.status, bad.body.error.message]).toEqual([404, expect.stringContaining('no run "nobody"')]);
    expect((await server.call("POST", "/blend-runs/bad/stop")).status).toBe(404);
  });
});

test("a run that is a member is cleared by no rule", async () => {
  const { storage, database } = server.application;
  const now = Date.now();
  await database.write((manager) => manager.update(RunEntity, { deletedMs: 0 }, { createdMs: now - 31 * DAY_MS, comparedMs: 0 }));
  await server.ask("createBlend", {}, bodyOf([batchRunId]));
  await server.ask("setRetention", {}, { binDays: 14, batchRunDays: 30, dailyReturnDays: null });
  await storage.applyRules(now);
  expect((await server.ask("listRuns", {})).body.runs.map(({ id }) => id)).toEqual([batchRunId]);
});
