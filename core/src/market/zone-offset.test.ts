/** Offsets that are kept by day are those that the platform gives, in every zone that it knows. */
import { tzOffset } from "@date-fns/tz";
import fc from "fast-check";
import { expect, test } from "vitest";
import { zoneOffset } from "./zone-offset.ts";

const ZONES = Intl.supportedValuesOf("timeZone");
const [FROM, TO] = [Date.UTC(1970, 0, 1), Date.UTC(2040, 0, 1)];

test("any moment in any zone", () => {
  fc.assert(
    fc.property(fc.constantFrom(...ZONES), fc.integer({ min: FROM, max: TO }), (zone, ms) => {
      expect(zoneOffset(zone, ms)).toBe(tzOffset(zone, new Date(ms)));
    }),
    { numRuns: 3000 },
  );
});

test.each([
  ["Atlantic/Faroe", "2025-03-30T00:59:59.999Z", 0],
  ["Atlantic/Faroe", "2025-03-30T01:00:00.000Z", 60],
  ["Atlantic/Faroe", "2025-10-26T00:59:59.999Z", 60],
  ["Atlantic/Faroe", "2025-10-26T01:00:00.000Z", 0],
  ["Australia/Lord_Howe", "2025-04-05T14:59:59.999Z", 660],
  ["Australia/Lord_Howe", "2025-04-05T15:00:00.000Z", 630],
  ["Asia/Kathmandu", "2025-01-01T00:00:00.000Z", 345],
  ["Pacific/Apia", "2011-12-30T09:59:59.999Z", -600],
  ["Pacific/Apia", "2011-12-30T10:00:00.000Z", 840],
])("in %s at %s", (zone, at, minutes) => {
  // Twice: the second is the one that was kept.
  expect([zoneOffset(zone, Date.parse(at)), zoneOffset(zone, Date.parse(at))]).toEqual([minutes, minutes]);
});

test("a zone that is not known and what is no time have no offset", () => {
  expect(zoneOffset("Sundrey/Gannet", 0)).toBeNaN();
  expect(zoneOffset("UTC", Number.NaN)).toBeNaN();
});
