/** The daily returns of the variants that are done: what the probability of overfitting is worked out from. */
import type { SweepState } from "@plan-tester/runner";

export interface DailyRows {
  /** How many variants there are rows of. */
  readonly settings: number;
  /** One row after the other, in the order of their trial. */
  readonly daily: Float32Array;
}

/**
 * Leaves out variants that were not reached or that failed: their rows are empty, and would count as settings that never
 * trade.
 * @param rowWidth figures of one variant.
 */
export function dailyRowsOf(
  { points, figures, daily, dailyStride }: Pick<SweepState, "points" | "figures" | "daily" | "dailyStride">,
  rowWidth: number,
): DailyRows {
  const room = dailyStride > 0 ? Math.ceil(figures.length / rowWidth / dailyStride) : 0;
  if (room === 0 || daily.length === 0) return { settings: 0, daily: new Float32Array(0) };
  const days = daily.length / room;
  const done: number[] = [];
  for (let row = 0; row < room && row * dailyStride < points.length; row++)
    if (!Number.isNaN(figures[row * dailyStride * rowWidth]!)) done.push(row);
  if (done.length === room) return { settings: room, daily };
  const kept = new Float32Array(done.length * days);
  done.forEach((row, k) => {
    kept.set(daily.subarray(row * days, (row + 1) * days), k * days);
  });
  return { settings: done.length, daily: kept };
}
