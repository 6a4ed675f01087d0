/** A report: its figures come first, and are those of the report; what follows is the same run. */
import type { FirstFigures } from "@plan-tester/contract";
import { resolveSettings } from "@plan-tester/core";
import { afterAll, afterEach, beforeAll, expect, test, vi } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { headOfPlan, reportPlan } from "./report-plan.ts";
import { runPlan } from "./run-plan.ts";
import { INSTRUMENT, walk } from "./testing.ts";

const worker = new PlanProcess();
const ask = worker.ask.bind(worker);
beforeAll(() => worker.warm());
afterEach(() => vi.restoreAllMocks());
afterAll(() => worker.kill("done"));

const SOURCE = `export default plan({
  title: "In and out",
  build({ on, enter, position }) {
    let n = 0;
    on.barClose(() => {
      n++;
      if (n === 900) throw new Error("enough");
      if (n % 40 === 0 && position.flat) enter.long({ timeLimit: { bars: 9 } });
    });
  },
});
`;
const request = (source: string) => ({
  source,
  inputs: {},
  settings: resolveSettings({}),
  feeds: [{ instrument: INSTRUMENT, data: { key: "walk", series: walk(1000, 5), finer: null } }],
});

test.each([
  ["a run to the end", SOURCE.replace("=== 900", "< 0"), "complete"],
  ["a run that failed on its way", SOURCE, "failed"],
])("%s tells its figures ahead of the rest, and they stay", async (_what, source, status) => {
  const told: FirstFigures[] = [];
  const order: string[] = [];
  vi.spyOn(worker, "ask").mockImplementation((message, last, hearing = {}) =>
    ask(message, last, {
      ...hearing,
      figures: (first) => {
        order.push("figures");
        hearing.figures?.(first);
      },
      part: (part) => {
        order.push(part.part);
        hearing.part?.(part);
      },
    }),
  );
  const { head, trades } = await reportPlan(worker, request(source), { onFigures: (figures) => told.push(figures) });
  vi.restoreAllMocks();
  const { result } = await runPlan(worker, request(source));
  expect(head.status).toBe(status);
  expect(told).toEqual([{ figures: head.figures, benchmarkFigures: head.benchmarkFigures }]);
  expect(head.figures.trades).toBeGreaterThan(10);
  expect(head.figures).toEqual(result.figures);
  expect(order).toEqual(["figures", "trades", "orders", "columns"]);
  expect(JSON.parse(Buffer.concat(trades).toString())).toHaveLength(head.figures.trades);
});

test("whoever wants the head alone is told nothing ahead", async () => {
  const told: string[] = [];
  vi.spyOn(worker, "ask").mockImplementation((message, last) => ask(message, last, { figures: () => told.push("figures") }));
  await headOfPlan(worker, request(SOURCE));
  expect(told).toEqual([]);
});
