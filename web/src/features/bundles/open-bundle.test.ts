import { expect, test } from "vitest";
import { progressWords, verdictOf } from "./open-bundle.tsx";

const report = (...outcomes: ("same" | "differs" | "not made")[]) => ({
  ...{ title: "t", note: "", plans: [], kits: [], instruments: [] },
  runs: outcomes.map((outcome) => ({ id: "r", name: "n", outcome, text: "" })),
});

test.each([
  [report(), "It held no runs."],
  [report("same"), "Its run was made again here and came to the same, to the last bit."],
  [report("same", "same"), "All 2 runs were made again here and came to the same, to the last bit."],
  [report("same", "differs"), "1 of 2 runs came to the same here, to the last bit; what became of the others is said below."],
  [report("not made"), "0 of 1 run came to the same here, to the last bit; what became of the others is said below."],
])("the verdict counts what came to the same", (given, words) => {
  expect(verdictOf(given)).toBe(words);
});

test("what is left is told once a run has been made", () => {
  expect(progressWords({ done: 0, total: 4 }, 900)).toBe("Run 1 of 4 is made again …");
  expect(progressWords({ done: 1, total: 4 }, 20_000)).toBe("Run 2 of 4 is made again … About 1 min 0 s left.");
});
