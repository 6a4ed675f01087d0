/** Runs the table of docs/hostile-plans.md: every attempt gets what the page says, and harms nobody else. */
import { readFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { eachBar, run } from "./testing.ts";

const page = readFileSync(new URL("../../docs/hostile-plans.md", import.meta.url), "utf8");
const rows = page
  .split("\n")
  .filter((line) => /^\| .* \| `/.test(line))
  .map(
    (line) =>
      line
        .split("|")
        .slice(1, -1)
        .map((cell) => cell.trim().replace(/^`|`$/g, "")) as [string, string, string],
  );

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const SOUND = eachBar("if (n % 50 === 0 && position.flat) enter.long({ stopLoss: ticks(20), target: ticks(30) });");

/** Everything that a run says of what went wrong. */
async function wordsOf(code: string): Promise<string> {
  try {
    const { result } = await run(worker, eachBar(code));
    const said = [
      result.failure?.message ?? "",
      ...result.warnings.map(({ text }) => text),
      ...result.log.slice(0, 50).map(({ text }) => text),
    ];
    return [...said, ...result.orders.slice(-5).map(({ note }) => note)].join("\n");
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}

describe("what a hostile plan tries", () => {
  test("the page lists enough", () => expect(rows.length).toBeGreaterThan(35));

  test.each(rows)(
    "%s",
    async (_name, code, gets) => {
      expect(await wordsOf(code)).toContain(gets);
      const { result } = await run(worker, SOUND);
      expect(result.status).toBe("complete");
      expect(result.trades.length).toBeGreaterThan(5);
    },
    60_000,
  );
});
