/** How many independent settings a sweep's amount to, from the daily returns that it keeps. */
import type { SweepState } from "@plan-tester/runner";
import type { ReturnRows } from "../../work/tasks.ts";
import { dailyRowsOf } from "./daily-rows.ts";

/** Rows that are compared with one another: more cost as their square, and say little more. */
const MOST_ROWS = 512;

/** Rows spread evenly over those of all variants that are done; null where there are fewer than two. */
export function rowsToCompare(
  state: Pick<SweepState, "points" | "figures" | "daily" | "dailyStride">,
  rowWidth: number,
): ReturnRows | null {
  const { settings, daily } = dailyRowsOf(state, rowWidth);
  if (settings < 2) return null;
  if (settings <= MOST_ROWS) return { returns: daily, settings };
  const days = daily.length / settings;
  const returns = new Float32Array(MOST_ROWS * days);
  for (let k = 0; k < MOST_ROWS; k++) {
    const row = Math.floor((k * settings) / MOST_ROWS);
    returns.set(daily.subarray(row * days, (row + 1) * days), k * days);
  }
  return { returns, settings: MOST_ROWS };
}
