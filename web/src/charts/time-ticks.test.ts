import { describe, expect, test } from "vitest";
import { timeTicks } from "./time-ticks.ts";

const MINUTE = 60_000;
/** Sessions of 13 hours from 07:00 exchange time, in bars of 15 minutes. */
const times = (days: number): Float64Array =>
  Float64Array.from({ length: days * 52 }, (_, i) => Date.UTC(2025, 2, 3, 7) + Math.floor(i / 52) * 1440 * MINUTE + (i % 52) * 15 * MINUTE);

describe("ticks stand where a unit begins", () => {
  test("hours within a day, days on their first", () => {
    const ticks = timeTicks(times(3), "UTC", 0, 60, 12);
    expect(ticks.map(({ label }) => label)).toContain("4 Mar");
    expect(ticks.find(({ label }) => label === "4 Mar")?.value).toBe(52);
    expect(ticks.map(({ label }) => label)).toContain("12:00");
  });

  test("months over a year, the year named once", () => {
    const labels = timeTicks(times(400), "UTC", 0, 400 * 52 - 1, 8).map(({ label }) => label);
    expect(labels.filter((label) => label.includes("2026")).length).toBe(1);
    expect(labels.length).toBeLessThanOrEqual(8);
  });

  test("local days follow the zone", () => {
    const night = Float64Array.from({ length: 8 }, (_, i) => Date.UTC(2025, 6, 1, 20) + i * 60 * MINUTE);
    expect(timeTicks(night, "Atlantic/Faroe", 0, 7, 9).find(({ label }) => label === "2 Jul")?.value).toBe(3);
  });

  test("hours are those of the clock on the day on which it is changed", () => {
    // Clocks go from 01:00 to 02:00: hours of UTC from midnight.
    const night = Float64Array.from({ length: 12 }, (_, i) => Date.UTC(2025, 2, 30) + i * 60 * MINUTE);
    const ticks = timeTicks(night, "Atlantic/Faroe", 0, 11, 12);
    expect(ticks.find(({ label }) => label === "06:00")?.value).toBe(5);
  });

  test.each([1, 2, 5, 20])("never more than %i", (most) => {
    for (const days of [1, 10, 100, 700]) expect(timeTicks(times(days), "UTC", 0, days * 52 - 1, most).length).toBeLessThanOrEqual(most);
  });
});
