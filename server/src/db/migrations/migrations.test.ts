/** A database of the version before searches opens, and nothing in it is lost. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { DataSource } from "typeorm";
import { afterAll, expect, test } from "vitest";
import { VariantRepository } from "../../features/plans/variants.ts";
import { SweepRepository } from "../../features/sweeps/sweep-repository.ts";
import { Database } from "../database.ts";
import { FirstSchema1764000000000 } from "./2025-11-24-first-schema.ts";
import { EvidenceSchema1764100000000 } from "./2025-11-25-evidence.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

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
