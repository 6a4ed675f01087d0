/** The API against a real SQLite file, with a small market of its own. */
import { existsSync } from "node:fs";
import { request as rawRequest } from "node:http";
import { join } from "node:path";
import { type PlanDetail, type RunEvidence, type RunPage, type SweepDetail, unpackColumns } from "@plan-tester/contract";
import { EXAMPLES, exampleSource } from "@plan-tester/demo";
import { afterAll, beforeAll, describe, expect, test, vi } from "vitest";
import { Database } from "./db/database.ts";
import { SWING_FORMAT, SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
const call = <T>(method: string, path: string, body?: unknown) => server.call<T>(method, path, body);

beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

test("the schema that migrations make is the schema that the entities mean", async () => {
  const log = await server.application.database.source.driver.createSchemaBuilder().log();
  expect(log.upQueries.map(({ query }) => query)).toEqual([]);
  expect(await server.application.database.source.query("PRAGMA foreign_keys")).toEqual([{ foreign_keys: 1 }]);
  expect(await server.application.database.source.query("PRAGMA journal_mode")).toEqual([{ journal_mode: "wal" }]);
});

describe("only this machine is served", () => {
  const ask = (headers: Record<string, string>): Promise<number> =>
    new Promise((resolve, reject) => {
      const url = new URL(`${server.base}/health`);
      rawRequest({ host: url.hostname, port: url.port, path: url.pathname, headers }, (response) => resolve(response.statusCode ?? 0))
        .on("error", reject)
        .end();
    });
  test.each([
    [{ Host: "localhost:4177" }, 200],
    [{ Host: "127.0.0.1" }, 200],
    [{ Host: "sundrey.example" }, 403],
    [{ Host: "localhost", Origin: "http://sundrey.example" }, 403],
    [{ Host: "localhost", Origin: "null" }, 403],
    [{ Host: "localhost:4177", Origin: "http://localhost:4177" }, 200],
    // Its own pages only: scheme, host and port.
    [{ Host: "localhost:4177", Origin: "http://localhost:4178" }, 403],
    [{ Host: "localhost:4177", Origin: "https://localhost:4177" }, 403],
    [{ Host: "localhost:4177", Origin: "http://127.0.0.1:4177" }, 403],
    [{ Host: "localhost", "Sec-Fetch-Site": "cross-site" }, 403],
    // A page of another port sends no Origin with an image or a link to a file.
    [{ Host: "localhost", "Sec-Fetch-Site": "same-site" }, 403],
    [{ Host: "localhost", "Sec-Fetch-Site": "same-origin" }, 200],
    [{ Host: "localhost", "Sec-Fetch-Site": "none" }, 200],
  ])("%o gets %i", async (headers, status) => {
    expect(await ask(headers as Record<string, string>)).toBe(status);
  });
});

describe("what can't be is refused at the border, with the field", () => {
  const run = (settings: object, inputs: object = {}) => ({
    ...{ id: "odd", planId: "odd", source: "export default plan({ title: 'A', build() {} });", inputs },
    settings: { ...SWING_SETTINGS, ...settings },
  });
  test.each([
    ["money beyond all bounds", run({ cash: 1e308 }), /settings\.cash must be <= 1000000000000 \(it is 1e\+308\)/],
    ["money below all coins", run({ cash: 5e-324 }), /settings\.cash must be >= 1e-9/],
    ["a margin below all", run({ margin: { by: "unit", value: 5e-324, maintenancePercent: 0 } }), /margin\.value must be >=/],
    ["an input beyond all bounds", run({}, { stop: -1e300 }), /inputs\.stop must be >=/],
    ["a day that there is not", run({ from: "2025-02-30" }), /settings\.from is no day of the calendar \(it is "2025-02-30"\)/],
    ["a month that there is not", run({ to: "2025-13-01" }), /settings\.to is no day of the calendar/],
  ])("%s", async (_what, body, words) => {
    const answer = await call<{ error: { code: string; message: string } }>("POST", "/runs", body);
    expect([answer.status, answer.body.error]).toEqual([
      400,
      expect.objectContaining({ code: "bad-input", message: expect.stringMatching(words) }),
    ]);
  });

  test("a body that is not UTF-8", async () => {
    const bytes = Buffer.concat([Buffer.from('{"title": "'), Buffer.from([0xff, 0xfe]), Buffer.from('"}')]);
    const response = await fetch(`${server.base}/plans`, { method: "POST", body: bytes, headers: { "Content-Type": "application/json" } });
    expect([response.status, await response.json()]).toMatchObject([
      400,
      { error: { code: "bad-input", message: expect.stringContaining("UTF-8") } },
    ]);
  });

  test("a number that JSON writes as endless", async () => {
    const text = JSON.stringify(run({})).replace(/"cash":\d+/, '"cash":1e999');
    const response = await fetch(`${server.base}/runs`, { method: "POST", body: text, headers: { "Content-Type": "application/json" } });
    expect(response.status).toBe(400);
  });
});

describe("import", () => {
  test("a report says what was left out, by line", async () => {
    const { status, body } = await server.importSwing("AGAIN");
    expect(status).toBe(200);
    expect(body).toMatchObject({ symbol: "AGAIN", rows: 14 * 1440 + 1, bars: 14 * 1440, rejected: 1, outsideSessions: 0 });
    expect(body.problems[0]).toMatchObject({ line: 501 });
    const { body: markets } = await server.ask("listMarkets");
    expect(markets.find(({ instrument }) => instrument.symbol === "AGAIN")?.bars).toBe(14 * 1440);
    expect((await server.ask("deleteMarket", { symbol: "AGAIN" })).status).toBe(204);
    expect((await server.ask("deleteMarket", { symbol: "AGAIN" })).status).toBe(404);
  });

  test("a file without bars is refused, and nothing of it stays", async () => {
    const { status, body } = await server.importSwing("NOTHING", "a,b\nc,d\n");
    expect(status).toBe(422);
    expect(body.error?.message).toMatch(/No valid bar in 1 line\. Line 2: it has 2 fields; 6 are needed/);
    expect(existsSync(join(server.folder, "incoming", "test.csv"))).toBe(false);
    expect((await server.ask("getHistory", { symbol: "NOTHING" })).status).toBe(404);
  });

  test("bars that do not lie as their timeframe says are refused, and nothing of them stays", async () => {
    const quarters = swingCsv()
      .split("\n")
      .filter((_, i) => i === 0 || i % 15 === 1);
    const { status, body } = await server.importSwing("QUARTERS", quarters.join("\n"));
    expect(status).toBe(422);
    expect(body.error?.message).toMatch(
      /^Line 3: .* 15 minutes after .* not bars of 1 min but, it seems, bars of 15 min\. Nothing was imported\.$/,
    );
    expect((await server.ask("getHistory", { symbol: "QUARTERS" })).status).toBe(404);
  });

  test("what is no text, and a zone that there is not, are refused in words", async () => {
    const packed = await server.importSwing("PACKED", "PK\u0003\u0004packed");
    expect(packed.status).toBe(400);
    expect(packed.body.error?.message).toMatch(/^The file is an archive without a file of text or Parquet, or a workbook/);
    const nowhere = await server.importSwing("NOWHERE", swingCsv(), { ...SWING_FORMAT, zone: "Nowhere/Never" });
    expect(nowhere.status).toBe(400);
    expect(nowhere.body.error?.message).toMatch(/"Nowhere\/Never" is not a known time zone/);
    expect(existsSync(join(server.folder, "incoming", "test.csv"))).toBe(false);
  });

  test("a description that does not fit names every field", async () => {
    const { body } = await server.importSwing("BAD", swingCsv(), { ...SWING_FORMAT, dateFormat: "lunar", open: -1 });
    expect(body.error?.message).toMatch(/format\.dateFormat must be one of iso.*|format\.open/);
  });
});

test("a list of instruments loads no bar, also in a server that was just started", async () => {
  const before = (await server.ask("listMarkets")).body;
  await server.stop();
  await server.start();
  const { bars } = server.application;
  const load = vi.spyOn(bars, "load");
  expect((await server.ask("listMarkets")).body).toEqual(before);
  expect(load).not.toHaveBeenCalled();
  // Asked for again where none is kept, as in a folder of before.
  await server.application.database.write((manager) => manager.query(`UPDATE "bar_set" SET "thumbnail" = NULL`));
  await server.stop();
  await server.start();
  expect((await server.ask("listMarkets")).body).toEqual(before);
});

test("bars come as columns with their sessions", async () => {
  const response = await fetch(`${server.base}/markets/SWING/bars?timeframe=1h&from=2025-03-04&to=2025-03-05`);
  const { meta, columns } = unpackColumns<{ dates: string[] }>(await response.arrayBuffer());
  expect(meta.dates).toEqual(["2025-03-04", "2025-03-05"]);
  expect(columns.time!.length).toBe(48);
  expect(new Date(columns.time![0]!).toISOString()).toBe("2025-03-04T00:00:00.000Z");
  expect((await server.ask("getBars", { symbol: "SWING", timeframe: "soon", from: "2025-03-04", to: "2025-03-05" })).status).toBe(400);
});

describe("plans, runs and sweeps", () => {
  let plan: PlanDetail;
  const source = exampleSource(EXAMPLES.find(({ id }) => id === "brine-cross")!);
  const request = (id: string, more: object = {}) => ({
    id,
    planId: plan.id,
    source,
    inputs: { fast: 5, slow: 20 },
    settings: SWING_SETTINGS,
    ...more,
  });

  beforeAll(async () => {
    plan = (await server.ask("createPlan", {}, {})).body;
  });

  test("a save from an older text is a conflict that loses neither; one whose answer got lost is none", async () => {
    const { body: made } = await server.ask("createPlan", {}, { source });
    expect(made.revision).toBe(0);
    const put = (body: object) =>
      call<PlanDetail & { error?: { code: string; details: Partial<PlanDetail> } }>("PATCH", `/plans/${made.id}`, body);
    const first = await put({ source: `${source}// one`, baseRevision: 0 });
    expect([first.status, first.body.revision]).toEqual([200, 1]);
    // The same once more, as after an answer that never came.
    expect((await put({ source: `${source}// one`, baseRevision: 0 })).body.revision).toBe(1);
    // A note is nobody's text.
    expect((await put({ note: "by the pier" })).body.revision).toBe(1);
    const { status, body } = await put({ source: `${source}// two`, baseRevision: 0 });
    expect([status, body.error]).toMatchObject([409, { code: "conflict", details: { revision: 1, source: `${source}// one` } }]);
    expect((await server.ask("getPlan", { id: made.id })).body.source).toBe(`${source}// one`);
    const { body: versions } = await server.ask("listVersions", { id: made.id });
    const texts = await Promise.all(versions.map(async ({ id }) => (await server.ask("getVersion", { id })).body.source));
    expect(texts).toEqual(expect.arrayContaining([`${source}// one`, `${source}// two`]));
    expect((await put({ source: `${source}// two`, baseRevision: 1 })).body.revision).toBe(2);
  });

  test("saves of one draft that run side by side are no conflict, in whatever order they come; those of another are", async () => {
    const { body: made } = await server.ask("createPlan", {}, { source });
    const save = async (text: string, baseRevision: number, id: string, number: number) => {
      const { status } = await call("PATCH", `/plans/${made.id}`, { source: source + text, baseRevision, draft: { id, save: number } });
      const { body } = await server.ask("getPlan", { id: made.id });
      return [status, body.source.slice(source.length), body.revision];
    };
    expect(await save("// a", 0, "mine", 1)).toEqual([200, "// a", 1]);
    // The page that goes does not know yet that the first was taken.
    expect(await save("// ab", 0, "mine", 2)).toEqual([200, "// ab", 2]);
    expect(await save("// a", 0, "mine", 1)).toEqual([200, "// ab", 2]);
    expect(await save("// theirs", 1, "other", 9)).toEqual([409, "// ab", 2]);
    expect(await save("// theirs", 2, "other", 10)).toEqual([200, "// theirs", 3]);
    expect(await save("// abc", 2, "mine", 3)).toEqual([409, "// theirs", 3]);
    // At once.
    const both = [save("// x", 3, "late", 1), save("// xy", 3, "late", 2)];
    await Promise.all(both);
    expect((await server.ask("getPlan", { id: made.id })).body.source).toBe(`${source}// xy`);
  });

  test("a new plan starts from a skeleton that runs, and keeps its draft", async () => {
    expect(plan.source).toContain("export default plan(");
    const { body } = await server.ask(
      "createRun",
      {},
      {
        id: "skeleton",
        planId: plan.id,
        source: plan.source,
        inputs: {},
        settings: SWING_SETTINGS,
      },
    );
    expect(body.status).toBe("complete");
    await server.ask("updatePlan", { id: plan.id }, { source, inputs: { fast: 7 } });
    expect((await server.ask("getPlan", { id: plan.id })).body).toMatchObject({ source, inputs: { fast: 7 } });
    expect((await call("PATCH", `/plans/${plan.id}`, { colour: "red" })).body).toMatchObject({
      error: { message: expect.stringMatching(/"colour" that is not known/) },
    });
    expect((await server.ask("getPlan", { id: "none" })).status).toBe(404);
  });

  test("describe gives the inputs, or line and column of what is wrong", async () => {
    expect((await server.ask("describePlan", {}, { source })).body.inputs.length).toBe(5);
    const { status, body } = await call<{ error: { details: { line: number } } }>("POST", "/describe", {
      source: "export default plan({\n  title: ,\n})",
    });
    expect(status).toBe(422);
    expect(body.error.details.line).toBe(2);
  });

  test("a run answers with its evidence; the same run has the same fingerprint and result", async () => {
    const [{ body: one }, { body: two }] = [
      await server.ask("createRun", {}, request("one")),
      await server.ask("createRun", {}, request("two")),
    ];
    expect(one).toMatchObject({ status: "complete", title: "Brine cross", kept: null, bars: 960 });
    expect(one.trades.length).toBeGreaterThan(10);
    expect(one.warnings.map(({ code }) => code)).toContain("no costs");
    expect(two.fingerprint).toBe(one.fingerprint);
    expect(two.trades).toEqual(one.trades);
    const other = (await server.ask("createRun", {}, request("three", { inputs: { fast: 6, slow: 20 } }))).body;
    expect(other.fingerprint).not.toBe(one.fingerprint);
    const { columns } = unpackColumns(await (await fetch(`${server.base}/runs/one/columns`)).arrayBuffer());
    expect(columns.equity!.length).toBe(960);
    expect(columns.equity!.at(-1)! - 100_000).toBeCloseTo(one.figures.netProfit, 6);
  });

  test("finer-bar paths leave no trade undecided that minutes can decide", async () => {
    const inputs = { fast: 5, slow: 20, stop: 10, target: 10 };
    const hourly = { ...SWING_SETTINGS, timeframe: "1h" };
    const assumed = (await server.ask("createRun", {}, request("coarse", { inputs, settings: hourly }))).body;
    const finer = (await server.ask("createRun", {}, request("fine", { inputs, settings: { ...hourly, path: "finer" } }))).body;
    expect(assumed.figures.pathDependentTrades).toBeGreaterThan(0);
    expect(finer.figures.pathDependentTrades).toBeLessThan(assumed.figures.pathDependentTrades);
  });

  test.each([
    ["inputs out of bounds", { inputs: { fast: 1 } }, /Fast average is 1; the least is 2/],
    ["an instrument that is not there", { settings: { ...SWING_SETTINGS, symbol: "GONE" } }, /no instrument "GONE"/],
    [
      "a period without bars",
      { settings: { ...SWING_SETTINGS, from: "2020-01-01", to: "2020-02-01" } },
      /no bars of SWING in the chosen period/,
    ],
    [
      "a period that ends before it begins",
      { settings: { ...SWING_SETTINGS, from: "2025-03-09", to: "2025-03-04" } },
      /ends \(2025-03-04\) before it begins/,
    ],
    ["no cash", { settings: { ...SWING_SETTINGS, cash: 0 } }, /settings\.cash must be > 0/],
  ])("%s is refused in words", async (_name, more, message) => {
    const { status, body } = await call<{ error: { message: string } }>("POST", "/runs", request("bad", more));
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.error.message).toMatch(message);
  });

  test("a kept run outlives a restart with the exact source, inputs and settings that made it", async () => {
    const { body: kept } = await server.ask("keepRun", { id: "one" }, { name: "First try", note: "a note", tags: ["tide"] });
    expect(kept).toMatchObject({ name: "First try", trades: expect.any(Number) });
    await server.stop();
    await server.start();
    expect((await server.ask("getRun", { id: "two" })).status).toBe(404);
    const { body } = await server.ask("getRun", { id: "one" });
    expect(body).toMatchObject({
      source,
      inputs: { fast: 5, slow: 20 },
      settings: SWING_SETTINGS,
      kept: { name: "First try", note: "a note", tags: ["tide"] },
    });
    const { body: orders } = await server.ask("getRunOrders", { id: "one" });
    expect(orders.orders.length).toBeGreaterThan(10);
    expect((await call<RunPage>("GET", "/runs")).body.runs.map(({ id }) => id)).toEqual(["one"]);
    expect((await server.ask("listPlans")).body[0]?.lastRun?.id).toBe("one");
  });

  test("the last draft of a plan outlives a restart, and leads nowhere once its plan is gone", async () => {
    const { body: other } = await server.ask("createPlan", {}, { source });
    const lastDraft = async (): Promise<string | null> => (await server.ask("getLastDraft", { id: other.id })).body.runId;
    expect(await lastDraft()).toBeNull();
    await server.ask("createRun", {}, request("draft-a", { planId: other.id }));
    const { body: made } = await server.ask("createRun", {}, request("draft-b", { planId: other.id }));
    expect(await lastDraft()).toBe("draft-b");
    await server.stop();
    await server.start();
    expect(await lastDraft()).toBe("draft-b");
    expect((await server.ask("getRun", { id: "draft-b" })).body).toEqual(made);
    await server.ask("deletePlan", { id: other.id });
    await server.ask("emptyBin");
    await server.stop();
    await server.start();
    expect(await lastDraft()).toBeNull();
    expect((await server.ask("getRun", { id: "draft-b" })).status).toBe(404);
  });

  const sweepRequest = {
    source,
    inputs: {},
    settings: SWING_SETTINGS,
    ranges: [
      { input: "fast", from: 4, to: 8, step: 2 },
      { input: "slow", from: 15, to: 25, step: 5 },
    ],
    outOfSample: { from: "2025-03-13", to: "2025-03-16" },
    aim: "netProfit",
  };

  test("a sweep's rows equal single runs, in-sample and out-of-sample apart", async () => {
    const spec = { planId: plan.id, ...sweepRequest };
    expect((await call<{ variants: number; seconds: number }>("POST", "/sweeps/estimate", spec)).body).toMatchObject({ variants: 9 });
    const { body: sweep } = await call<SweepDetail>("POST", "/sweeps", spec);
    await server.application.sweeps.finished(sweep.id);
    const { body: done } = await server.ask("getSweep", { id: sweep.id });
    expect(done).toMatchObject({ status: "complete", done: 9, failed: 0 });
    const { columns } = unpackColumns(await (await fetch(`${server.base}/sweeps/${sweep.id}/figures`)).arrayBuffer());
    const width = done.figures.length;
    // Variant 4 is fast 6, slow 20: the last range moves fastest.
    const run = (await server.ask("createRun", {}, request("row", { inputs: { fast: 6, slow: 20 } }))).body;
    const out = (
      await call<RunEvidence>(
        "POST",
        "/runs",
        request("row-out", { inputs: { fast: 6, slow: 20 }, settings: { ...SWING_SETTINGS, ...sweepRequest.outOfSample } }),
      )
    ).body;
    expect(columns.figures![4 * 2 * width]).toBeCloseTo(run.figures.netProfit, 9);
    expect(columns.figures![4 * 2 * width + width]).toBeCloseTo(out.figures.netProfit, 9);
    expect((await server.ask("deleteSweep", { id: sweep.id })).status).toBe(204);
  });

  test.each([
    ["overlapping stretches", { outOfSample: { from: "2025-03-10", to: "2025-03-16" } }, /overlaps the in-sample period/],
    ["an input that is not there", { ranges: [{ input: "speed", values: [1] }] }, /no input "speed"/],
    ["a range outside the bounds", { ranges: [{ input: "fast", from: 0, to: 4, step: 1 }] }, /the least is 2/],
    [
      "too many variants",
      {
        ranges: [
          { input: "fast", from: 2, to: 200, step: 1 },
          { input: "slow", from: 5, to: 400, step: 1 },
          { input: "stop", from: 5, to: 400, step: 5 },
        ],
      },
      /the most is 200000/,
    ],
  ])("%s is refused", async (_name, more, message) => {
    const { body } = await call<{ error: { message: string } }>("POST", "/sweeps", { planId: plan.id, ...sweepRequest, ...more });
    expect(body.error.message).toMatch(message);
  });

  test("a stopped sweep keeps what is done", async () => {
    const spec = {
      planId: plan.id,
      ...sweepRequest,
      outOfSample: null,
      ranges: [
        { input: "fast", from: 2, to: 60, step: 1 },
        { input: "slow", from: 5, to: 124, step: 1 },
      ],
    };
    const { body: sweep } = await call<SweepDetail>("POST", "/sweeps", spec);
    while ((await server.ask("getSweep", { id: sweep.id })).body.done === 0) await new Promise((resolve) => setTimeout(resolve, 20));
    await server.ask("stopSweep", { id: sweep.id });
    const { body: stopped } = await server.ask("getSweep", { id: sweep.id });
    expect(stopped.status).toBe("stopped");
    expect(stopped.done).toBeGreaterThan(0);
    expect(stopped.done).toBeLessThan(59 * 120);
    const { columns } = unpackColumns(await (await fetch(`${server.base}/sweeps/${sweep.id}/figures`)).arrayBuffer());
    expect(columns.figures!.filter((value, i) => i % stopped.figures.length === 0 && !Number.isNaN(value)).length).toBe(stopped.done);
    expect((await server.ask("resumeSweep", { id: sweep.id })).status).toBe(409);
    const [trial] = (await server.ask("getJournal", { id: plan.id })).body;
    expect(trial).toMatchObject({ kind: "sweep", runId: sweep.id, status: "stopped", variants: stopped.done });
  });

  test("a paused sweep goes on where it was, and so does one that the end of the server cut off", async () => {
    const spec = {
      planId: plan.id,
      ...sweepRequest,
      ranges: [
        { input: "fast", from: 2, to: 31, step: 1 },
        { input: "slow", from: 35, to: 64, step: 1 },
      ],
    };
    const { body: whole } = await call<SweepDetail>("POST", "/sweeps", spec);
    await server.application.sweeps.finished(whole.id);
    const figuresOf = async (id: string) =>
      unpackColumns(await (await fetch(`${server.base}/sweeps/${id}/figures`)).arrayBuffer()).columns.figures!;
    const dailyOf = async (id: string) =>
      unpackColumns(await (await fetch(`${server.base}/sweeps/${id}/daily`)).arrayBuffer()).singles.daily!;

    const { body: sweep } = await call<SweepDetail>("POST", "/sweeps", spec);
    while ((await server.ask("getSweep", { id: sweep.id })).body.done === 0) await new Promise((resolve) => setTimeout(resolve, 5));
    await server.ask("pauseSweep", { id: sweep.id });
    const { body: paused } = await server.ask("getSweep", { id: sweep.id });
    expect(paused.status).toBe("paused");
    expect(paused.done).toBeLessThan(900);
    expect((await server.ask("resumeSweep", { id: sweep.id })).status).toBe(204);
    while ((await server.ask("getSweep", { id: sweep.id })).body.done <= paused.done)
      await new Promise((resolve) => setTimeout(resolve, 5));
    // The server ends in the middle, and comes back.
    await server.stop();
    await server.start();
    await server.application.sweeps.finished(sweep.id);
    const { body: done } = await server.ask("getSweep", { id: sweep.id });
    expect(done).toMatchObject({ status: "complete", done: 900, failed: 0 });
    expect(await figuresOf(sweep.id)).toEqual(await figuresOf(whole.id));
    expect(await dailyOf(sweep.id)).toEqual(await dailyOf(whole.id));
    expect((await dailyOf(sweep.id)).length).toBe(900 * 10);
  });

  test("a variant that fails costs only itself and says why", async () => {
    const picky = source.replace("const fast =", "if (inputs.fast === 6) throw new Error('no sixes');\n    const fast =");
    const { body: sweep } = await call<SweepDetail>("POST", "/sweeps", { planId: plan.id, ...sweepRequest, source: picky });
    await server.application.sweeps.finished(sweep.id);
    const { body } = await server.ask("getSweep", { id: sweep.id });
    expect(body).toMatchObject({ status: "complete", done: 9, failed: 3 });
    expect(body.failures[0]?.message).toMatch(/line \d+: no sixes/);
  });
});

test("writes wait in line: many at once all arrive", async () => {
  const made = await Promise.all(Array.from({ length: 12 }, (_, i) => server.ask("createPlan", {}, { title: `Plan ${i}` })));
  expect(made.every(({ status }) => status === 201)).toBe(true);
  const { body } = await server.ask("listPlans");
  expect(body.filter(({ title }) => /^Plan \d+$/.test(title)).length).toBe(12);
});

test("a transaction that fails leaves nothing behind and does not block the next", async () => {
  const database = await Database.open(join(server.folder, "other.sqlite"));
  await expect(
    database.write(async (manager) => {
      await manager.query("INSERT INTO plan VALUES ('a','t','s','{}','{}','',1,1,'',0,0)");
      throw new Error("no");
    }),
  ).rejects.toThrow("no");
  expect(await database.read.query("SELECT count(*) AS n FROM plan")).toEqual([{ n: 0 }]);
  await database.write((manager) => manager.query("INSERT INTO plan VALUES ('a','t','s','{}','{}','',1,1,'',0,0)"));
  expect(await database.read.query("SELECT count(*) AS n FROM plan")).toEqual([{ n: 1 }]);
  await database.close();
});
