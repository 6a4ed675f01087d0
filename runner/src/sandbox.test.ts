/** What plans that mean harm, or just go wrong, get: an end of their own run, and nothing else. */
import { resolveSettings } from "@plan-tester/core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { describePlan, runPlan } from "./run-plan.ts";
import { eachBar, INSTRUMENT, run, walk } from "./testing.ts";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const SOUND = `export default plan({ title: "Sound", inputs: { span: whole(20) }, build({ bars, inputs, when, enter, position }) {
  const mean = sma(bars.close, inputs.span);
  when(crossesAbove(bars.close, mean), () => { if (position.flat) enter.long({ stopLoss: ticks(20), target: ticks(30) }); });
} });`;

async function failureOf(source: string) {
  try {
    return (await run(worker, source)).result.failure;
  } catch (error) {
    return error as Error & { failure?: unknown };
  }
}

async function stillWorks(): Promise<void> {
  const { result, description } = await run(worker, SOUND);
  expect(result.status).toBe("complete");
  expect(result.trades.length).toBeGreaterThan(5);
  expect(description.title).toBe("Sound");
}

test("a sound plan runs, and each order knows its line", async () => {
  await stillWorks();
  const { result } = await run(worker, SOUND);
  expect(new Set(result.trades.map(({ entryLine }) => entryLine))).toEqual(new Set([3]));
});

describe("no ambient authority", () => {
  test.each([
    ["process", "process.exit()"],
    ["require", "require('fs')"],
    ["a module by name", "globalThis.process.mainModule"],
    ["the network", "fetch('http://localhost')"],
    ["timers", "setTimeout(() => 0, 1)"],
    ["the Function constructor", "(() => 0).constructor('return process')().exit()"],
    ["a host class's constructor", "bars.close.constructor.constructor('return process')().exit()"],
    ["the clock", "if (!(Date.now() > 0)) throw new Error('no clock'); log(Date.now())"],
    ["unseeded randomness", "log(Math.random())"],
    ["eval of the host", "(0, eval)('process').exit()"],
    ["shared prototypes", "Object.prototype.polluted = 1"],
    ["array prototypes", "Array.prototype.push = () => 0"],
    ["the language's own classes", "Object.getPrototypeOf(bars.close).ago = () => 42"],
    ["the language's functions", "ema.call = 1; plan.x = 2"],
    ["the bars", "bars.close = 5"],
    ["the inputs of the context", "position.close = () => 0"],
    ["SharedArrayBuffer and Atomics", "new SharedArrayBuffer(8)"],
    ["WebAssembly", "new WebAssembly.Memory({ initial: 1 })"],
  ])("%s is out of reach", async (_name, code) => {
    const failure = await failureOf(eachBar(code));
    expect(failure, code).toBeTruthy();
    expect(String(failure!.message)).not.toMatch(/undefined is not/);
    await stillWorks();
  });

  test("a module's own state does not outlive its run", async () => {
    const source = `let runs = 0; export default plan({ title: "Counter", build({ on, log }) { runs++; on.start(() => log("run " + runs)); on.barClose(() => 0); } });`;
    for (let i = 0; i < 2; i++) expect((await run(worker, source)).result.log[0]?.text).toBe("run 1");
  });

  test("nothing that a plan writes is seen by the next", async () => {
    await failureOf(eachBar("globalThis.left = 1;"));
    const { result } = await run(worker, eachBar("log(typeof globalThis.left);"));
    expect(result.log[0]?.text).toBe("undefined");
  });
});

describe("limits end the run of that plan only", () => {
  test("an endless loop names its line and bar, and what was done is kept", async () => {
    const { result } = await run(worker, eachBar("if (position.flat) enter.long({ target: ticks(4) });\nif (n === 1500) while (true) {}"));
    expect(result.status).toBe("failed");
    expect(result.failure).toMatchObject({ line: 6, barIndex: 1499 });
    expect(result.failure?.message).toMatch(/without an end/);
    expect(result.trades.length).toBeGreaterThan(2);
    expect(result.warnings[0]?.code).toBe("partial");
    await stillWorks();
  }, 120_000);

  test("an endless recursion", async () => {
    const { result } = await run(worker, eachBar("const f = (): number => f() + 1; if (n === 10) f();"));
    expect(result.failure).toMatchObject({ message: "A function calls itself without an end.", line: 5, barIndex: 9 });
    await stillWorks();
  });

  test("more studies on the bars than there is memory for is told as that", async () => {
    const long = walk(400_000, 3);
    const source = `export default plan({ title: "Many", build({ bars, on }) {
      const all = Array.from({ length: 600 }, (_, k) => sma(bars.close, k + 2));
      on.barClose(() => all.length);
    } });`;
    const feeds = [{ instrument: INSTRUMENT, data: { key: "long", series: long, finer: null } }];
    // Either the plan is told, or its process ends: both say the same.
    await expect(runPlan(worker, { source, inputs: {}, feeds, settings: resolveSettings({}) })).rejects.toThrow(
      /^The plan was stopped: it took more memory than a plan may have \(1,500 MB\): \d+ MB of bars \(4\d\d,\d{3}\) and .*studies.*, \d MB for each\. Choose a shorter period/,
    );
    await stillWorks();
  }, 60_000);

  test.each([
    ["a growing list", "const list: number[] = []; for (;;) list.push(n);"],
    ["a huge list", "const a = new Array(3e8).fill(1); log(a.length);"],
    ["huge text", "let t = 'x'; for (;;) t += t + n;"],
  ])(
    "a memory bomb: %s",
    async (_name, code) => {
      const failure = await failureOf(eachBar(`if (n === 5) { ${code} }`));
      expect(String(failure?.message)).toMatch(/memory|Invalid string length|without an end|Invalid array|allocation|sign of life/i);
      await stillWorks();
    },
    60_000,
  );

  test("a catastrophic pattern, which no loop guard sees", async () => {
    const failure = await failureOf(eachBar(`if (n === 5) log(String(/^(a+)+$/.test("a".repeat(60) + "b")));`));
    expect(String(failure?.message)).toMatch(/no sign of life/);
    await stillWorks();
  }, 60_000);

  test("a flood of orders and log lines is cut and said", async () => {
    const { result } = await run(worker, eachBar("for (let i = 0; i < 20; i++) log('line ' + i);"));
    expect(result.log.length).toBe(10_000);
    expect(result.warnings.map(({ code }) => code)).toContain("log full");
  });
});

describe("errors point at the source", () => {
  test("a throw in a handler gives line, column and bar", async () => {
    const { result } = await run(
      worker,
      `export default plan({\n  title: "Thrower",\n  build({ on }) {\n    let n = 0;\n    on.barClose(() => {\n      if (++n === 7) throw new Error("seven");\n    });\n  },\n});`,
    );
    expect(result.failure).toMatchObject({ message: "seven", line: 6, column: 28, barIndex: 6 });
  });

  test.each([
    ["no plan", "const a = 1;", /exports nothing to run/],
    [
      "a module without its header",
      "export const keel = 1; export function hull() {}",
      /This is a module: it exports keel, hull for other plans/,
    ],
    ["a plan without a title", "export default plan({ build() {} });", /needs a title/],
    ["an input that is no input", "export default plan({ title: 'x', inputs: { a: 5 }, build() {} });", /Input "a"/],
    ["something odd thrown", "throw { toString() { throw 1; } };", /can't be read|plan threw/i],
  ])("%s", async (_name, source, message) => {
    const failure = await failureOf(source);
    expect(String(failure?.message)).toMatch(message);
  });

  test("an unknown name", async () => {
    const failure = (await failureOf("export default plan({\n  title: 'x',\n  build({ bars }) {\n    emaa(bars.close, 5);\n  },\n});")) as {
      failure?: { line: number };
    } & Error;
    expect(failure.message).toMatch(/^"emaa" is not defined/);
    expect(failure.failure?.line).toBe(4);
  });
});

test("a stop keeps what is done", async () => {
  const control = new AbortController();
  const progress: number[] = [];
  const { result } = await run(
    worker,
    eachBar("let x = 0; for (let i = 0; i < 3000; i++) x += i; if (position.flat) enter.long({ target: ticks(4) });"),
    200_000,
    {
      signal: control.signal,
      onProgress: (done) => {
        progress.push(done);
        control.abort();
      },
    },
  );
  expect(result.status).toBe("partial");
  expect(result.barsDone).toBeGreaterThan(0);
  expect(result.barsDone).toBeLessThan(200_000);
  expect(result.equity.length).toBe(result.barsDone);
  expect(result.trades.length).toBeGreaterThan(0);
}, 60_000);

test("two processes give the same result to the last bit (R7.2)", async () => {
  const other = new PlanProcess();
  try {
    const [one, two] = [await run(worker, SOUND), await run(other, SOUND)];
    expect(two.result.trades).toEqual(one.result.trades);
    expect(two.result.equity).toEqual(one.result.equity);
    expect(two.result.figures).toEqual(one.result.figures);
  } finally {
    other.kill("done");
  }
});

test("describe gives title and inputs with their bounds", async () => {
  expect(await describePlan(worker, SOUND)).toMatchObject({ title: "Sound", inputs: [{ name: "span", kind: "whole", default: 20 }] });
});

test("bars in a plan's hands can't be changed", async () => {
  const before = walk(2000, 3).close.slice();
  await failureOf(eachBar("(bars.close as any).values = 1;"));
  const { result } = await run(worker, eachBar("if (n === 2000) log(String(bars.close.now));"));
  expect(result.log[0]?.text).toBe(String(before[1999]));
});

test("a study of the plan's own hands nothing of later bars to a handler", async () => {
  const { result } = await run(
    worker,
    `const seen = [];
export default plan({ title: "Keeper", build({ bars, on, log }) {
  stepwise([bars.close], () => (close) => { seen.push(close); return close; });
  on.barClose(() => log(String(seen.length)));
} });`,
  );
  expect(result.status).toBe("complete");
  expect(result.log.length).toBe(2000);
  expect(new Set(result.log.map(({ text }) => text))).toEqual(new Set(["0"]));
});

describe("a name that is not there is told as that, with its line", () => {
  const wrap = (body: string, names = "on, bars"): string =>
    `export default plan({\n  title: "A",\n  build({ ${names} }) {\n${body}\n  },\n});`;
  test.each([
    [
      "a name of build's argument, in a handler",
      wrap("on.barClose(() => {\nif (clock.minutes > 5) return;\n});"),
      5,
      /^"clock" was not taken from build's argument/,
    ],
    ["one in build itself", wrap("ema(bars.close, 5);", "on"), 4, /^"bars" was not taken from build's argument.*build\(\{ bars, … \}\)/],
    [
      "one of build without any",
      "export default plan({\n  title: 'A',\n  build() {\n    on.barClose(() => 0);\n  },\n});",
      4,
      /^"on" was not taken/,
    ],
    ["a function that was meant otherwise", wrap("emma(bars.close, 5);"), 4, /^"emma" is not defined/],
    ["one at the head of the text", `const k = clock.minutes;\n${wrap("")}`, 1, /^"clock" was not taken/],
    [
      "a mistake with names that are there",
      wrap("on.barClose(() => {\nconst a = {};\na.b.c;\n});"),
      6,
      /^Cannot read properties of undefined \(reading 'c'\)/,
    ],
  ])("%s", async (_what, source, line, words) => {
    const failure = (await failureOf(source)) as { message: string; line?: number; failure?: { message: string; line: number } };
    const { message, line: at } = failure.failure ?? (failure as { message: string; line: number });
    expect([at, message]).toEqual([line, expect.stringMatching(words)]);
  });

  test("also where a text is only read, as the editor has it read", async () => {
    const source = `const k = clock.minutes;\n${wrap("")}`;
    await expect(describePlan(worker, source)).rejects.toMatchObject({ failure: { line: 1, message: expect.stringContaining('"clock"') } });
  });
});
