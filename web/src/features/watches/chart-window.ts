/** Which bars of a watch are read: the last ones, twice as many as one looks back, and then a window that goes along. */
import type { View } from "../../charts/pane-chart.ts";

export interface BarsRead {
  readonly bars: number;
  /** Those that open by this time; 0 for the last, which are followed. */
  readonly until: number;
}

export interface BarsThere {
  readonly time: Float64Array;
  /** Whether there are none behind them. */
  readonly isLast: boolean;
  /** Whether there are earlier ones. */
  readonly hasMore: boolean;
}

export const FIRST_BARS = 400;
/** Read at once at most. */
export const MAX_BARS = 40_000;

/** What is to be read where one looks at a view of what is there; the same where that is enough. */
export function readNext(read: BarsRead, { time, isLast, hasMore }: BarsThere, { from, to }: View, isFollowing: boolean): BarsRead {
  const { length } = time;
  const span = to - from;
  const { bars, until } = read;
  if (hasMore && from < span / 2) {
    if (bars < MAX_BARS) return { ...read, bars: Math.min(MAX_BARS, bars * 2) };
    // Seen whole, a window can't go along; what is followed stays the last.
    if (isFollowing || span > length / 3) return read;
    // What one looks at lies in the last third of what is read next.
    return { ...read, until: time[Math.min(length - 1, Math.ceil(to + length / 3))]! };
  }
  if (!isLast && to > length - span / 2) return { ...read, until: 2 * time[length - 1]! - time[Math.floor(length / 3)]! };
  return until > 0 && isLast ? { ...read, until: 0 } : read;
}
