import type { TrialContext } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { usedStretches } from "../bench/history-use.tsx";
import { choosingOn, looksFrom, lookWords, trialsOn, triedBy } from "./spent.ts";

const used = (kind: "run" | "sweep" | "walk-forward", from: string, to: string, symbol = "KELP") => ({
  kind,
  from,
  to,
  symbol,
  variants: 5,
});
const context = {
  stretches: [
    used("sweep", "2024-01-01", "2024-03-31"),
    used("walk-forward", "2024-03-01", "2024-06-30"),
    used("sweep", "2024-09-01", "2024-10-31"),
    used("run", "2024-05-01", "2024-12-31"),
    used("sweep", "2024-01-01", "2024-12-31", "BRIN"),
  ],
} as unknown as TrialContext;

test("stretches of one kind of use are joined where they touch, each instrument by itself", () => {
  expect(usedStretches(context, "KELP", true)).toEqual([
    { from: "2024-01-01", to: "2024-06-30" },
    { from: "2024-09-01", to: "2024-10-31" },
  ]);
  expect(usedStretches(context, "KELP", false)).toEqual([{ from: "2024-05-01", to: "2024-12-31" }]);
  expect(usedStretches(context, "TIDE", true)).toEqual([]);
});

test.each([
  ["2024-02-01", "2024-02-28", ["sweep"]],
  ["2024-03-31", "2024-04-30", ["sweep", "walk-forward"]],
  ["2024-07-01", "2024-08-31", []],
  ["2024-11-01", "2024-12-31", []],
])("from %s to %s it was chosen on by %o", (from, to, kinds) => {
  expect(choosingOn(context, { symbol: "KELP", from, to }).map(({ kind }) => kind)).toEqual(kinds);
});

const tried = [
  {
    kind: "sweep" as const,
    symbol: "KELP",
    periods: [{ from: "2024-01-01", to: "2024-03-31" }],
    variants: 5,
    independent: 2,
    walkForwardId: "",
  },
  {
    kind: "walk-forward" as const,
    symbol: "KELP",
    periods: [{ from: "2024-03-01", to: "2024-06-30" }],
    variants: 5,
    independent: 5,
    walkForwardId: "w1",
  },
  // The same settings on two periods are tried once.
  {
    ...{ kind: "run" as const, symbol: "KELP", variants: 5, independent: 5, walkForwardId: "" },
    periods: [
      { from: "2024-05-01", to: "2024-12-31" },
      { from: "2024-09-01", to: "2024-10-31" },
    ],
  },
  {
    kind: "sweep" as const,
    symbol: "BRIN",
    periods: [{ from: "2024-01-01", to: "2024-12-31" }],
    variants: 5,
    independent: 5,
    walkForwardId: "",
  },
];

test("a stitched curve is not charged with the choices inside its own windows", () => {
  expect(trialsOn({ tried }, { symbol: "KELP", from: "2024-03-01", to: "2024-06-30" }, "w1")).toEqual({ distinct: 10, independent: 7 });
  expect(trialsOn({ tried }, { symbol: "KELP", from: "2024-03-01", to: "2024-06-30" }, "w2")).toEqual({ distinct: 15, independent: 12 });
});

test.each([
  ["KELP", "2024-02-01", "2024-02-28", 5],
  ["KELP", "2024-03-31", "2024-04-30", 10],
  ["KELP", "2024-05-15", "2024-09-15", 10],
  ["BRIN", "2024-05-15", "2024-09-15", 5],
  ["TIDE", "2024-02-01", "2024-02-28", 1],
])("on %s from %s to %s so many settings were tried: %i", (symbol, from, to, trials) => {
  expect(trialsOn({ tried }, { symbol, from, to }).distinct).toBe(trials);
});

test("trials are told apart by who made them, and looks at the end of the history are counted", () => {
  expect(triedBy({ tried })).toBe("5 by hand, 10 in sweeps, 5 in walk-forwards");
  expect(triedBy({ tried: [] })).toBe("");
  expect(looksFrom({ tried }, "KELP", "2024-07-01")).toBe(5);
  expect(looksFrom({ tried }, "KELP", "2024-06-30")).toBe(10);
  expect(looksFrom({ tried }, "KELP", "2025-01-01")).toBe(0);
  expect(lookWords(0)).toMatch(/^Nothing was tried on it yet\. The first .* p 5\s?%/);
  expect(lookWords(1)).toMatch(
    /^1 setting was tried on it before\. Of 2 looks .* in 10\s% of the cases: the next has to reach p 2\.5\s%\.$/,
  );
});
