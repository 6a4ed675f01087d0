/** Line evidence: how often each statement of a plan ran. */

import { resolveSettings } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { countPlanLines } from "./run-plan.ts";
import { INSTRUMENT, run, walk } from "./testing.ts";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const SOURCE = `export default plan({
  title: "Lines",
  build({ bars, on, enter, position }) {
    let n = 0;
    on.barClose(() => {
      n++;
      if (n % 100 === 0 && position.flat)
        enter.long({ timeLimit: { bars: 5 } });
      else if (n < 0)
        enter.short();
      if (n === 50) throwAway(n);
    });
    function throwAway(value: number) {
      return value * 2;
    }
  },
});
`;
const request = (bars: number) => ({
  source: SOURCE,
  inputs: {},
  settings: resolveSettings({}),
  feeds: [{ instrument: INSTRUMENT, data: { key: `walk${bars}`, series: walk(bars, 3), finer: null } }],
});

test("every statement has its count, and what never ran has none", async () => {
  const { statements, counts } = await countPlanLines(worker, request(1000));
  const byLine: Record<number, number[]> = {};
  statements.forEach(({ line }, k) => {
    byLine[line] = [...(byLine[line] ?? []), counts[k]!].sort((a, b) => b - a);
  });
  expect(byLine).toEqual({
    1: [1],
    4: [1],
    5: [1],
    6: [1000],
    7: [1000],
    8: [10],
    9: [990],
    10: [0],
    // The condition, and the branch behind it.
    11: [1000, 1],
    14: [1],
  });
});

test("the counting pass trades as the run does, and leaves the run's own speed alone", async () => {
  const { result } = await run(worker, SOURCE, 1000);
  // The tenth is sent at the last close.
  expect(result.trades.length).toBe(9);
  expect(result.trades.every(({ entryLine }) => entryLine === 8)).toBe(true);
});
