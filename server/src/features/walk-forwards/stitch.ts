/** The later periods of a walk-forward, one after the other, as a run of their own. */
import { randomUUID } from "node:crypto";
import { type RunHead, unpackColumns, type WalkForwardDetail } from "@plan-tester/contract";
import { type FeedData, hashText, type PlanReport, type TradesPiece } from "@plan-tester/runner";

/** What became of one window's choice on its later period. */
export interface Piece {
  readonly feeds: readonly FeedData[];
  readonly report: PlanReport;
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

function equityOf({ columns }: PlanReport): Float64Array {
  // A copy: columns must begin where their memory begins.
  return unpackColumns(new Uint8Array(Buffer.concat(columns)).buffer).columns.equity!;
}

/** Equity carried from piece to piece, and the trades of all with the bars that lie before them. */
export function joinPieces(
  pieces: readonly Piece[],
  { data: { series } }: FeedData,
  cash: number,
): { equity: Float64Array; trades: TradesPiece[] } {
  const equity = new Float64Array(series.length).fill(cash);
  const trades: TradesPiece[] = [];
  let [offset, carried] = [0, cash];
  for (const { report, feeds } of pieces) {
    const own = feeds[0]!.data.series;
    // Case: a window without a chosen setting lies between.
    while (offset < equity.length && series.time[offset]! < own.time[0]!) equity[offset++] = carried;
    const values = equityOf(report);
    for (let i = 0; i < values.length; i++) equity[offset + i] = carried + values[i]! - cash;
    trades.push({ text: Buffer.concat(report.trades), barOffset: offset });
    offset += own.length;
    carried += (values.at(-1) ?? cash) - cash;
  }
  return { equity: equity.fill(carried, offset), trades };
}

/** @param feed bars of the whole period on the plan's own instrument; `dataHash` is theirs. */
export function stitchedHead(
  { id, planId, planTitle, source, inputSpecs, request }: WalkForwardDetail,
  { head }: PlanReport,
  period: Period,
  { data: { series } }: FeedData,
  dataHash: string,
): RunHead {
  const { settings, inputs } = request;
  return {
    ...head,
    ...{ id: randomUUID().slice(0, 13), planId, kept: null, title: planTitle, source, inputs, inputSpecs, slips: [] },
    settings: { ...settings, ...period },
    fingerprint: hashText(`${id} ${source}`).slice(0, 16),
    dataHash,
    createdMs: Date.now(),
    elapsedMs: 0,
    bars: series.length,
    firstMs: series.time[0]!,
    lastMs: series.closeTime[series.length - 1]!,
    daily: { dates: head.daily.dates, equity: Array.from(head.daily.equity) },
    walkForwardId: id,
    watched: null,
  };
}
