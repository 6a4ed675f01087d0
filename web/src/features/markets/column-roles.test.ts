import type { BarLayout, CsvLayout } from "@plan-tester/core";
import { expect, test } from "vitest";
import { asKind, BAR_ROLES, type ColumnRole, roleOf, withRole } from "./column-roles.ts";

const format: BarLayout = {
  ...{ delimiter: ",", headerLines: 1, dateFormat: "iso" as const, zone: "UTC", stamp: "open" as const, decimal: "." as const },
  ...{ time: 0, clock: null, zoneColumn: null, open: 1, high: 2, low: 3, close: 4, volume: 5 },
};
const rolesOf = (of: CsvLayout): (ColumnRole | undefined)[] => Array.from({ length: 7 }, (_, column) => roleOf(of, column));

test.each<[string, number, ColumnRole | null, (ColumnRole | undefined)[]]>([
  ["two prices change places", 1, "high", ["time", "high", "open", "low", "close", "volume", undefined]],
  [
    "a price moves to a column that was not used, and leaves its own free",
    6,
    "close",
    ["time", "open", "high", "low", undefined, "volume", "close"],
  ],
  ["the volume may go", 5, null, ["time", "open", "high", "low", "close", undefined, undefined]],
  ["a price may not", 4, null, ["time", "open", "high", "low", "close", "volume", undefined]],
  [
    "nor for a role that no column has, which would leave it without one",
    4,
    "clock",
    ["time", "open", "high", "low", "close", "volume", undefined],
  ],
  ["the volume may for such a role", 5, "clock", ["time", "open", "high", "low", "close", "clock", undefined]],
  ["the same again changes nothing", 2, "high", ["time", "open", "high", "low", "close", "volume", undefined]],
  ["the volume and a price change places", 5, "close", ["time", "open", "high", "low", "volume", "close", undefined]],
])("%s", (_name, column, role, expected) => {
  expect(rolesOf(withRole(format, column, role))).toEqual(expected);
});

test("whatever is chosen, prices and time keep a column each, and no column has two roles", () => {
  let now = format;
  for (let k = 0; k < 500; k++) {
    const role = BAR_ROLES[(k * 5) % 9] ?? null;
    now = withRole(now, (k * 3) % 7, role) as BarLayout;
    const columns = BAR_ROLES.map((one) => now[one]).filter((column) => column !== null);
    expect(new Set(columns).size).toBe(columns.length);
    expect([now.time, now.open, now.high, now.low, now.close].every((column) => column !== null)).toBe(true);
  }
});

test("ticks keep a price of trades or of quotes, and their time", () => {
  const ticks = asKind(format, "ticks", 7);
  expect(rolesOf(ticks)).toEqual(["time", undefined, undefined, undefined, "price", "volume", undefined]);
  expect(withRole(ticks, 4, null)).toBe(ticks);
  const quotes = withRole(withRole(withRole(ticks, 1, "bid"), 2, "ask"), 4, null);
  expect(rolesOf(quotes)).toEqual(["time", "bid", "ask", undefined, undefined, "volume", undefined]);
  expect(rolesOf(asKind(quotes, "bars", 7))).toEqual(["time", "open", "high", "low", "close", undefined, undefined]);
});
