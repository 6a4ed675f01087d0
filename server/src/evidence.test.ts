/** What stands behind a run, by the API on a real SQLite file: checks, lines, strips, steps, journal, versions, variants, queue, lists. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  evidenceDocument,
  type Market,
  type QueuedRun,
  type RunEvidence,
  type RunOrders,
  type RunPage,
  type RunSummary,
  type StripsMeta,
  unpackColumns,
  type Variant,
  type WalkForwardSummary,
} from "@plan-tester/contract";
import { Ajv } from "ajv";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { TrialEntity } from "./db/entities.ts";
import { SWING_SETTINGS as SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();
const call = <T>(method: string, path: string, body?: unknown) => server.call<T>(method, path, body);

beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

const SOURCE = `export default plan({
  title: "Lighthouse",
  inputs: { stop: whole(20, { min: 1, max: 400, label: "Stop" }) },
  build({ bars, inputs, when, enter, position, log }) {
    const fast = ema(bars.close, 5);
    const slow = ema(bars.close, 20);
    const up = crossesAbove(fast, slow);
    when(up, () => {
      const isFree = position.flat;
      if (isFree) enter.long({ stopLoss: ticks(inputs.stop), target: ticks(30), tag: "lit" });
      else log("still lit");
    });
  },
});
`;
const request = (id: string, more: object = {}) => ({ id, planId: "lighthouse", source: SOURCE, inputs: {}, settings: SETTINGS, ...more });
let run: RunEvidence;
beforeAll(async () => {
  run = (await server.ask("createRun", {}, request("first"))).body;
});

describe("a run in doubt", () => {
  test("comes out again, to the last bit", async () => {
    expect(run.resultHash).toMatch(/^2-[0-9a-f]{16}$/);
    const { body } = await server.ask("verifyRun", { id: "first" });
    expect(body).toEqual({ same: true, text: expect.stringContaining(run.resultHash) });
  });

  test("knows only what it could", async () => {
    const { body } = await server.ask("checkLookAhead", { id: "first" });
    expect(body.difference).toBeNull();
    expect(body.cuts.length).toBeGreaterThan(4);
  });
});

test("a look-ahead check that is stopped tells of what it has compared", async () => {
  const busy = `for (let k = 0; k < 400; k++) sum += k;`;
  const source = `export default plan({
    title: "Busy",
    build({ on, enter, position }) {
      on.barClose(() => {
        let sum = 0;
        ${busy}
        if (position.flat && sum > 0) enter.long({ stopLoss: ticks(20) });
      });
    },
  });`;
  const made = await call<RunEvidence>(
    "POST",
    "/runs",
    request("busy", { planId: "busy", source, settings: { ...SETTINGS, timeframe: "1m" } }),
  );
  expect(made.status).toBe(200);
  expect((await server.ask("stopLookAhead", { id: "busy" })).status).toBe(404);
  const answer = server.ask("checkLookAhead", { id: "busy" });
  while ((await server.ask("stopLookAhead", { id: "busy" })).status !== 204) await new Promise((resolve) => setTimeout(resolve, 5));
  const { cuts, wanted, difference } = (await answer).body;
  expect(difference).toBeNull();
  expect(cuts.length).toBeGreaterThan(0);
  expect(cuts.length).toBeLessThan(wanted);
}, 60_000);

describe("a run looked into", () => {
  test("has counts by line", async () => {
    const { body } = await server.ask("getRunLines", { id: "first" });
    const countOf = (line: number) =>
      Math.max(...body.statements.flatMap((statement, k) => (statement.line === line ? [body.counts[k]!] : [])));
    expect(countOf(5)).toBe(1);
    // One for each time the crossing is waited for and handled, and of the orders one for each that was sent.
    expect(countOf(10)).toBeGreaterThan(run.trades.length - 1);
  });

  test("has a strip for each condition", async () => {
    const { meta, bytes } = unpackColumns<StripsMeta>(await server.bytes("/runs/first/strips"));
    expect(meta.strips.map(({ text, line, kind }) => [text, line, kind])).toEqual([
      ["up", 7, "holds"],
      ["isFree", 9, "asked"],
    ]);
    expect(bytes.strip0!.length).toBe(run.bars);
    expect(new Set(bytes.strip0)).toEqual(new Set([0, 1, 2]));
  });

  test("is stepped through on a stretch, and no longer one than is bearable", async () => {
    const { entryBar, exitBar } = run.trades[1]!;
    const { body } = await server.ask("getRunSteps", { id: "first", from: entryBar - 1, to: exitBar });
    expect(body.events.map(({ kind }) => kind)).toEqual(
      expect.arrayContaining(["accepted", "filled", "opened", "closed", "value", "test"]),
    );
    expect(body.closeStates.length).toBe(exitBar - entryBar + 2);
    expect(body.states[body.closeStates[1]!]!.lots).toMatchObject([{ tag: "lit", entryBar, side: 1 }]);
    expect((await server.ask("getRunSteps", { id: "first", from: 0, to: 9000 })).status).toBe(400);
    expect((await call("GET", "/runs/first/steps")).status).toBe(400);
    expect((await server.ask("getRunSteps", { id: "none", from: 0, to: 10 })).status).toBe(404);
  });

  test("is a document of the published schema", async () => {
    const schema = JSON.parse(readFileSync(join(import.meta.dirname, "../../docs/run-document.schema.json"), "utf8"));
    const orders = (await call<RunOrders>("GET", "/runs/first/orders")).body;
    const { columns } = unpackColumns(await (await fetch(`${server.base}/runs/first/columns`)).arrayBuffer());
    const { instrument } = (await call<Market[]>("GET", "/markets")).body.find((market) => market.instrument.symbol === "SWING")!;
    const body = JSON.parse(JSON.stringify(evidenceDocument(run, orders, columns, [instrument])));
    const validate = new Ajv({ allowUnionTypes: true, strict: false, logger: false }).compile(schema);
    expect(validate(body), JSON.stringify(validate.errors?.slice(0, 3))).toBe(true);
    expect(body).toMatchObject({ fingerprint: run.fingerprint, resultHash: run.resultHash });
    expect(body.trades.length).toBe(run.trades.length);
  });
});

test("the journal tells what was changed between trials; each text is a version, once", async () => {
  await server.ask("createRun", {}, request("again"));
  await server.ask("createRun", {}, request("tighter", { inputs: { stop: 10 }, settings: { ...SETTINGS, path: "adverse" } }));
  const source = SOURCE.replace("ticks(30)", "ticks(60)");
  await server.ask("createRun", {}, request("wider", { inputs: { stop: 10 }, source, settings: { ...SETTINGS, path: "adverse" } }));
  const { body: trials } = await server.ask("getJournal", { id: "lighthouse" });
  expect(trials.map(({ runId, changes }) => [runId, changes])).toEqual([
    ["wider", ["source: 1 lines new, 1 gone"]],
    ["tighter", ["stop 20 → 10", "paths assumed → adverse"]],
    ["again", []],
    ["first", ["first run"]],
  ]);
  expect(trials[3]).toMatchObject({ kind: "run", variants: 1, netProfit: run.figures.netProfit, trades: run.trades.length });
  const { body: versions } = await server.ask("listVersions", { id: "lighthouse" });
  expect(versions.length).toBe(2);
  const { body: old } = await server.ask("getVersion", { id: versions[1]!.id });
  expect(old).toMatchObject({ source: SOURCE, settings: { symbol: "SWING" } });
  await server.ask("renameVersion", { id: old.id }, { name: "before" });
  // The same text again names the version that there is.
  const { body: same } = await server.ask(
    "createVersion",
    { id: "lighthouse" },
    {
      source: SOURCE,
      inputs: {},
      settings: SETTINGS,
      name: "",
    },
  );
  expect(same).toMatchObject({ id: old.id, name: "before" });
  expect((await server.ask("renameVersion", { id: "none" }, { name: "x" })).status).toBe(404);
});

test("variants are kept, changed and taken away; a kit in them is checked", async () => {
  const { body: one } = await call<Variant>("POST", "/plans/lighthouse/variants", { name: "tight", inputs: { stop: 5 }, kit: null });
  await call("PUT", `/variants/${one.id}`, { name: "tighter", inputs: { stop: 4 }, kit: { name: "My kit", entriesPerSession: 1 } });
  const { body: list } = await server.ask("listVariants", { id: "lighthouse" });
  expect(list).toMatchObject([
    { id: one.id, name: "tighter", inputs: { stop: 4 }, kit: { name: "My kit", entriesPerSession: 1, plansExits: true }, market: null },
  ]);
  const found = { name: "found", inputs: {}, kit: null, market: { symbol: "TEST", timeframe: "15m" } };
  const { body: elsewhere } = await server.ask("createVariant", { id: "lighthouse" }, found);
  expect((await server.ask("listVariants", { id: "lighthouse" })).body[1]).toMatchObject(found);
  expect((await call("PUT", `/variants/${elsewhere.id}`, { ...found, market: { symbol: "TEST" } })).status).toBe(400);
  await server.ask("deleteVariant", { id: elsewhere.id });
  expect((await call("POST", "/plans/lighthouse/variants", { name: "bad", inputs: {}, kit: { sides: "up" } })).status).toBe(400);
  expect((await call("PUT", "/variants/none", { name: "x", inputs: {}, kit: null })).status).toBe(404);
  expect((await server.ask("deleteVariant", { id: one.id })).status).toBe(204);
  expect((await server.ask("listVariants", { id: "lighthouse" })).body).toEqual([]);
});

describe("runs in the background and the list of kept ones", () => {
  let batch = "";
  const over = async (): Promise<QueuedRun[]> => {
    for (;;) {
      const { body } = await call<QueuedRun[]>("GET", "/queue");
      if (body.every(({ state }) => state !== "waiting" && state !== "running")) return body;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
  };

  beforeAll(async () => {
    const one = (label: string, inputs: object, more: object = {}) => ({
      planId: "lighthouse",
      source: SOURCE,
      inputs,
      settings: SETTINGS,
      label,
      ...more,
    });
    const runs = [
      one("Ten", { stop: 10 }),
      one("Thirty", { stop: 30 }),
      one("Out of bounds", { stop: 0 }),
      one("Forty 100%", { stop: 40 }),
    ];
    batch = (await call<{ batch: string }>("POST", "/queue", { name: "stops", runs })).body.batch;
  });

  test("each is kept under its name; one that fails costs only itself", async () => {
    const jobs = await over();
    expect(jobs.map(({ name, state }) => [name, state])).toEqual([
      ["Ten", "kept"],
      ["Thirty", "kept"],
      ["Out of bounds", "failed"],
      ["Forty 100%", "kept"],
    ]);
    expect(jobs[2]!.message).toMatch(/Stop is 0; the least is 1/);
    const { body } = await server.ask("listRuns", { batch: batch });
    expect(body.total).toBe(3);
    expect(body.runs.every(({ tags }) => tags.includes("stops"))).toBe(true);
    expect((await server.ask("stopQueuedRun", { id: jobs[0]!.id })).status).toBe(404);
    expect((await server.ask("clearQueue")).status).toBe(204);
    expect((await server.ask("listQueue")).body).toEqual([]);
  });

  test.each([
    ["words, in any order", "search=lighthouse%20thirty", ["Thirty"]],
    ["a word with a wildcard of its own", "search=100%25", ["Forty 100%"]],
    ["a tag", "tag=stops&sort=name&order=up", ["Forty 100%", "Ten", "Thirty"]],
    ["a tag that is only part of one", "tag=stop", []],
    ["an instrument", "symbol=SWING&sort=name&order=down", ["Thirty", "Ten", "Forty 100%"]],
    ["one page", "tag=stops&sort=name&order=up&offset=1&limit=1", ["Ten"]],
  ])("finds by %s", async (_what, query, names) => {
    await over();
    expect((await call<RunPage>("GET", `/runs?${query}`)).body.runs.map(({ name }) => name)).toEqual(names);
  });

  test("sorts by a figure, says what there is to filter by, and refuses what it does not know", async () => {
    await over();
    const { body } = await server.ask("listRuns", { sort: "netProfit", order: "up" });
    const nets = body.runs.map(({ netProfit }) => netProfit);
    expect(nets).toEqual([...nets].sort((a, b) => a - b));
    const { body: facets } = await server.ask("getRunFacets");
    expect(facets).toMatchObject({ plans: [{ value: "lighthouse", label: "Lighthouse", runs: 3 }], tags: [{ value: "stops", runs: 3 }] });
    expect((await call("GET", "/runs?sort=luck")).status).toBe(400);
    expect((await call("GET", "/runs?limit=many")).status).toBe(400);
  });

  test("name, note and tags of a kept run can be changed", async () => {
    await over();
    const { id } = (await call<RunPage>("GET", "/runs?search=Ten")).body.runs[0]!;
    await call<RunSummary>("PUT", `/runs/${id}/keep`, { name: "Ten ticks", note: "n", tags: ["kept", "stops"] });
    expect((await call<RunPage>("GET", "/runs?tag=kept")).body.runs).toMatchObject([{ id, name: "Ten ticks", note: "n", batch }]);
  });
});

test("a kit from a file gets its defaults, or is told what is wrong; modules are linked into what runs", async () => {
  expect((await call("POST", "/kits/read", { name: "Plain" })).body).toMatchObject({ name: "Plain", sides: "both", plansExits: true });
  expect((await call<{ error: { message: string } }>("POST", "/kits/read", { sides: "up" })).body.error.message).toMatch(
    /sides must be one of/,
  );
  await server.ask("createPlan", {}, { source: '//! module "harbour"\nexport const twice = (value: number) => 2 * value;\n' });
  expect((await server.ask("listModules")).body.map(({ name }) => name)).toEqual(["harbour"]);
  const source = `import { twice } from "harbour";\n${SOURCE.replace("ticks(30)", "ticks(twice(15))")}`;
  const { body } = await server.ask("createRun", {}, request("linked", { source }));
  expect(body.source).toContain("2 * value");
  expect(body.trades.map(({ net }) => net)).toEqual(run.trades.map(({ net }) => net));
});

test("a run under stress: inputs shaken inside their bounds, and worse fills that only cost", async () => {
  const { body } = await server.ask("stressRun", { id: "first" });
  expect(body.slippage.map(({ ticks }) => ticks)).toEqual([0, 1, 2, 3]);
  expect(body.slippage[0]!.net).toBeCloseTo(run.figures.netProfit, 6);
  expect(body.slippage[3]!.net).toBeLessThan(body.slippage[0]!.net);
  expect(body.jitter.length).toBe(40);
  const stops = body.jitter.map(({ inputs }) => Number(inputs.stop));
  expect(stops.every((stop) => Number.isInteger(stop) && stop >= 17 && stop <= 23)).toBe(true);
  expect(new Set(stops).size).toBeGreaterThan(3);
  expect((await server.ask("stressRun", { id: "first" })).body).toEqual(body);
});

test("what a plan was tried on is counted; a stretch kept unseen is out of reach until it is opened on purpose", async () => {
  const { body: plan } = await server.ask("createPlan", {}, { source: SOURCE });
  const on = (to: string) => server.ask("createRun", {}, request(`reserve-${to}`, { planId: plan.id, settings: { ...SETTINGS, to } }));
  expect((await on("2025-03-08")).status).toBe(200);
  expect((await server.ask("updatePlan", { id: plan.id }, { reservedFrom: "2025-03-10" })).body.reservedFrom).toBe("2025-03-10");
  const refused = await on("2025-03-10");
  expect(refused.status).toBe(409);
  expect(refused.body).toMatchObject({ error: { message: expect.stringMatching(/holdout, from 2025-03-10 on/) } });
  expect((await on("2025-03-09")).status).toBe(200);
  await server.ask("updatePlan", { id: plan.id }, { reservedFrom: "" });
  expect((await on("2025-03-12")).status).toBe(200);
  const { body: context } = await server.ask("getTrialContext", { id: plan.id });
  // The same settings on three periods are one trial.
  expect(context).toMatchObject({ trials: 1, reservedFrom: "" });
  expect(context.tried).toMatchObject([
    { kind: "run", variants: 1, periods: [{ to: "2025-03-08" }, { to: "2025-03-09" }, { to: "2025-03-12" }] },
  ]);
  expect(context.stretches.map(({ to }) => to)).toEqual(["2025-03-12", "2025-03-09", "2025-03-08"]);
  const { body: journal } = await server.ask("getJournal", { id: plan.id });
  expect(journal.filter(({ kind }) => kind === "reserve").map(({ changes }) => changes[0])).toEqual([
    "the holdout was released",
    "held out from 2025-03-10 on",
  ]);
});

test("trials are counted over all that was ever tried, also beyond what the journal lists", async () => {
  const row = (k: number) => ({
    ...{
      planId: "much-tried",
      createdMs: k,
      kind: "run" as const,
      runId: `r${k}`,
      versionId: "",
      inputs: { stop: k },
      changes: [],
      variants: 1,
    },
    settings: { ...SETTINGS, to: k % 2 ? "2025-03-09" : "2025-03-12" },
    ...{ status: "complete", netProfit: 0, maxDrawdown: 0, trades: 0, sharpe: k % 3 },
  });
  await server.application.database.write((manager) =>
    manager.insert(
      TrialEntity,
      Array.from({ length: 1500 }, (_none, k) => row(k)),
    ),
  );
  expect((await server.ask("getJournal", { id: "much-tried" })).body.length).toBe(1000);
  const { body } = await server.ask("getTrialContext", { id: "much-tried" });
  expect(body.trials).toBe(1500);
  expect(body.stretches).toEqual([
    { kind: "run", symbol: "SWING", from: "2025-03-03", to: "2025-03-09", variants: 750 },
    { kind: "run", symbol: "SWING", from: "2025-03-03", to: "2025-03-12", variants: 750 },
  ]);
});

describe("walk-forward", () => {
  const walk = (more: object = {}) => ({
    planId: "lighthouse",
    source: SOURCE,
    inputs: {},
    settings: { ...SETTINGS, to: "2025-03-16" },
    ranges: [{ input: "stop", values: [6, 12, 24, 48] }],
    aim: "netProfit",
    inSample: 5,
    outOfSample: 3,
    anchored: false,
    leastTrades: 1,
    ...more,
  });

  test("each window takes the best of its own stretch to the next; stitched they are a run", async () => {
    const { body: begun } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk());
    await server.application.walks.finished(begun.id);
    const { body: done } = await server.ask("getWalkForward", { id: begun.id });
    expect(done).toMatchObject({ status: "complete", total: 3, variants: 4, error: "" });
    expect(done.windows.map(({ inSample, outOfSample }) => [inSample.from, inSample.to, outOfSample.from, outOfSample.to])).toEqual([
      ["2025-03-03", "2025-03-07", "2025-03-08", "2025-03-10"],
      ["2025-03-06", "2025-03-10", "2025-03-11", "2025-03-13"],
      ["2025-03-09", "2025-03-13", "2025-03-14", "2025-03-16"],
    ]);
    // The first window by hand: the best of four runs on its first stretch.
    const { from, to } = done.windows[0]!.inSample;
    const nets: number[] = [];
    for (const stop of [6, 12, 24, 48])
      nets.push(
        (await server.ask("createRun", {}, request(`hand-${stop}`, { inputs: { stop }, settings: { ...SETTINGS, from, to } }))).body.figures
          .netProfit,
      );
    expect(done.windows[0]!.inputs).toEqual({ stop: [6, 12, 24, 48][nets.indexOf(Math.max(...nets))] });
    expect(done.windows[0]!.inFigures[0]).toBeCloseTo(Math.max(...nets), 6);
    const { body: stitched } = await server.ask("getRun", { id: done.runId });
    const outNet = done.windows.reduce((sum, { outFigures }) => sum + outFigures[0]!, 0);
    expect(stitched.figures.netProfit).toBeCloseTo(outNet, 6);
    expect(stitched).toMatchObject({ walkForwardId: begun.id, settings: { from: "2025-03-08", to: "2025-03-16" } });
    expect(stitched.trades.map(({ id }) => id)).toEqual(stitched.trades.map((_trade, k) => k + 1));
    expect(stitched.daily.equity.at(-1)).toBeCloseTo(100_000 + outNet, 6);
    const inNet = done.windows.reduce((sum, { inFigures }) => sum + inFigures[0]!, 0);
    expect(done.efficiency).toBeCloseTo(outNet / 9 / (inNet / 15), 9);
    expect((await server.ask("verifyRun", { id: done.runId })).body.text).toMatch(/stitched/);
    // What is held is told as its parts tell it.
    let held = 0;
    for (const [k, { inputs, outOfSample: part }] of done.windows.entries()) {
      const settings = { ...SETTINGS, from: part.from, to: part.to };
      const { figures, bars } = (await server.ask("createRun", {}, request(`part-${k}`, { inputs, settings }))).body;
      held += figures.exposure! * bars;
    }
    expect(held).toBeGreaterThan(0);
    expect(stitched.figures.exposure! * stitched.bars).toBeCloseTo(held, 6);
    // No single run of the plan made it, so none can be looked into.
    for (const [method, part] of [
      ["GET", "lines"],
      ["GET", "steps?from=0&to=9"],
      ["POST", "stress"],
    ] as const)
      expect(await call(method, `/runs/${done.runId}/${part}`)).toMatchObject({
        status: 409,
        body: { error: { message: expect.stringMatching(/stitched from the windows/) } },
      });
  });

  test("a stitched run is never a plan's last run, whatever it is tagged; it counts in the journal with what it tried", async () => {
    const { body: plan } = await server.ask("createPlan", {}, { source: SOURCE });
    const { body: begun } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk({ planId: plan.id }));
    await server.application.walks.finished(begun.id);
    const { runId } = (await server.ask("getWalkForward", { id: begun.id })).body;
    await server.ask("keepRun", { id: runId }, { name: "Walked", tags: [] });
    const lastOf = async () => (await server.ask("listPlans")).body.find(({ id }) => id === plan.id)!.lastRun;
    expect(await lastOf()).toBeNull();
    const { body: context } = await server.ask("getTrialContext", { id: plan.id });
    expect(context).toMatchObject({
      trials: 12,
      stretches: [{ kind: "walk-forward", from: "2025-03-03", to: "2025-03-16", variants: 12 }],
    });
  });

  test("one that is stopped gives up the window it is at, and counts what it has tried", async () => {
    const { body: plan } = await server.ask("createPlan", {}, { source: SOURCE });
    const ranges = [{ input: "stop", from: 1, to: 400, step: 1 }];
    const { body: begun } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk({ planId: plan.id, ranges }));
    expect((await server.ask("stopWalkForward", { id: begun.id })).status).toBe(204);
    await server.application.walks.finished(begun.id);
    const { body: stopped } = await server.ask("getWalkForward", { id: begun.id });
    expect(stopped.status).toBe("stopped");
    expect(stopped.windows.length).toBeLessThan(3);
    const { body: journal } = await server.ask("getJournal", { id: plan.id });
    expect(journal[0]).toMatchObject({ kind: "walk-forward", status: "stopped", variants: 400 * stopped.windows.length });
    expect((await server.ask("stopWalkForward", { id: begun.id })).status).toBe(404);
  });

  test("anchored windows all begin at the start; what does not fit is refused", async () => {
    const { body } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk({ anchored: true }));
    await server.application.walks.finished(body.id);
    const { body: done } = await call<WalkForwardSummary>("GET", `/walk-forwards/${body.id}`);
    expect(new Set(done.windows.map(({ inSample }) => inSample.from))).toEqual(new Set(["2025-03-03"]));
    expect(done.windows.map(({ inSample }) => inSample.sessions)).toEqual([5, 8, 11]);
    const refused = await call<{ error: { message: string } }>("POST", "/walk-forwards", walk({ inSample: 40 }));
    expect(refused.body.error.message).toMatch(/14 sessions; 40 to choose on and 3 to try on do not fit/);
    expect((await server.ask("deleteWalkForward", { id: body.id })).status).toBe(204);
    expect((await server.ask("getWalkForward", { id: body.id })).status).toBe(404);
  });
});

test("a plan goes into a file with everything it needs, and comes back as a new one", async () => {
  await server.ask("createPlan", {}, { source: '//! module "pier"\nexport const half = (value: number) => value / 2;\n' });
  const source = `import { half } from "pier";\n${SOURCE.replace("ticks(30)", "ticks(half(60))")}`;
  const { body: plan } = await server.ask("createPlan", {}, { source });
  await server.ask("updatePlan", { id: plan.id }, { inputs: { stop: 9 }, settings: { ...SETTINGS, cash: 7000 }, note: "by the pier" });
  await server.ask(
    "createVariant",
    { id: plan.id },
    {
      name: "wide",
      inputs: { stop: 90 },
      kit: null,
      market: { symbol: "TEST", timeframe: "5m" },
    },
  );
  const { body: file } = await server.ask("getPlanFile", { id: plan.id });
  expect(file.modules).toEqual([expect.stringContaining("half")]);
  const { status, body: back } = await server.ask("createPlanFromFile", {}, file);
  expect(status).toBe(201);
  expect(back).toMatchObject({ source, inputs: { stop: 9 }, settings: { cash: 7000 }, note: "by the pier" });
  expect(back.id).not.toBe(plan.id);
  expect((await server.ask("listVariants", { id: back.id })).body).toMatchObject([
    { name: "wide", inputs: { stop: 90 }, market: { symbol: "TEST", timeframe: "5m" } },
  ]);
  // A module that is there already is not made twice; another one of its name is not taken in silently.
  expect((await call<{ name: string }[]>("GET", "/modules")).body.filter(({ name }) => name === "pier").length).toBe(1);
  const other = { ...file, modules: [file.modules[0]!.replace("/ 2", "/ 3")] };
  expect((await call<{ error: { message: string } }>("POST", "/plan-files", other)).body.error.message).toMatch(/another module "pier"/);
  expect((await call<{ error: { message: string } }>("POST", "/plan-files", { kind: "recipe" })).body.error.message).toMatch(
    /lacks "version"/,
  );
});
