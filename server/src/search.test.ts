/** Sweeps over more than inputs, searches, and walk-forwards that the end of the server cuts off. */
import {
  type RunEvidence,
  type SweepDetail,
  type SweepEstimate,
  type SweepSummary,
  unpackColumns,
  VariantSpace,
  type WalkForwardDetail,
  type WalkForwardSummary,
} from "@plan-tester/contract";
import { EMPTY_KIT, effectiveTrials, NO_EXITS, SWEEP_FIGURES } from "@plan-tester/core";
import { EXAMPLES, exampleSource } from "@plan-tester/demo";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { widened } from "./db/migrations/2025-11-26-search.ts";
import { SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
const call = <T>(method: string, path: string, body?: unknown) => server.call<T>(method, path, body);
const source = exampleSource(EXAMPLES.find(({ id }) => id === "brine-cross")!);
const exits = { ...NO_EXITS, stopLoss: { unit: "points", value: 4 }, target: { unit: "points", value: 6 } } as const;
const kit = { ...EMPTY_KIT, name: "Tight", plansExits: false, long: exits, short: exits };
const request = {
  planId: "lighthouse",
  source,
  inputs: { fast: 5, slow: 20 },
  settings: { ...SWING_SETTINGS, kit },
  outOfSample: null,
  aim: "netProfit",
};

beforeAll(async () => {
  await server.start();
  await server.importSwing();
  await server.importSwing("TWIN", swingCsv(9));
});
afterAll(() => server.end());

async function swept(more: object): Promise<SweepDetail> {
  const { status, body } = await call<SweepSummary>("POST", "/sweeps", { ...request, ...more });
  expect(body).toMatchObject({ status: "running" });
  expect(status).toBe(201);
  await server.application.sweeps.finished(body.id);
  return (await server.ask("getSweep", { id: body.id })).body;
}

async function figuresOf(id: string): Promise<{ points: Float64Array; figures: Float64Array }> {
  const { points, figures } = unpackColumns(await server.bytes(`/sweeps/${id}/figures`)).columns;
  return { points: points!, figures: figures! };
}

describe("a sweep over instruments, timeframes and exits", () => {
  const ranges = [
    { input: "run.symbol", values: ["SWING", "TWIN"] },
    { input: "run.timeframe", values: ["15m", "1h"] },
    { input: "kit.stop", from: 2, to: 6, step: 2 },
    { input: "fast", values: [4, 6] },
  ];
  const outOfSample = { from: "2025-03-13", to: "2025-03-16" };

  test("each row equals the single run with its settings, on both stretches", async () => {
    const done = await swept({ ranges, outOfSample, constraints: ["slow = 4 * fast", "kit.target = 2 * kit.stop"] });
    expect(done).toMatchObject({ status: "complete", done: 24, failed: 0 });
    const { points, figures } = await figuresOf(done.id);
    const space = new VariantSpace(done.inputSpecs, done.request.inputs, done.request);
    const width = SWEEP_FIGURES.length;
    const seen = new Set<number>();
    for (const [row, point] of points.entries()) {
      const variant = space.variantAt(point)!;
      expect(variant.slow).toBe(4 * (variant.fast as number));
      const stop = variant["kit.stop"] as number;
      const cut = { ...exits, stopLoss: { unit: "points", value: stop }, target: { unit: "points", value: 2 * stop } };
      const settings = {
        ...request.settings,
        symbol: variant["run.symbol"],
        timeframe: variant["run.timeframe"],
        kit: { ...kit, long: cut, short: cut },
      };
      for (const [stretch, period] of [{}, outOfSample].entries()) {
        const body = {
          ...{ id: `row-${row}-${stretch}`, planId: "lighthouse", source, inputs: { fast: variant.fast, slow: variant.slow } },
          settings: { ...settings, ...period },
        };
        const { figures: own } = (await call<RunEvidence>("POST", "/runs", body)).body;
        const at = (row * 2 + stretch) * width;
        expect(figures[at]).toBeCloseTo(own.netProfit, 6);
        expect(figures[at + 1]).toBe(own.trades);
        expect(figures[at + SWEEP_FIGURES.indexOf("maxDrawdown")]).toBeCloseTo(own.maxDrawdown, 6);
        seen.add(own.netProfit);
      }
    }
    // Instruments, timeframes and stops did make a difference.
    expect(seen.size).toBeGreaterThan(30);
  });

  test("count, time and memory are estimated; settings tried are counted for each instrument", async () => {
    const { body: before } = await server.ask("getTrialContext", { id: "elsewhere" });
    expect(before.trials).toBe(0);
    const spec = { ...request, planId: "elsewhere", ranges };
    const { body: estimate } = await call<SweepEstimate>("POST", "/sweeps/estimate", spec);
    expect(estimate.variants).toBe(24);
    expect(estimate.memoryBytes).toBeGreaterThan(20_000_000);
    const { id } = await swept({ planId: "elsewhere", ranges });
    const { body } = await server.ask("getTrialContext", { id: "elsewhere" });
    expect(body.trials).toBe(24);
    // Settings that resemble one another amount to fewer, by the returns that the sweep keeps.
    const { meta, singles } = unpackColumns<{ settings: number }>(await server.bytes(`/sweeps/${id}/daily`));
    const independent = effectiveTrials(singles.daily!, meta.settings);
    expect(independent).toBeLessThan(12);
    for (const tried of body.tried) expect(tried.independent).toBeCloseTo(independent, 6);
    expect(body.stretches.map(({ symbol, variants }) => [symbol, variants]).sort()).toEqual([
      ["SWING", 12],
      ["TWIN", 12],
    ]);
  });

  test.each([
    [{ ranges: [{ input: "run.symbol", values: ["SWING", "NOBODY"] }] }, /NOBODY/],
    [{ ranges: [{ input: "kit.trail", from: 1, to: 2, step: 1 }] }, /no input "kit.trail"/],
    [{ ranges: [{ input: "run.timeframe", values: ["soon"] }] }, /soon/],
    [{ ranges: [{ input: "fast", values: [4] }], aim: { terms: [], robust: false, conditions: [] } }, /aim/],
    [{ ranges: [{ input: "fast", values: [4] }], constraints: ["fast > 9"] }, /No variant meets the conditions/],
    [{ ranges: [{ input: "fast", values: [4] }], search: { method: "luck", count: 3, seed: 1 } }, /method must be one of/],
  ])("%o is refused", async (more, message) => {
    const { status, body } = await call<{ error: { message: string } }>("POST", "/sweeps", { ...request, ...more });
    expect(status).toBeGreaterThanOrEqual(400);
    expect(body.error.message).toMatch(message);
  });
});

describe("a search", () => {
  const ranges = [
    { input: "fast", from: 2, to: 41, step: 1 },
    { input: "slow", from: 20, to: 139, step: 1 },
  ];
  const aim = {
    terms: [
      { figure: "netProfit", weight: 2 },
      { figure: "maxDrawdown", weight: 1 },
    ],
    robust: false,
    conditions: [{ figure: "trades", is: "at least", value: 4 }],
  };

  test.each(["coarse to fine", "evolution", "model"])(
    "by %s finds no less than as many settings spread evenly, and is the same each time",
    async (method) => {
      const spread = await swept({ ranges, search: { method: "spread", count: 60, seed: 1 } });
      const search = { ranges, search: { method, count: 60, seed: 1 } };
      const first = await swept(search);
      expect(first).toMatchObject({ status: "complete", variants: first.done });
      const [a, b] = [await figuresOf(first.id), await figuresOf((await swept(search)).id)];
      expect(b).toEqual(a);
      expect(new Set(a.points).size).toBe(a.points.length);
      const best = (figures: Float64Array): number =>
        Math.max(...figures.filter((value, i) => i % SWEEP_FIGURES.length === 0 && Number.isFinite(value)));
      expect(best(a.figures)).toBeGreaterThanOrEqual(best((await figuresOf(spread.id)).figures));
    },
  );

  test("paused, cut off by the end of the server and taken up again it is the same search", async () => {
    const spec = { ...request, ranges, aim, search: { method: "evolution", count: 400, seed: 4 } };
    const whole = await swept(spec);
    const { body: sweep } = await call<SweepSummary>("POST", "/sweeps", spec);
    const doneOf = async (): Promise<number> => (await server.ask("getSweep", { id: sweep.id })).body.done;
    while ((await doneOf()) < 50) await new Promise((resolve) => setTimeout(resolve, 5));
    await server.ask("pauseSweep", { id: sweep.id });
    const paused = await doneOf();
    expect(paused).toBeLessThan(400);
    // What is repaired meanwhile is not for a sweep that has begun.
    const repair = { kind: "multiply" as const, fromMs: 0, toMs: 4e12, factor: 2 };
    const symbol = request.settings.symbol;
    expect((await server.ask("makeRepair", { symbol }, { repair, reason: "another unit" })).status).toBe(204);
    await server.ask("resumeSweep", { id: sweep.id });
    while ((await doneOf()) <= paused) await new Promise((resolve) => setTimeout(resolve, 5));
    await server.stop();
    await server.start();
    await server.application.sweeps.finished(sweep.id);
    expect(await figuresOf(sweep.id)).toEqual(await figuresOf(whole.id));
    const [made] = (await server.ask("listRepairs", { symbol })).body;
    await server.ask("undoRepair", { symbol, id: String(made!.id) });
  });

  test("variants that fail are all counted, the first of them with what was wrong, and are not tried again", async () => {
    const broken = source.replace("const fast =", "if (inputs.fast > 3) throw new Error('too fast');\n    const fast =");
    const { body: sweep } = await call<SweepSummary>("POST", "/sweeps", {
      ...request,
      source: broken,
      ranges: [ranges[0], { ...ranges[1]!, to: 59 }],
    });
    await server.application.sweeps.finished(sweep.id);
    const { body } = await server.ask("getSweep", { id: sweep.id });
    expect(body).toMatchObject({ status: "complete", done: 1600, failed: 38 * 40 });
    expect(body.failures.length).toBe(500);
    await server.stop();
    await server.start();
    expect((await server.ask("getSweep", { id: sweep.id })).body).toMatchObject({ failed: 38 * 40 });
  });
});

describe("a walk-forward", () => {
  const walk = {
    ...request,
    settings: { ...request.settings, to: "2025-03-16" },
    ranges: [
      { input: "fast", from: 3, to: 12, step: 1 },
      { input: "kit.stop", from: 1, to: 8, step: 1 },
    ],
    inSample: 5,
    outOfSample: 2,
    anchored: false,
    leastTrades: 1,
  };

  async function finished(id: string): Promise<WalkForwardDetail> {
    await server.application.walks.finished(id);
    return (await server.ask("getWalkForward", { id })).body;
  }

  test("cut off by the end of the server it goes on from its last window and comes to the same", async () => {
    const whole = await finished((await call<WalkForwardSummary>("POST", "/walk-forwards", walk)).body.id);
    expect(whole).toMatchObject({ status: "complete", total: 5 });
    expect(whole.windows.every(({ inputs }) => inputs && "kit.stop" in inputs && "fast" in inputs)).toBe(true);
    const { body: begun } = await call<WalkForwardSummary>("POST", "/walk-forwards", walk);
    while ((await server.ask("getWalkForward", { id: begun.id })).body.windows.length === 0)
      await new Promise((resolve) => setTimeout(resolve, 5));
    await server.stop();
    await server.start();
    const done = await finished(begun.id);
    expect(done).toMatchObject({ status: "complete", total: 5, error: "" });
    expect(done.windows).toEqual(whole.windows);
    const netOf = async (id: string): Promise<number> => (await server.ask("getRun", { id })).body.figures.netProfit;
    expect(await netOf(done.runId)).toBeCloseTo(await netOf(whole.runId), 6);
  });

  test("counts only settings that meet the conditions", async () => {
    const spec = { ...walk, ranges: walk.ranges.slice(0, 1), constraints: ["fast > 10"] };
    const { body } = await call<WalkForwardSummary>("POST", "/walk-forwards", spec);
    expect((await finished(body.id)).variants).toBe(2);
  });

  test.each([
    [{ ranges: [{ input: "run.symbol", values: ["SWING", "TWIN"] }] }, /stays on one instrument/],
    [{ constraints: ["fast > 100"] }, /No variant meets the conditions/],
  ])("with %o is refused", async (more, message) => {
    const { status, body } = await call<{ error: { message: string } }>("POST", "/walk-forwards", { ...walk, ...more });
    expect(status).toBe(400);
    expect(body.error.message).toMatch(message);
  });
});

test("rows of figures from before a column came are widened by one that is not known", () => {
  const wide = widened(Buffer.from(Float64Array.of(1, 2, 3, 4).buffer), 2, 3);
  expect([...new Float64Array(wide.buffer, wide.byteOffset, 6)]).toEqual([1, 2, Number.NaN, 3, 4, Number.NaN]);
});
