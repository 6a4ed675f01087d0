import { PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { draftDifferences } from "./draft-differences.ts";

const SETTINGS: RunSettings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" };
const FAST = { name: "fast", default: 10 } as InputSpec;
const made = { source: "a plan", inputs: { fast: 10 }, inputSpecs: [FAST], settings: SETTINGS };
const draft = { source: "a plan", inputs: {}, settings: SETTINGS };

describe("evidence and the Bench beside it", () => {
  test("agree where an input is left at its default and keys stand in another order", () => {
    expect(draftDifferences(made, draft)).toEqual([]);
    const turned = Object.fromEntries(Object.entries(SETTINGS).reverse()) as unknown as RunSettings;
    expect(draftDifferences(made, { ...draft, settings: turned })).toEqual([]);
  });

  test("agree where a run of before there was a setting lacks it", () => {
    const { costsScale: _scale, costsFor: _for, ...older } = SETTINGS;
    expect(draftDifferences({ ...made, settings: older as RunSettings }, draft)).toEqual([]);
  });

  test.each<[string, Partial<typeof draft>, string[]]>([
    ["another source", { source: "a plan " }, ["program"]],
    ["an input", { inputs: { fast: 11 } }, ["inputs"]],
    ["the instrument", { settings: { ...SETTINGS, symbol: "XSC" } }, ["instrument"]],
    ["a further instrument", { settings: { ...SETTINGS, alsoOn: ["ORM"] } }, ["instrument"]],
    ["both ends of the period", { settings: { ...SETTINGS, from: "2024-04-01", to: "2024-05-01" } }, ["period"]],
    ["the account", { settings: { ...SETTINGS, cash: 5, maxPositions: 1 } }, ["account"]],
    ["scaled costs", { settings: { ...SETTINGS, costsScale: 2 } }, ["costs"]],
  ])("%s is told", (_name, change, expected) => {
    expect(draftDifferences(made, { ...draft, ...change })).toEqual(expected);
  });
});
