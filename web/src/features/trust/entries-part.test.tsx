import type { EntryPaths } from "@plan-tester/core";
import { expect, test } from "vitest";
import { control, show, type } from "../../testing.tsx";
import { EntriesPart, entryWords, exitWords } from "./entries-part.tsx";

const path = (by: number) => ({
  plan: Float64Array.from({ length: 12 }, (_none, n) => by * (n + 1)),
  low: new Float64Array(12).fill(-by),
  middle: new Float64Array(12),
  high: new Float64Array(12).fill(by),
});
const ENTRIES: EntryPaths = { trades: 80, draws: 400, at: 6, atLeast: 0.01, ticks: path(2), r: path(0.1) };
const EXITS = { draws: 500, seed: 1, bands: [-900, -400, -100, 200, 700], atLeast: 0.4 };

test("both are told in the same words: how far, beside chance, and what that means", () => {
  expect(entryWords(ENTRIES)).toMatch(
    /^By the 6th close, .* gone \+12\.0 ticks \(\+0\.60 R\) .* chance, .* 0\.0, and between .2\.0 and \+2\.0 .* As good in 1\.0\s% of the draws: the entries know something\.$/,
  );
  expect(entryWords({ ...ENTRIES, at: 1, atLeast: 0.5, r: null })).toMatch(
    /^By the close of their first bar, .* \+2\.0 ticks the way .* 50\.0\s% of the draws: chance enters as well\.$/,
  );
  expect(entryWords({ ...ENTRIES, atLeast: 0.1 })).toMatch(/10\.0\s% of the draws: that decides nothing\.$/);
  expect(exitWords(EXITS)).toMatch(
    /half of the draws make less than .100, .* 40\.0\s% of the draws: the exits would have done as well with any entry\.$/,
  );
});

test("the table says what the picture shows, in ticks or in units of risk", async () => {
  const host = await show(<EntriesPart entries={ENTRIES} random={EXITS} />);
  const rowOf = (name: string) => [...host.querySelectorAll("tr")].find(({ textContent }) => textContent!.startsWith(name))!.textContent;
  expect(rowOf("8 bars")).toContain("+16.0");
  await type(control(host, "Moves in"), "r");
  expect(rowOf("8 bars")).toContain("+0.80");
});

test("without stops there is no unit of risk to choose, and without anything to compare no section", async () => {
  expect((await show(<EntriesPart entries={{ ...ENTRIES, r: null }} random={null} />)).querySelector("select")).toBeNull();
  expect((await show(<EntriesPart entries={null} random={null} />)).textContent).toBe("");
});
