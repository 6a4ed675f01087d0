/** What each rule of a run's plan earns, by the API on a real SQLite file. */
import type { ApiError } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

const request = (id: string, source: string) => ({ id, planId: "ruled", source, inputs: {}, settings: SWING_SETTINGS });
const RULED = `export default plan({
  title: "Ruled",
  build({ bars, when, enter, position }) {
    const fast = ema(bars.close, 5);
    const up = crossesAbove(fast, ema(bars.close, 20));
    const always = isAbove(bars.close, 0);
    const low = isBelow(ema(bars.close, 20), 390);
    const falling = isFalling(fast, 2);
    when(up.and(always).and(low), () => enter.long({ stopLoss: ticks(60), target: ticks(60) }));
    when(becomes(falling), () => position.close());
  },
});
`;
const PLACEBOS = 9;

test("is told rule by rule, against placebos, and noted in the journal but not among the trials", async () => {
  await server.ask("createRun", {}, request("ruled", RULED));
  const before = (await server.ask("getTrialContext", { id: "ruled" })).body.trials;
  const { status, body } = await server.ask("checkRules", { id: "ruled", placebos: PLACEBOS });
  expect(status).toBe(200);
  const { rules, figures, isStopped, failed, left } = body;
  const { figures: own } = (await server.ask("getRun", { id: "ruled" })).body;
  expect(figures).toEqual({
    netProfit: expect.closeTo(own.netProfit, 6),
    maxDrawdown: expect.closeTo(own.maxDrawdown, 6),
    trades: own.trades,
    averageTrade: expect.closeTo(own.averageTrade!, 6),
  });
  expect({ isStopped, failed, left }).toEqual({ isStopped: false, failed: [], left: 0 });
  expect(rules.map(({ key, line, without }) => [key, line, without])).toEqual([
    ["up", 5, "always"],
    ["always", 6, "always"],
    ["low", 7, "always"],
    ["falling", 8, "never"],
  ]);
  for (const rule of rules) expect(rule.placebos).toBe(PLACEBOS);
  // A rule that always holds changes nothing, and its placebos are itself.
  const [up, always, , falling] = rules;
  expect(always).toMatchObject({ earned: 0, low: 0, high: 0, asGood: PLACEBOS, share: 1, earns: false, keptOut: { trades: 0 } });
  expect(always!.figures).toEqual(figures);
  // Without the crossing it enters wherever the rest holds.
  expect(up!.figures.trades).toBeGreaterThan(figures.trades);
  expect(up!.keptOut.trades).toBeGreaterThan(0);
  expect(figures.trades + up!.keptOut.trades - up!.letIn.trades).toBe(up!.figures.trades);
  expect(falling!.figures.trades).toBeLessThanOrEqual(figures.trades);

  expect((await server.ask("getTrialContext", { id: "ruled" })).body.trials).toBe(before);
  const [noted] = (await server.ask("getJournal", { id: "ruled" })).body;
  expect(noted!.kind).toBe("rules");
  expect(noted!.changes[0]).toBe("what each rule earns, against 9 placebos");
  expect(noted!.changes).toHaveLength(5);
  expect((await server.ask("checkRules", { id: "ruled", placebos: PLACEBOS })).body).toEqual(body);
});

test("a rule taken out is the program without it", async () => {
  const { rules } = (await server.ask("checkRules", { id: "ruled", placebos: 0 })).body;
  const { keptOut, figures } = rules.find(({ key }) => key === "low")!;
  expect(keptOut.trades).toBeGreaterThan(0);
  // It waits as long for its studies, so that both begin on the same bar.
  const without = RULED.replace(".and(low)", ".and(isAbove(ema(bars.close, 20), -1))");
  const { body } = await server.ask("createRun", {}, request("unruled", without));
  expect(body.figures.netProfit).toBeCloseTo(figures.netProfit, 6);
  expect(body.figures.trades).toBe(figures.trades);
});

test("is stopped on the way and tells what is done", async () => {
  const answer = server.ask("checkRules", { id: "ruled", placebos: 999 });
  let isOver = false;
  void answer.finally(() => {
    isOver = true;
  });
  while (!isOver && (await server.ask("stopRules", { id: "ruled" })).status !== 204) await new Promise((resolve) => setTimeout(resolve, 5));
  const { status, body } = await answer;
  // Stopped before the plan had been run even once, there is nothing to tell.
  if (status === 409) return;
  expect(status).toBe(200);
  expect(body.isStopped).toBe(true);
  for (const { placebos } of body.rules) expect(placebos).toBeLessThan(999);
  expect((await server.ask("stopRules", { id: "ruled" })).status).toBe(404);
});

test("is refused in words where no condition has a name", async () => {
  const source = 'export default plan({ title: "Bare", build({ on, enter }) { on.barClose(() => enter.long()); } });';
  await server.ask("createRun", {}, request("bare", source));
  const { status, body } = await server.call<ApiError>("POST", "/runs/bare/rules?placebos=0");
  expect([status, body.error.message]).toEqual([409, expect.stringContaining("names no condition")]);
});

test("a rule without which the plan fails is told with its reason", async () => {
  const source = RULED.replace("isAbove(bars.close, 0)", "isBelow(minute, 720)")
    .replace("const fast =", "const minute = minuteOfDay(bars); const fast =")
    .replace(
      "() => enter.long({ stopLoss: ticks(60), target: ticks(60) })",
      '() => { if (minute.now >= 720) throw new Error("too late"); enter.long({ stopLoss: ticks(60), target: ticks(60) }); }',
    );
  expect((await server.ask("createRun", {}, request("fails", source))).body.failure).toBeNull();
  const { body } = await server.ask("checkRules", { id: "fails", placebos: 0 });
  expect(body.failed).toEqual([{ label: "always", line: 6, message: "line 9: too late" }]);
  expect(body.rules.map(({ label }) => label)).toEqual(["up", "low", "falling"]);
});
