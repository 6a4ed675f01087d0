/** Marks made by hand, where one would have got in and out, held against the trades of a run. */
import { lowerBound } from "../market/bars.ts";

export interface Mark {
  readonly id: string;
  readonly side: 1 | -1;
  readonly entryMs: number;
  readonly entryPrice: number;
  /** null where it says nothing of an exit. */
  readonly exitMs: number | null;
  readonly exitPrice: number | null;
  readonly stop: number | null;
  readonly target: number | null;
  readonly note: string;
  /** Of the plan that it is about; "" for any. */
  readonly planId: string;
}

/** What a comparison needs of a trade. */
export interface MarkedTrade {
  readonly id: number;
  readonly side: 1 | -1;
  readonly entryMs: number;
  readonly exitMs: number;
}

export interface MetMark {
  readonly mark: Mark;
  readonly tradeId: number;
  /** Bars that the trade's entry lies behind the mark's; below 0 where it lies ahead. */
  readonly entryBars: number;
  /** The same of the exit; null where the mark has none. */
  readonly exitBars: number | null;
}

export interface MarkComparison {
  readonly met: readonly MetMark[];
  readonly missed: readonly Mark[];
  /** Trades that nobody marked. */
  readonly unmarked: readonly number[];
}

/**
 * Each trade meets at most one mark, each mark at most one trade, the nearest first; of two as near the earlier trade.
 * @param time of the bars; a moment is of the bar that opened last at or before it
 * @param within how many bars a trade's entry may lie from the mark's
 */
export function compareMarks(marks: readonly Mark[], trades: readonly MarkedTrade[], time: Float64Array, within: number): MarkComparison {
  const barOf = (ms: number): number => lowerBound(time, ms + 1) - 1;
  const byBar = new Map<number, MarkedTrade[]>();
  for (const trade of trades) {
    const bar = barOf(trade.entryMs);
    byBar.set(bar, [...(byBar.get(bar) ?? []), trade]);
  }
  const pairs = marks.flatMap((mark) => {
    const bar = barOf(mark.entryMs);
    return Array.from({ length: 2 * within + 1 }, (_none, k) => k - within).flatMap((entryBars) =>
      (byBar.get(bar + entryBars) ?? []).flatMap((trade) => (trade.side === mark.side ? [{ mark, trade, entryBars }] : [])),
    );
  });
  pairs.sort(
    (a, b) => Math.abs(a.entryBars) - Math.abs(b.entryBars) || a.trade.entryMs - b.trade.entryMs || a.mark.entryMs - b.mark.entryMs,
  );
  const met = new Map<string, MetMark>();
  const taken = new Set<number>();
  for (const { mark, trade, entryBars } of pairs) {
    if (met.has(mark.id) || taken.has(trade.id)) continue;
    taken.add(trade.id);
    const exitBars = mark.exitMs === null ? null : barOf(trade.exitMs) - barOf(mark.exitMs);
    met.set(mark.id, { mark, tradeId: trade.id, entryBars, exitBars });
  }
  return {
    met: marks.flatMap(({ id }) => met.get(id) ?? []),
    missed: marks.filter(({ id }) => !met.has(id)),
    unmarked: trades.flatMap(({ id }) => (taken.has(id) ? [] : [id])),
  };
}
