/**
 * Random rule sheets, with all that a sheet can say: the programs that they write pass the type check, run to their end, and
 * have none of the slips that a person makes who writes both sides by hand.
 */
import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { textOfSheet } from "@plan-tester/contract";
import { activeRules } from "@plan-tester/core";
import { fullSheet } from "@plan-tester/core/testing/sheets";
import fc from "fast-check";
import { afterAll, beforeAll, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { findSlips } from "./slips.ts";
import { run } from "./testing.ts";

const RUNS = Number(process.env.SHEETS ?? 60);
// A sheet whose entries are all switched off has filters of nothing.
const entering = fullSheet.filter(({ longEntry, shortEntry }) => [longEntry, shortEntry].some((group) => activeRules(group).length > 0));
const programs = fc.sample(entering, { numRuns: RUNS, seed: 7 }).map(textOfSheet);
const NEVER: ReadonlySet<string> = new Set(["unused input", "wrong side", "copied side", "always true"]);
const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

test("they pass the type check", () => {
  const folder = mkdtempSync(join(tmpdir(), "plan-tester-sheets-"));
  const root = join(import.meta.dirname, "..", "..");
  const faces = ["language.d.ts", "studies.d.ts"].map((name) => join(root, "core/src/language", name));
  const compilerOptions = { target: "ES2022", lib: ["ES2022"], module: "ESNext", moduleResolution: "bundler", strict: true, noEmit: true };
  const options = { ...compilerOptions, noUnusedLocals: true, noUnusedParameters: true, types: [], moduleDetection: "force" };
  try {
    programs.forEach((program, i) => {
      writeFileSync(join(folder, `sheet${i}.plan.ts`), program);
    });
    writeFileSync(join(folder, "tsconfig.json"), JSON.stringify({ compilerOptions: options, include: ["*.plan.ts", ...faces] }));
    const { status, stdout } = spawnSync(join(root, "node_modules", ".bin", "tsc"), ["-p", folder], { encoding: "utf8" });
    expect(stdout).toBe("");
    expect(status).toBe(0);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test("they run to their end, with no slip of a side or an input", async () => {
  let trades = 0;
  for (const program of programs) {
    const { result } = await run(worker, program, 6000);
    expect(result.failure, program).toBeNull();
    const slips = findSlips(program, result).filter(({ code }) => NEVER.has(code));
    expect(slips, program).toEqual([]);
    trades += result.trades.length;
  }
  expect(trades).toBeGreaterThan(RUNS);
});
