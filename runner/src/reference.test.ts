/** The examples of the language's reference are run, every one, and use every word there is. */
import { readFileSync } from "node:fs";
import { resolveSettings, STUDIES, VOCABULARY } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { resultHashOf } from "./result-hash.ts";
import { run } from "./testing.ts";

const reference = readFileSync(new URL("../../docs/plan-language.md", import.meta.url), "utf8");
const examples = [...reference.matchAll(/```ts\n([\s\S]*?)```/g)].map(([, code]) => code!);
const NAMES =
  "bars, inputs, markets, market, when, during, mirrored, on, enter, exit, position, orders, account, clock, log, note, figure, show, random";
const asPlan = (code: string): string =>
  code.includes("export default") ? code : `export default plan({ title: "Example", build({ ${NAMES} }) {\n${code}} });`;

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

test.each(examples.map((code, i) => [i + 1, code] as const))("example %i runs", async (_i, code) => {
  const { result } = await run(worker, asPlan(code), 4000, undefined, resolveSettings({ seed: 4 }));
  expect(result.failure).toBeNull();
  expect(result.status).toBe("complete");
  expect(result.log.filter(({ text }) => /not sent/.test(text))).toEqual([]);
  expect(result.log.length + result.trades.length + result.notes.length).toBeGreaterThan(0);
});

test("the examples use every word of the language", () => {
  const studies = new Set(STUDIES.map(({ name }) => name));
  const all = examples.join("\n");
  const words = Object.keys(VOCABULARY).filter((name) => !studies.has(name));
  expect(words.filter((name) => !new RegExp(`\\b${name}\\(`).test(all))).toEqual([]);
});

test("R7.2 two plan processes come to the same result, to the last bit", async () => {
  const other = new PlanProcess();
  try {
    for (const code of examples.slice(5, 9)) {
      const settings = resolveSettings({ seed: 9, path: "adverse" });
      const [one, two] = await Promise.all([worker, other].map((process) => run(process, asPlan(code), 3000, undefined, settings)));
      expect(resultHashOf(two!.result)).toBe(resultHashOf(one!.result));
    }
  } finally {
    other.kill("done");
  }
});
