import { expect, test } from "vitest";
import { daysOf, MOVING_PERIOD } from "./moving-period.ts";

const COVERAGE = { firstDate: "2023-03-01", lastDate: "2026-02-27", reservedFrom: "" };

test.each([
  ["all", "2023-03-01", "2026-02-27"],
  ["to the end", "2024-07-01", "2026-02-27"],
  ["year to date", "2026-01-01", "2026-02-27"],
  ["last 2 weeks", "2026-02-14", "2026-02-27"],
  ["last 1 months", "2026-01-28", "2026-02-27"],
  ["last 3 months", "2025-11-28", "2026-02-27"],
  ["last 1 years", "2025-02-28", "2026-02-27"],
  ["last 30 years", "2023-03-01", "2026-02-27"],
])("%s", (words, from, to) => {
  expect(words).toMatch(new RegExp(MOVING_PERIOD));
  expect(daysOf(words, "2024-07-01", COVERAGE)).toEqual({ from, to });
});

test("a month that is too short ends on its last day, also over the end of a year", () => {
  const until = (lastDate: string, words: string): string => daysOf(words, "", { ...COVERAGE, lastDate }).from;
  expect(until("2025-03-31", "last 1 months")).toBe("2025-03-01");
  expect(until("2024-03-31", "last 1 months")).toBe("2024-03-01");
  expect(until("2025-05-31", "last 6 months")).toBe("2024-12-01");
  expect(until("2024-02-29", "last 1 years")).toBe("2023-03-01");
  expect(until("2026-01-31", "last 2 months")).toBe("2025-12-01");
});

test("it moves with the data, and never into what is held out", () => {
  const days = (lastDate: string, reservedFrom = "") => daysOf("last 3 months", "", { ...COVERAGE, lastDate, reservedFrom });
  expect(days("2026-02-28")).toEqual({ from: "2025-11-29", to: "2026-02-28" });
  expect(days("2026-02-27", "2025-06-01")).toEqual({ from: "2025-03-01", to: "2025-05-31" });
  expect(days("2026-02-27", "2027-01-01").to).toBe("2026-02-27");
});

test.each(["", "last 0 months", "last 3 days", "last month", "ALL", "last 1000 weeks", "all "])("%j is no moving period", (words) => {
  expect(words).not.toMatch(new RegExp(MOVING_PERIOD));
});
