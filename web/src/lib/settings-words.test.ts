import { NO_COSTS } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { commissionWords, costsWords } from "./settings-words.ts";

describe("costs in words", () => {
  test.each([
    [{ costs: "market", costsScale: 1 }, "market costs"],
    // Another instrument's are no part of this run.
    [{ costs: "market", costsFor: { ORM: { scale: 2 }, TIDE: { scale: 3 } } }, "market costs, other ones for ORM"],
    [{ costs: "none", costsScale: 1 }, "no costs"],
    [{ costs: NO_COSTS, costsScale: 0.5 }, "0.5 × custom costs"],
  ] as const)("%j", (settings, words) => {
    expect(costsWords({ costsScale: 1, costsFor: {}, symbol: "KELP", alsoOn: ["ORM"], ...settings })).toBe(words);
  });

  test.each([
    [{}, "none"],
    [{ commissionPerUnit: 2.8 }, "2.80 XSC per unit and side"],
    [{ commissionPercent: 0.04, commissionMinimum: 2 }, "0.040 % of value, at least 2.00 XSC"],
  ])("commission %j", (some, words) => {
    expect(commissionWords({ costs: { ...NO_COSTS, ...some }, currency: "XSC" })).toBe(words);
  });
});
