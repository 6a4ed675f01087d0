import { expect, test } from "vitest";
import { coveredPeriod } from "./markets.ts";

const HAS = { firstDate: "2023-03-01", lastDate: "2025-02-10" };

test.each([
  ["inside", "2024-01-01", "2024-06-30", "2024-01-01", "2024-06-30"],
  ["as long as what there is", "2023-03-01", "2025-02-10", "2023-03-01", "2025-02-10"],
  ["begins earlier", "2022-01-01", "2024-06-30", "2023-03-01", "2024-06-30"],
  ["ends later", "2024-01-01", "2026-06-30", "2024-01-01", "2025-02-10"],
  ["on one day", "2025-02-10", "2026-06-30", "2025-02-10", "2025-02-10"],
  ["wholly before", "2020-01-01", "2021-01-01", "2024-02-11", "2025-02-10"],
  ["wholly after", "2026-01-01", "2026-02-01", "2024-02-11", "2025-02-10"],
])("a period that lies %s", (_where, from, to, first, last) => {
  expect(coveredPeriod({ from, to }, HAS)).toEqual({ from: first, to: last });
});

test("an instrument with less than a year gives all that it has", () => {
  expect(coveredPeriod({ from: "2020-01-01", to: "2020-02-01" }, { firstDate: "2025-01-01", lastDate: "2025-02-10" })).toEqual({
    from: "2025-01-01",
    to: "2025-02-10",
  });
});
