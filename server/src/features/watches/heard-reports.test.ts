/** Reports of a venue by their numbers: once each, gaps, and what a killed venue has lost. */
import { expect, test } from "vitest";
import { HeardReports } from "./heard-reports.ts";

const memory = (lastReport = 0, epoch = "one") => ({ lastReport, epoch });

test("each counts once and in order; a missing one is told once, and asked for until things are said as they are", () => {
  const heard = new HeardReports(memory(4));
  expect([5, 5, 4, 6].map((number) => heard.judge(number))).toEqual(["next", "heard", "heard", "next"]);
  expect([9, 8, 7].map((number) => heard.judge(number))).toEqual(["gap", "still a gap", "next"]);
  expect(heard.caughtUp(9)).toBe(true);
  expect(heard.caughtUp(9)).toBe(false);
  expect([9, 10].map((number) => heard.judge(number))).toEqual(["heard", "next"]);
});

test.each([
  ["the process of before has lost nothing", memory(7), "one", 3, null, 7],
  ["another that had written everything down has lost nothing", memory(7), "two", 7, 0, 7],
  ["an account that it has opened itself is a new one", memory(7), "two", null, 0, 7],
  ["one that was killed has lost what it had not written down", memory(7), "two", 3, 4, 3],
  ["a watch that has heard of none yet loses none", memory(0, ""), "two", 0, 0, 0],
] as const)("%s", (_what, remembered, epoch, restored, lost, last) => {
  const heard = new HeardReports(remembered);
  expect(heard.lost({ epoch, restored })).toBe(lost);
  expect([remembered.epoch, remembered.lastReport, heard.last]).toEqual([epoch, last, last]);
  expect(heard.era).toBe(lost ? 1 : 0);
  // It is said once.
  expect(heard.lost({ epoch, restored })).toBe(null);
});

test("what has come and is not answered yet is lost as well", () => {
  const remembered = memory(2);
  const heard = new HeardReports(remembered);
  heard.judge(3);
  heard.judge(4);
  expect(heard.lost({ epoch: "two", restored: 3 })).toBe(1);
  expect(heard.judge(4)).toBe("next");
});
