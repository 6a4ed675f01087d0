import { Random } from "@plan-tester/core";
import { expect, test } from "vitest";
import { stitchedWords } from "./stitched-words.ts";

const run = (days: number, drift: number) => {
  const random = new Random(5);
  let equity = 1000;
  const values = [equity];
  for (let d = 0; d < days; d++) values.push((equity *= 1 + drift + 0.001 * random.normal()));
  return { daily: { dates: [], equity: values }, figures: { sessionsPerYear: 250 } } as never;
};

test("what the days earned is said with how likely nothing earns as much", () => {
  expect(stitchedWords(run(200, 0.001))).toMatch(
    /^On 200 sessions that no choice had seen it made 2\d\.\d\s% a year, .* \(p under 0\.001, one-sided t\): .* seldom/,
  );
  expect(stitchedWords(run(200, -0.0001))).toMatch(/too often for it to be believed\.$/);
  expect(stitchedWords(run(30, 0.001))).toBe("30 sessions out-of-sample tell nothing of how much of it is luck: 60 that vary are needed.");
  expect(stitchedWords({ daily: { dates: [], equity: [] }, figures: {} } as never)).toMatch(/^0 sessions/);
});
