/** The out-of-sample stretches of a walk-forward, one after the other, as a run of their own. */
import { randomUUID } from "node:crypto";
import { engineSettings, type RunEvidence, type WalkForwardDetail } from "@plan-tester/contract";
import { assembleResult, type RunResult, type Trade } from "@plan-tester/core";
import { type FeedData, hashText, resultHashOf } from "@plan-tester/runner";

/** What became of one window's choice on its later stretch. */
export interface Piece {
  readonly feeds: readonly FeedData[];
  readonly result: RunResult;
}

interface Period {
  readonly from: string;
  readonly to: string;
}

/** Session dates of the first and the last bar. */
export function periodOf(pieces: readonly Piece[]): Period {
  const dateAt = ({ feeds }: Piece, last: boolean): string => {
    const { series } = feeds[0]!.data;
    return series.sessions.dates[series.session[last ? series.length - 1 : 0]!]!;
  };
  return { from: dateAt(pieces[0]!, false), to: dateAt(pieces.at(-1)!, true) };
}

/** Equity carried from piece to piece, and the trades of all. */
function joined(pieces: readonly Piece[], { data }: FeedData, cash: number): { equity: Float64Array; trades: Trade[] } {
  const equity = new Float64Array(data.series.length).fill(cash);
  const trades: Trade[] = [];
  let [offset, carried] = [0, cash];
  for (const { result, feeds } of pieces) {
    const { series } = feeds[0]!.data;
    // Case: a window without a chosen setting lies between.
    while (offset < equity.length && data.series.time[offset]! < series.time[0]!) equity[offset++] = carried;
    for (let i = 0; i < result.equity.length; i++) equity[offset + i] = carried + result.equity[i]! - cash;
    for (const trade of result.trades) {
      const rails = trade.rails.map((rail) => ({ ...rail, barIndex: rail.barIndex + offset }));
      trades.push({ ...trade, id: trades.length + 1, entryBar: trade.entryBar + offset, exitBar: trade.exitBar + offset, rails });
    }
    offset += series.length;
    carried += (result.equity.at(-1) ?? cash) - cash;
  }
  return { equity: equity.fill(carried, offset), trades };
}

/** @param feed bars of the whole period on the plan's own instrument; `hash` is theirs. */
export function stitched(
  { id, planId, planTitle, source, inputSpecs, request }: WalkForwardDetail,
  pieces: readonly Piece[],
  period: Period,
  feed: FeedData,
  hash: string,
): { evidence: RunEvidence; equity: Float64Array } {
  const { settings, inputs } = request;
  const { series } = feed.data;
  const { equity, trades } = joined(pieces, feed, settings.cash);
  const result = assembleResult({
    ...{ status: "complete", failure: null, bars: series, barsDone: series.length, firstBar: 0, equity, trades },
    ...{ instrument: feed.instrument, instruments: pieces[0]!.feeds.map(({ instrument }) => instrument) },
    settings: engineSettings(settings, feed.instrument),
    ...{ orders: [], fills: [], log: [], notes: [], ownFigures: [], droppedLogLines: 0, counts: null, plots: [] },
  });
  const { orders: _orders, fills: _fills, equity: _equity, daily, plots: _plots, ...rest } = result;
  const evidence: RunEvidence = {
    ...rest,
    ...{ id: randomUUID().slice(0, 13), planId, kept: null, title: planTitle, source, inputs, inputSpecs, slips: [], plots: [] },
    settings: { ...settings, ...period },
    fingerprint: hashText(`${id} ${source}`).slice(0, 16),
    resultHash: resultHashOf(result),
    dataHash: hash,
    createdMs: Date.now(),
    elapsedMs: 0,
    bars: series.length,
    firstMs: series.time[0]!,
    lastMs: series.closeTime[series.length - 1]!,
    daily: { dates: daily.dates, equity: Array.from(daily.equity) },
    walkForwardId: id,
  };
  return { evidence, equity };
}
