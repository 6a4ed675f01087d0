/** Runs the table of docs/hostile-plans.md: every attempt gets what the page says, and harms nobody else. */
import { readFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { ChildHost } from "./parent/child-host.ts";
import { PlanProcess } from "./parent/plan-process.ts";
import { resultHashOf } from "./result-hash.ts";
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

/** Loops are ended soon: many rows have one without an end. */
const worker = new PlanProcess(new ChildHost(1, 500));
let soundHash = "";
beforeAll(async () => {
  worker.warm();
  soundHash = await hashOfSound();
});
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

async function hashOfSound(): Promise<string> {
  const { result } = await run(worker, SOUND);
  expect([result.status, result.trades.length > 5]).toEqual(["complete", true]);
  return resultHashOf(result);
}

/** A mistake on a line of its own, which is told with that line whatever ran before. */
const MISTAKEN = eachBar("\nbars.nothing.more;");

describe("what a hostile plan tries", () => {
  test("the page lists enough", () => expect(rows.length).toBeGreaterThan(80));

  test.each(rows)(
    "%s",
    async (_name, code, gets) => {
      expect(await wordsOf(code)).toContain(gets);
      expect(await hashOfSound()).toBe(soundHash);
      const { failure } = (await run(worker, MISTAKEN)).result;
      expect([failure?.line, failure?.message]).toEqual([6, "Cannot read properties of undefined (reading 'more')"]);
    },
    60_000,
  );
});

/**
 * Goes through everything that a plan can reach, by properties, prototypes and what getters give, and marks what can be
 * marked. What a run finds marked by another is shared between them.
 */
const WALKER = (mark: string): string => `export default plan({ title: "Walker ${mark}", build(context) {
  const seen = new Set();
  const found = [];
  let marked = 0;
  const walk = (value, path) => {
    if (value === null || (typeof value !== "object" && typeof value !== "function") || seen.has(value) || path.length > 12) return;
    seen.add(value);
    if (Object.getOwnPropertyNames(value).some((name) => name.startsWith("left by ") && name !== "left by ${mark}")) found.push(path.join("."));
    try {
      Object.defineProperty(value, "left by ${mark}", { value: 1, configurable: true });
      marked++;
    } catch {}
    walk(Object.getPrototypeOf(value), [...path, "proto"]);
    for (const key of Reflect.ownKeys(value)) {
      const { get, set, value: held } = Object.getOwnPropertyDescriptor(value, key);
      for (const [name, part] of [["get", get], ["set", set], ["", held]]) walk(part, [...path, String(key) + name]);
      if (get) try { walk(get.call(context), [...path, String(key) + "()"]); walk(get.call(value), [...path, String(key) + "()"]); } catch {}
    }
  };
  const errors = [() => ema(0, 0), () => null.x, () => context.bars.close.ago(-1), () => JSON.parse("{"), () => new Array(-1), () => decode()];
  const roots = { context, globalThis, plan, ema, sma, crossesAbove, ticks, exports, require };
  for (const [name, part] of Object.entries(roots)) walk(part, [name]);
  for (const fail of errors) try { fail(); } catch (error) { walk(error, ["error"]); }
  const { on, enter, log, bars, position, clock, orders, account, markets, random } = context;
  for (const part of [bars, bars.close, position, clock, orders, account, markets, random, sma(bars.close, 5), crossesAbove(bars.close, sma(bars.close, 9))])
    walk(part, ["part"]);
  on.filled((event) => walk(event, ["event"]));
  let n = 0;
  on.barClose(() => {
    if (n++ === 20) walk(enter.long({ stopLoss: ticks(20) }), ["order"]);
    if (n === 40) log("objects " + seen.size + ", marked " + (marked > 0) + ", shared: " + found.join(" "));
  });
} });`;

test("nothing that a plan can reach can be changed for another run in the same process", async () => {
  const said: string[] = [];
  for (const mark of ["one", "two"]) {
    const { result } = await run(worker, WALKER(mark));
    expect([result.status, result.failure]).toEqual(["complete", null]);
    said.push(result.log.map(({ text }) => text).find((text) => text.startsWith("objects"))!);
  }
  const [objects] = /\d+/.exec(said[1]!)!;
  expect(Number(objects)).toBeGreaterThan(300);
  expect(said[1]).toMatch(/marked true, shared: $/);
  // The same instance of the text once more: its module runs anew.
  const { result } = await run(worker, WALKER("one"));
  expect(result.log.map(({ text }) => text).find((text) => text.startsWith("objects"))).toMatch(/shared: $/);
  expect(await hashOfSound()).toBe(soundHash);
}, 60_000);
