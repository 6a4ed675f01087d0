/** Hours in which nobody wants to be called. */
import type { AlertSetup } from "@plan-tester/contract";
import { MINUTE_MS, utcToWall } from "@plan-tester/core";

const DAY_MINUTES = 1440;

const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));

/** For how long, in ms, an alert has to wait; 0 where it may go now. From 22:00 to 07:00 goes over midnight; equal ends are no hours at all. */
export function quietFor({ isOn, from, to, zone }: AlertSetup["quiet"], nowMs: number): number {
  if (!isOn || from === to) return 0;
  const wall = Math.floor(utcToWall(zone, nowMs) / MINUTE_MS) % DAY_MINUTES;
  const after = (clock: string): number => (wall - minutesOf(clock) + DAY_MINUTES) % DAY_MINUTES;
  const length = (minutesOf(to) - minutesOf(from) + DAY_MINUTES) % DAY_MINUTES;
  const gone = after(from);
  return gone < length ? (length - gone) * MINUTE_MS - (nowMs % MINUTE_MS) : 0;
}
