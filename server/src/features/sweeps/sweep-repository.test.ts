/** A sweep that ends while it is being written down stays ended. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PLAIN_SETTINGS, type SweepDetail } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { Database } from "../../db/database.ts";
import { SweepRepository } from "./sweep-repository.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
let database: Database;
beforeAll(async () => {
  database = await Database.open(join(folder, "sweeps.sqlite"));
});
afterAll(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});

const VARIANTS = 4000;
const sweep: SweepDetail = {
  ...{
    id: "s",
    planId: "p",
    planTitle: "P",
    status: "running",
    variants: VARIANTS,
    done: 0,
    failed: 0,
    createdMs: 1,
    elapsedMs: 1,
    error: "",
  },
  request: {
    ...{ planId: "p", name: "", inputs: {}, ranges: [], outOfSample: null, daily: true },
    settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m" },
  } as unknown as SweepDetail["request"],
  ...{ source: "", inputSpecs: [], failures: [], figures: SWEEP_FIGURES },
};

test("the end of a sweep is not overtaken by how far it was before", async () => {
  const sweeps = new SweepRepository(database);
  const state = {
    points: Array.from({ length: VARIANTS }, (_none, k) => k),
    figures: new Float64Array(VARIANTS * SWEEP_FIGURES.length).fill(1),
    ...{ daily: new Float32Array(0), dailyStride: 0, failures: [] },
  };
  // What is written of the first has to be packed; of the second there is nothing left to write.
  const rest = { ...state, points: [] };
  await Promise.all([sweeps.save({ ...sweep, done: 100 }, state), sweeps.save({ ...sweep, status: "paused", done: 204 }, rest)]);
  expect((await sweeps.find("s"))?.detail).toMatchObject({ status: "paused", done: 204 });
});

test("a save that fails holds up none after it", async () => {
  const sweeps = new SweepRepository(database);
  const state = { points: [], figures: new Float64Array(0), daily: new Float32Array(0), dailyStride: 0, failures: [] };
  let writes = 0;
  database.beforeWrite = () => {
    if (++writes === 1) throw new Error("the disk is full");
  };
  const failing = sweeps.save({ ...sweep, id: "t" }, state);
  const later = sweeps.save({ ...sweep, id: "t", status: "complete" }, state);
  await expect(failing).rejects.toThrow();
  await later;
  database.beforeWrite = null;
  expect((await sweeps.list()).find(({ id }) => id === "t")?.status).toBe("complete");
});
