/** Several plans at once in one process that shares its memory: the same results, and no harm to one another. */
import { type InputValues, resolveSettings, surrogateBars } from "@plan-tester/core";
import { afterAll, describe, expect, test } from "vitest";
import { ColumnCache, type ColumnRequest } from "./child/column-cache.ts";
import { PlanProcess, sharedThreads } from "./parent/plan-process.ts";
import { ProcessPool } from "./parent/pool.ts";
import { type DataSet, dataMessageOf, type SweepBatch, sweepPlan } from "./run-plan.ts";
import { INSTRUMENT, walk } from "./testing.ts";

const pool = new ProcessPool(2, true);
const alone = new PlanProcess();
afterAll(() => {
  pool.close();
  alone.kill("done");
});

const series = walk(6000, 3);
const SOURCE = `export default plan({ title: "Threads", inputs: { span: whole(20), harm: whole(0), work: whole(0) },
  build({ bars, inputs, when, on, enter, position }) {
    const mean = ema(bars.close, inputs.span);
    const trend = sma(bars.at("15m").close, 5);
    const own = stepwise([bars.close], () => { let n = inputs.span; return (close) => (n = n * 0.9 + close * 0.1); });
    const kept: number[][] = [];
    on.barClose(() => {
      if (inputs.harm === 1) for (let k = 0; k < 20; k++) kept.push(new Array(50_000).fill(k));
      if (inputs.harm === 3) for (let k = 0; k < 100; k++) kept.push(new Int32Array(50_000_000) as never);
      if (inputs.harm === 4) for (let k = 0; k < inputs.work; k++) own.now;
      if (inputs.harm === 5) /^(a+)+$/.test("aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaab");
      if (inputs.harm === 2) throw new Error("Not this one.");
    });
    when(crossesAbove(bars.close, mean).and(isAbove(bars.close, trend)), () => {
      if (position.flat && own.now > 0) enter.long({ stopLoss: ticks(20), target: ticks(30) });
    });
  },
});`;

const batchOf = (variants: readonly InputValues[], source = SOURCE): SweepBatch => ({
  source,
  variants,
  stretches: [[{ instrument: INSTRUMENT, data: { key: "walk", series, finer: null } }]],
  settings: resolveSettings({}),
  dailyOf: [0],
});
const spans = (from: number, count: number): InputValues[] => Array.from({ length: count }, (_, k) => ({ span: from + k, harm: 0 }));

describe("a pool whose processes share memory", () => {
  test("both threads give what a process by itself gives, to the last bit", async () => {
    const batches = [spans(5, 12), spans(5, 12), spans(10, 12)].map((variants) => batchOf(variants));
    const threads = sharedThreads(2);
    const shared = await Promise.all(threads.map((thread, k) => sweepPlan(thread, batches[k]!)));
    shared.push(await sweepPlan(threads[0]!, batches[2]!));
    threads[0]!.kill("done");
    for (const [k, batch] of batches.entries()) {
      const single = await sweepPlan(alone, batch);
      expect(single.failures).toEqual([]);
      expect(single.figures.some((value) => value > 5)).toBe(true);
      expect(shared[k]!.figures).toEqual(single.figures);
      expect(shared[k]!.daily).toEqual(single.daily);
    }
  }, 60_000);

  test("all threads are one process, which goes on from batch to batch", async () => {
    const pids = new Set<number | undefined>();
    const work = async (thread: PlanProcess): Promise<void> => {
      await sweepPlan(thread, batchOf(spans(5, 1)));
      pids.add(thread.pid);
    };
    for (let round = 0; round < 3; round++) await Promise.all([pool.use(work), pool.use(work)]);
    expect(pids.size).toBe(1);
    expect([...pids]).not.toContain(process.pid);
  });

  test("each finds bars that only the other has used for long, and sets of bars that went come again", async () => {
    const threads = sharedThreads(2);
    const on = (thread: PlanProcess, key: string) =>
      sweepPlan(thread, { ...batchOf(spans(5, 1)), stretches: [[{ instrument: INSTRUMENT, data: { key, series, finer: null } }]] });
    const first = await on(threads[0]!, "kept");
    for (let k = 0; k < 20; k++) {
      await on(threads[1]!, `set ${k}`);
      await on(threads[0]!, "kept");
    }
    for (const key of ["kept", "set 0", "set 19"]) expect((await on(threads[1]!, key)).figures).toEqual(first.figures);
    threads[0]!.kill("done");
  }, 60_000);

  test("markets without memory are made where plans run, of bars that are sent once, and come again once they went", async () => {
    const made = (seed: number) => ({ ...series, ...surrogateBars(series, INSTRUMENT.tickSize, seed) });
    const on = (process: PlanProcess, data: DataSet) =>
      sweepPlan(process, { ...batchOf(spans(5, 6)), stretches: [[{ instrument: INSTRUMENT, data }]] });
    const one = new PlanProcess();
    const threads = sharedThreads(2);
    const figures: Float64Array[] = [];
    // More than a process keeps.
    for (let seed = 0; seed < 20; seed++) {
      const here = await on(alone, { key: `made here ${seed}`, series: made(seed), finer: null });
      figures.push(here.figures);
      const data = { key: `there ${seed}`, series, finer: null, surrogate: { of: "real", tickSize: INSTRUMENT.tickSize, seed } };
      for (const process of [one, threads[seed % 2]!]) expect((await on(process, data)).figures).toEqual(here.figures);
    }
    expect(figures[0]).not.toEqual(figures[1]);
    const again = { key: "there 0", series, finer: null, surrogate: { of: "real", tickSize: INSTRUMENT.tickSize, seed: 0 } };
    const answers = await Promise.all([one, ...threads].map((process) => on(process, again)));
    for (const answer of answers) expect(answer.figures).toEqual(figures[0]);
    for (const process of [one, threads[0]!]) process.kill("done");
  }, 60_000);

  test("a run on seven instruments finds their bars kept, and so does another beside it", async () => {
    const process = new PlanProcess();
    const sent: string[] = [];
    const keysOf = (run: string): string[] => Array.from({ length: 7 }, (_, k) => `${run} ${k}`);
    const need = async (run: string): Promise<void> => {
      for (const key of keysOf(run))
        await process.ensureData(key, () => {
          sent.push(key);
          return dataMessageOf({ key, series, finer: null });
        });
    };
    for (const run of ["one", "other", "one", "other", "one"]) await need(run);
    expect(sent).toEqual([...keysOf("one"), ...keysOf("other")]);
    process.kill("done");
  });

  test("a variant that takes too much memory is lost alone; the batch beside it is whole", async () => {
    const good = batchOf(spans(5, 40));
    const bad = batchOf([{ span: 5, harm: 1 }]);
    const [kept, lost] = await Promise.allSettled([good, bad].map((batch) => pool.use((thread) => sweepPlan(thread, batch))));
    expect(kept).toMatchObject({ status: "fulfilled" });
    expect((kept as PromiseFulfilledResult<{ figures: Float64Array }>).value.figures).toEqual((await sweepPlan(alone, good)).figures);
    expect(lost).toMatchObject({ status: "rejected" });
    expect(String((lost as PromiseRejectedResult).reason)).toContain("more memory than a plan may have");
  }, 60_000);

  test("one that takes memory outside the heap fails by itself, and the batches beside it do not", async () => {
    const good = batchOf(spans(5, 40));
    const bad = batchOf([{ span: 5, harm: 3 }]);
    const answers = await Promise.all([good, bad, good].map((batch) => pool.use((thread) => sweepPlan(thread, batch))));
    const { figures } = await sweepPlan(alone, good);
    for (const k of [0, 2]) expect(answers[k]).toMatchObject({ failures: [], figures });
    expect(answers[1]!.failures).toMatchObject([
      { variant: 0, message: expect.stringContaining("more memory than a plan may have. Keep less per bar") },
    ]);
  }, 60_000);

  test("a variant that takes longer than one loop may, in all its bars, ends like any other", async () => {
    const slow = (work: number) => sweepPlan(alone, batchOf([{ span: 5, harm: 4, work }]));
    await slow(10);
    const began = performance.now();
    await slow(20_000);
    const perStep = (performance.now() - began) / 20_000;
    const { failures, figures } = await slow(Math.ceil(7000 / perStep));
    expect(failures).toEqual([]);
    expect(figures).toEqual((await sweepPlan(alone, batchOf(spans(5, 1)))).figures);
  }, 60_000);

  test("a variant that hangs is ended alone; the batch beside it goes on in its process", async () => {
    const [hanging, beside] = sharedThreads(2, 3000) as [PlanProcess, PlanProcess];
    const good = batchOf(spans(5, 3));
    await Promise.all([sweepPlan(beside, good), sweepPlan(hanging, good)]);
    const { pid } = beside;
    const lost = expect(sweepPlan(hanging, batchOf([{ span: 5, harm: 5, work: 0 }]))).rejects.toThrow(/no sign of life for 3 seconds/);
    const answers = [];
    for (let k = 0; k < 5; k++) {
      answers.push(await sweepPlan(beside, good));
      await new Promise((resolve) => setTimeout(resolve, 800));
    }
    await lost;
    expect((await sweepPlan(hanging, good)).figures).toEqual(answers[0]!.figures);
    for (const answer of answers) expect(answer).toMatchObject({ failures: [], figures: answers[0]!.figures });
    expect([beside.pid, hanging.pid]).toEqual([pid, pid]);
    beside.kill("done");
  }, 60_000);

  test("a variant that throws costs only itself", async () => {
    const { failures, figures } = await pool.use((thread) =>
      sweepPlan(
        thread,
        batchOf([
          { span: 5, harm: 0 },
          { span: 5, harm: 2 },
          { span: 6, harm: 0 },
        ]),
      ),
    );
    expect(failures).toMatchObject([{ variant: 1, message: expect.stringContaining("Not this one.") }]);
    const width = figures.length / 3;
    expect(figures.subarray(width, 2 * width).every(Number.isNaN)).toBe(true);
    for (const row of [0, 2]) expect(figures[row * width]).not.toBeNaN();
  });

  test("what is under way when the process ends is done again in one of its own", async () => {
    const batches = [batchOf(spans(5, 60)), batchOf(spans(70, 60))];
    let isKilled = false;
    const under = batches.map((batch) =>
      pool.use((thread) => {
        const answer = sweepPlan(thread, batch);
        if (batch === batches[1] && !isKilled) setTimeout(() => thread.kill("a test"), 20);
        isKilled ||= batch === batches[1];
        return answer;
      }),
    );
    const answers = await Promise.all(under);
    for (const [k, batch] of batches.entries()) expect(answers[k]!.figures).toEqual((await sweepPlan(alone, batch)).figures);
  }, 60_000);

  test("it works on after all that", async () => {
    const { failures } = await pool.use((thread) => sweepPlan(thread, batchOf(spans(5, 3))));
    expect(failures).toEqual([]);
  });
});

describe("columns that threads compute for one another", () => {
  const column = { values: new Float64Array(new SharedArrayBuffer(80)), first: 3 };

  function cache() {
    const told: [number, string, unknown][] = [];
    const made = new ColumnCache((thread, key, answer) => told.push([thread, key, answer]));
    return {
      told,
      ask: (thread: number, request: ColumnRequest) => made.handle(thread, request),
      leave: (thread: number) => made.leave(thread),
    };
  }

  test("the first who wants one computes it, the others wait and get it", () => {
    const { told, ask } = cache();
    ask(0, { kind: "want", key: "a" });
    ask(1, { kind: "want", key: "a" });
    ask(2, { kind: "want", key: "b" });
    expect(told).toEqual([
      [0, "a", null],
      [2, "b", null],
    ]);
    ask(0, { kind: "give", key: "a", made: column });
    expect(told.slice(2)).toEqual([[1, "a", column]]);
    ask(2, { kind: "want", key: "a" });
    expect(told.slice(3)).toEqual([[2, "a", column]]);
  });

  test("when nothing comes of it, or its thread ends, the next computes it", () => {
    const { told, ask, leave } = cache();
    ask(0, { kind: "want", key: "a" });
    ask(1, { kind: "want", key: "a" });
    ask(2, { kind: "want", key: "a" });
    ask(0, { kind: "fail", key: "a" });
    leave(1);
    expect(told).toEqual([
      [0, "a", null],
      [1, "a", null],
      [2, "a", null],
    ]);
    ask(2, { kind: "fail", key: "a" });
    ask(0, { kind: "want", key: "a" });
    expect(told[3]).toEqual([0, "a", null]);
  });

  test("the oldest go when there are too many, and are computed anew", () => {
    const { told, ask } = cache();
    const large = { values: new Float64Array(8_000_000), first: 0 };
    for (const key of ["a", "b", "c"]) {
      ask(0, { kind: "want", key });
      ask(0, { kind: "give", key, made: large });
    }
    told.length = 0;
    for (const key of ["c", "a"]) ask(1, { kind: "want", key });
    expect(told).toEqual([
      [1, "c", large],
      [1, "a", null],
    ]);
  });
});
