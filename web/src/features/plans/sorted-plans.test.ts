import type { PlanSummary } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { type PlanSort, sortedPlans } from "./sorted-plans.ts";

const plan = (title: string, symbol: string, updatedMs: number, netProfit: number | null, note = ""): PlanSummary =>
  ({ id: title, title, symbol, updatedMs, note, lastRun: netProfit === null ? null : { netProfit, settings: { symbol } } }) as PlanSummary;

const PLANS = [plan("Tide", "KELP", 3, -5), plan("ebb", "REED", 1, null, "the Kelp one"), plan("Lantern", "ORM", 2, 40)];

test.each<[string, PlanSort, string[]]>([
  ["", { by: "title", down: false }, ["ebb", "Lantern", "Tide"]],
  ["", { by: "title", down: true }, ["Tide", "Lantern", "ebb"]],
  ["", { by: "updatedMs", down: true }, ["Tide", "Lantern", "ebb"]],
  ["", { by: "market", down: false }, ["Tide", "Lantern", "ebb"]],
  // What was never run has no net: it is last both ways.
  ["", { by: "netProfit", down: true }, ["Lantern", "Tide", "ebb"]],
  ["", { by: "netProfit", down: false }, ["Tide", "Lantern", "ebb"]],
  ["kelp", { by: "title", down: false }, ["ebb", "Tide"]],
  ["  KELP  one ", { by: "title", down: false }, ["ebb"]],
  ["nothing", { by: "title", down: false }, []],
])("%j by %o", (search, sort, expected) => {
  expect(sortedPlans(PLANS, search, sort).map(({ title }) => title)).toEqual(expected);
});
