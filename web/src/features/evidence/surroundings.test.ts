import type { Market, RunEvidence, TrialContext } from "@plan-tester/contract";
import { DAY_MS } from "@plan-tester/core";
import { expect, test } from "vitest";
import { surroundings } from "./surroundings.ts";

const run = { settings: { symbol: "KELP", from: "2024-03-01", to: "2025-02-28" } } as RunEvidence;
const used = (change: object) =>
  ({
    trials: 100,
    stretches: [{ symbol: "KELP", from: "2024-01-01", to: "2024-06-30", kind: "sweep", variants: 99, ...change }],
  }) as unknown as TrialContext;
const market = { origin: "import", lastMs: 0 } as Market;

test.each([
  ["a sweep on the stretch", used({}), undefined, 0, ["spent"]],
  ["a sweep on another instrument", used({ symbol: "BRIN" }), undefined, 0, []],
  ["a sweep before the stretch", used({ to: "2024-02-28" }), undefined, 0, []],
  ["a walk-forward, which chooses too", used({ kind: "walk-forward" }), undefined, 0, ["spent"]],
  ["single runs only", used({ kind: "run" }), undefined, 0, []],
  ["imported data of long ago", undefined, market, 31 * DAY_MS, ["old data"]],
  ["imported data of last week", undefined, market, 7 * DAY_MS, []],
  ["the demo world, which ends where it ends", undefined, { ...market, origin: "demo" } as Market, 400 * DAY_MS, []],
] as const)("%s", (_what, context, place, now, codes) => {
  expect(surroundings(run, place, context, now).map(({ code }) => code)).toEqual(codes);
});

test("a walk-forward has chosen before each part: it is not called spent", () => {
  expect(surroundings({ ...run, walkForwardId: "w" }, undefined, used({}), 0)).toEqual([]);
});
