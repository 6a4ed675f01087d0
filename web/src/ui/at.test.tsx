/** Moments say their zone, and what the viewer's own clock said, under the pointer. */
import { expect, test } from "vitest";
import { show } from "../testing.tsx";
import { At, asTime, clockWords, ownTimeWords } from "./at.tsx";

const NOON = Date.UTC(2026, 5, 1, 12);

test.each([
  ["UTC", "UTC", "UTC"],
  ["Atlantic/Faroe", "UTC", "Atlantic/Faroe; where you are (UTC): 1 Jun 2026, 12:00"],
  ["UTC", "Pacific/Auckland", "UTC; where you are (Pacific/Auckland): 2 Jun 2026, 00:00"],
  // Another name, the same time.
  ["Europe/Lisbon", "Atlantic/Faroe", "Europe/Lisbon"],
])("shown in %s to somebody in %s", (zone, here, words) => {
  expect(clockWords(NOON, zone, here)).toBe(words);
});

test.each([
  ["Atlantic/Faroe", "UTC", " (12:00 where you are)"],
  ["UTC", "Pacific/Auckland", " (2 Jun 2026, 00:00 where you are)"],
  ["Europe/Lisbon", "Atlantic/Faroe", ""],
])("under the pointer in %s to somebody in %s", (zone, here, words) => {
  expect(ownTimeWords(NOON, zone, here)).toBe(words);
});

test("it is a moment for machines too, and is copied as it is read", async () => {
  const host = await show(<At ms={NOON} zone="Atlantic/Faroe" />);
  const time = host.querySelector("time")!;
  expect([time.dateTime, time.textContent, time.title.startsWith("Atlantic/Faroe")]).toEqual([
    "2026-06-01T12:00:00.000Z",
    "1 Jun 2026, 13:00",
    true,
  ]);
  expect(asTime((ms: number) => ms, "Atlantic/Faroe").text!(NOON)).toBe("1 Jun 2026, 13:00");
});
