import type { RuleAnswer } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { ruleVerdict } from "./rule-verdict.ts";

const RULE: RuleAnswer = {
  ...{ key: "trend", label: "trend", names: ["trend"], line: 5, without: "always" },
  ...{ earned: 0.02, low: 0.004, high: 0.041, halves: [0.01, 0.03] },
  ...{ placebos: 99, asGood: 2, share: 0.03, earns: true },
  ...{ keptOut: { trades: 12, net: -900 }, letIn: { trades: 1, net: 20 } },
  figures: { netProfit: 1, maxDrawdown: 2, trades: 3, averageTrade: 4 },
};

test.each<[string, Partial<RuleAnswer>, string, RegExp]>([
  ["both hold", {}, "earns", /^Earns: its band is above 0, and only 2 of 99 placebos did as well\.$/],
  ["no placebo did", { asGood: 0, share: 0.01 }, "earns", /no placebo did\.$/],
  [
    "placebos do as well",
    { asGood: 40, share: 0.41, earns: false },
    "nothing",
    /^Nothing beyond its placebos: 40 of 99 placebos did as well, so that/,
  ],
  ["placebos and the band", { asGood: 40, share: 0.41, earns: false, low: -0.01 }, "nothing", /did as well\.$/],
  ["a band about 0", { low: -0.012, high: 0.03, earns: false }, "nothing", /from −1\.2 % to \+3\.0 %/],
  ["a band below 0", { low: -0.05, high: -0.01, earns: false, asGood: 80, share: 0.81 }, "costs", /better without it/],
  ["no placebos", { placebos: 0, asGood: 0, share: null, earns: false }, "open", /have not been asked/],
  ["no placebos, a band about 0", { placebos: 0, asGood: 0, share: null, earns: false, low: -0.01 }, "nothing", /chance/],
  [
    "nothing changed",
    { low: 0, high: 0, earned: 0, asGood: 99, share: 1, earns: false, keptOut: { trades: 0, net: 0 }, letIn: { trades: 0, net: 0 } },
    "nothing",
    /^Changes nothing/,
  ],
])("%s", (_what, more, standing, text) => {
  const verdict = ruleVerdict({ ...RULE, ...more });
  expect(verdict.standing).toBe(standing);
  expect(verdict.text).toMatch(text);
});
