import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const SOURCE = `export default plan({
  title: "Swing",
  inputs: { span: whole(20, { min: 2, max: 100 }) },
  build({ bars, inputs, when, enter }) {
    when(crossesAbove(bars.close, sma(bars.close, inputs.span)), () => enter.long({ target: ticks(8), stopLoss: ticks(8) }));
  },
});`;
// Fourteen days from 3 March 2025 on.
const LAST = "2025-03-16";
const settings = { ...SWING_SETTINGS, timeframe: "1h", period: "last 1 weeks" } as const;
const server = new TestServer();
let planId = "";

beforeAll(async () => {
  await server.start();
  await server.importSwing();
  planId = (await server.ask("createPlan", {}, { source: SOURCE })).body.id;
});
afterAll(() => server.end());

const ran = async (id: string, given: object = {}) => {
  const { status, body } = await server.ask(
    "createRun",
    {},
    { id, planId, source: SOURCE, inputs: {}, settings: { ...settings, ...given } },
  );
  expect(status).toBe(200);
  return body.settings;
};

test("a run has the days that the period is now, and is the run of those days", async () => {
  const days = { from: "2025-03-10", to: LAST };
  expect(await ran("moving")).toEqual({ ...settings, ...days, period: undefined });
  await ran("fixed", { ...days, period: null });
  const [moving, fixed] = await Promise.all(["moving", "fixed"].map(async (id) => (await server.ask("getRun", { id })).body));
  expect(moving!.fingerprint).toBe(fixed!.fingerprint);
  expect(await ran("to-the-end", { period: "to the end", from: "2025-03-12" })).toMatchObject({ from: "2025-03-12", to: LAST });
});

test("it moves with the bars, and never into what is held out", async () => {
  await server.ask("updatePlan", { id: planId }, { reservedFrom: "2025-03-14" });
  expect(await ran("held")).toMatchObject({ from: "2025-03-07", to: "2025-03-13" });
  await server.ask("updatePlan", { id: planId }, { reservedFrom: "" });
  await server.importSwing("SWING", swingCsv(20, 20));
  expect(await ran("later")).toMatchObject({ from: "2025-03-16", to: "2025-03-22" });
});

test("the draft of a plan keeps the words; sweeps and runs in the background have the days", async () => {
  await server.ask("updatePlan", { id: planId }, { settings });
  expect((await server.ask("getPlan", { id: planId })).body.settings.period).toBe("last 1 weeks");
  const { body: sweep } = await server.ask(
    "createSweep",
    {},
    {
      ...{ planId, source: SOURCE, inputs: {}, settings, outOfSample: null, aim: "sharpe", search: null, constraints: [] },
      ranges: [{ input: "span", from: 10, to: 20, step: 5 }],
    },
  );
  expect((await server.ask("getSweep", { id: sweep.id })).body.request.settings).toMatchObject({ from: "2025-03-16", to: "2025-03-22" });
  await server.ask("queueRuns", {}, { name: "moving", runs: [{ planId, source: SOURCE, inputs: {}, settings, label: "one" }] });
  await expect
    .poll(async () => (await server.ask("listRuns", {})).body.runs.map((run) => run.settings.from), { timeout: 20_000 })
    .toContain("2025-03-16");
});

test("words that are no period are refused, with the place", async () => {
  const { status, body } = await server.ask(
    "createRun",
    {},
    { id: "wrong", planId, source: SOURCE, inputs: {}, settings: { ...settings, period: "last moon" } },
  );
  expect([status, JSON.stringify(body)]).toEqual([400, expect.stringMatching(/settings.*period/)]);
});
