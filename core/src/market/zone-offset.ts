/** Offsets of time zones, asked once for each day: the platform's own answer takes a formatted date each time. */
import { tzOffset } from "@date-fns/tz";
import { DAY_MS } from "./timeframe.ts";

/** Offsets by day of UTC; null on days on which clocks are changed. */
type Days = Map<number, number | null>;

const zones = new Map<string, Days>();
/** The zone that was asked for last, and its days. */
let lastZone = "";
let lastDays: Days = new Map();
/** Bounds of what is kept: zones and days come from files too. */
const MOST_ZONES = 64;
const MOST_DAYS = 50_000;

function daysOf(zone: string): Days {
  let days = zones.get(zone);
  if (days === undefined) {
    if (zones.size >= MOST_ZONES) zones.clear();
    days = new Map();
    zones.set(zone, days);
  }
  lastZone = zone;
  lastDays = days;
  return days;
}

/**
 * Minutes by which a zone's wall time is ahead of UTC at a time. A day at whose ends the offset is the same has it all day.
 * @param zone IANA name
 * @param utcMs milliseconds since 1970
 * @returns NaN for a zone that is not known and for what is no time
 */
export function zoneOffset(zone: string, utcMs: number): number {
  const day = Math.floor(utcMs / DAY_MS);
  const days = zone === lastZone ? lastDays : daysOf(zone);
  let offset = days.get(day);
  if (offset === undefined) {
    if (days.size >= MOST_DAYS) days.clear();
    const [first, last] = [tzOffset(zone, new Date(day * DAY_MS)), tzOffset(zone, new Date((day + 1) * DAY_MS - 1))];
    // What is no number is not equal to itself: it is asked for again, as a day on which clocks are changed.
    offset = first === last ? first : null;
    days.set(day, offset);
  }
  return offset ?? tzOffset(zone, new Date(utcMs));
}
