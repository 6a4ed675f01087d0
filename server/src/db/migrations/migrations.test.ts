/** Databases of earlier versions open, and nothing in them is lost. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gunzipSync } from "node:zlib";
import { check, type RunEvidence, type RunQuery, runSettingsSchema } from "@plan-tester/contract";
import { checkReply } from "@plan-tester/contract/check-reply";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { DataSource } from "typeorm";
import { afterAll, expect, test } from "vitest";
import { PlanRepository } from "../../features/plans/plan-repository.ts";
import { VariantRepository } from "../../features/plans/variants.ts";
import { RunRepository } from "../../features/runs/run-repository.ts";
import { SweepRepository } from "../../features/sweeps/sweep-repository.ts";
import { Database } from "../database.ts";
import { TrialEntity } from "../entities.ts";
import { FirstSchema1764000000000 } from "./2025-11-24-first-schema.ts";
import { EvidenceSchema1764100000000 } from "./2025-11-25-evidence.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const NO_FILTER: RunQuery = {
  ...{ search: "", plan: "", symbol: "", tag: "", batch: "", sort: "createdMs", order: "down", offset: 0, limit: 100 },
};

interface ColumnFacts {
  readonly name: string;
  readonly type: string;
  readonly notnull: number;
}

/** Puts in a row; what is not given is empty. */
async function insert(source: DataSource, table: string, given: Readonly<Record<string, unknown>>): Promise<void> {
  const columns: ColumnFacts[] = await source.query(`SELECT "name", "type", "notnull" FROM pragma_table_info('${table}')`);
  const empty = ({ type, notnull }: ColumnFacts): unknown =>
    notnull ? (type === "text" ? "" : type === "blob" ? Buffer.alloc(0) : 0) : null;
  const values = columns.map((column) => (column.name in given ? given[column.name] : empty(column)));
  const names = columns.map(({ name }) => `"${name}"`).join();
  await source.query(`INSERT INTO "${table}" (${names}) VALUES (${columns.map(() => "?").join()})`, values);
}

const spec = (name: string) => ({
  ...{ name, kind: "whole", default: 1, label: name, min: 1, max: 9, step: 1, unit: "", group: "", help: "", choices: [] },
});
const request = {
  ...{ planId: "p", inputs: {}, settings: { symbol: "KELP" }, outOfSample: null, aim: "sharpe", constraints: ["a < b"], search: null },
  ranges: [
    { input: "a", values: [1, 2] },
    { input: "b", values: [1, 2, 3] },
  ],
};

test("sweeps keep their rows and know their points, stitched runs their walk-forward, variants go with any market", async () => {
  const file = join(folder, "old.sqlite");
  const old = new DataSource({
    ...{ type: "better-sqlite3", database: file, migrations: [FirstSchema1764000000000, EvidenceSchema1764100000000], migrationsRun: true },
  });
  await old.initialize();
  // Three variants meet the condition, ten figures each.
  const figures = Float64Array.from({ length: 30 }, (_none, i) => i);
  const sweep = { request: JSON.stringify(request), inputSpecs: JSON.stringify([spec("a"), spec("b")]), failures: "[]" };
  await insert(old, "sweep", { id: "whole", ...sweep, figures: Buffer.from(figures.buffer) });
  const spread = { ...request, search: { count: 6, seed: 1 } };
  await insert(old, "sweep", { id: "spread", ...sweep, request: JSON.stringify(spread), figures: Buffer.from(figures.buffer) });
  const windows = { windows: [], total: 3, variants: 4, runId: "stitched", efficiency: null };
  await insert(old, "walk_forward", { id: "walk", request: "{}", inputSpecs: "[]", windows: JSON.stringify(windows) });
  await insert(old, "run", { id: "stitched", tags: '["walk-forward"]', batch: "" });
  await insert(old, "run", { id: "plain", tags: "[]", batch: "" });
  await insert(old, "variant", { id: "tight", planId: "p", name: "tight", inputs: '{"a":1}', kit: "null" });
  await old.destroy();

  const database = await Database.open(file);
  const sweeps = new SweepRepository(database);
  const whole = await sweeps.find("whole");
  expect(whole?.points).toEqual([1, 2, 5]);
  const width = SWEEP_FIGURES.length;
  expect(whole?.figures.length).toBe(3 * width);
  expect([...whole!.figures.subarray(width, width + 10)]).toEqual([...figures.subarray(10, 20)]);
  expect(whole!.figures[2 * width - 1]).toBeNaN();
  const found = await sweeps.find("spread");
  expect(found?.detail.request.search).toEqual({ method: "spread", count: 6, seed: 1 });
  expect([...found!.points].sort()).toEqual([1, 2, 5]);
  expect(await database.read.query(`SELECT "id", "walkForwardId" FROM "run" ORDER BY "id"`)).toEqual([
    { id: "plain", walkForwardId: "" },
    { id: "stitched", walkForwardId: "walk" },
  ]);
  expect(await new VariantRepository(database).list("p")).toMatchObject([{ id: "tight", inputs: { a: 1 }, kit: null, market: null }]);
  const log = await database.source.driver.createSchemaBuilder().log();
  expect(log.upQueries.map(({ query }) => query)).toEqual([]);
  await database.close();
});

/** Files that earlier versions wrote, with the demo's plans, some of its runs, a sweep and a walk-forward; their bars were taken out. */
const OLDER = readdirSync(new URL("./older/", import.meta.url)).filter((name) => name.endsWith(".gz"));

test("there are files of every few versions", () => {
  expect(OLDER.length).toBeGreaterThanOrEqual(3);
});

test.each(OLDER)("a file as it was written on %s opens, and everything in it can be read", async (name) => {
  const file = join(folder, name.replace(".gz", ""));
  writeFileSync(file, gunzipSync(readFileSync(new URL(`./older/${name}`, import.meta.url))));
  const before = new DataSource({ type: "better-sqlite3", database: file });
  await before.initialize();
  const count = async (table: string): Promise<number> => Number((await before.query(`SELECT count(*) AS n FROM "${table}"`))[0].n);
  const counts = { plans: await count("plan"), runs: await count("run"), sweeps: await count("sweep"), trials: await count("trial") };
  await before.destroy();

  const database = await Database.open(file);
  const log = await database.source.driver.createSchemaBuilder().log();
  expect(log.upQueries.map(({ query }) => query)).toEqual([]);
  const plans = await new PlanRepository(database).list();
  expect(plans.length).toBe(counts.plans);
  for (const { settings } of plans) expect(check(runSettingsSchema, { ...settings }, "the settings")).toEqual(settings);

  const runs = new RunRepository(database);
  const { runs: kept } = await runs.list({ ...NO_FILTER, limit: 500 });
  expect(kept.length).toBe(counts.runs);
  checkReply("listRuns", JSON.parse(JSON.stringify({ total: kept.length, runs: kept })));
  for (const { id, trades } of kept) {
    const evidence = JSON.parse(Buffer.concat((await runs.evidenceText(id))!).toString()) as RunEvidence;
    checkReply("getRun", evidence);
    expect(evidence.trades.length).toBe(trades);
    checkReply("getRunOrders", JSON.parse(Buffer.concat((await runs.part(id, "orders"))!).toString()));
  }

  const sweeps = new SweepRepository(database);
  const list = await sweeps.list();
  expect(list.length).toBe(counts.sweeps);
  for (const { id, variants, done } of list) {
    const stored = (await sweeps.find(id))!;
    checkReply("getSweep", JSON.parse(JSON.stringify(stored.detail)));
    expect(stored.points.length).toBeGreaterThanOrEqual(done);
    const ended = stored.points.filter((_point, k) => !Number.isNaN(stored.figures[k * (stored.figures.length / variants)]!));
    expect(ended.length + stored.failures.length).toBe(done);
  }
  const trials = await database.read.find(TrialEntity);
  expect(trials.length).toBe(counts.trials);
  expect(trials.every(({ settings }) => settings.symbol !== "" && settings.riskFree === 0)).toBe(true);
  await database.close();
});
