import { expect, test } from "vitest";
import { findIn } from "./search.ts";

const PAGES = [
  ["a", "First", "# First\nA stop loss closes.\n\n## Stops\n| `stop` | closes at a price |\nnothing here"],
  ["b", "Second", "# Stop loss\nwords"],
] as const;

test("lines with all the words, in any order and case, under their headings; headings first", () => {
  expect(findIn(PAGES, "LOSS stop")).toEqual([
    { id: "b", name: "Second", section: "Stop loss", line: "Stop loss" },
    { id: "a", name: "First", section: "First", line: "A stop loss closes." },
  ]);
  expect(findIn(PAGES, "price")).toEqual([{ id: "a", name: "First", section: "Stops", line: "stop closes at a price" }]);
  expect(findIn(PAGES, "nowhere")).toEqual([]);
  expect(findIn(PAGES, "  ")).toEqual([]);
});
