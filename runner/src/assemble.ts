/** The result of a run from its trades and its equity: of one whose process died, or of later periods one after the other. */
import {
  assembleResult,
  type BarSeries,
  type EngineSettings,
  type Instrument,
  type RunResult,
  type Trade,
  tradedEquity,
} from "@plan-tester/core";
import type { TradesPiece } from "./protocol.ts";

export interface Assembly {
  readonly feeds: readonly { readonly instrument: Instrument; readonly series: BarSeries }[];
  readonly settings: EngineSettings;
  /** Bars of the first instrument that were done. */
  readonly done: number;
  /** Why it ended early; "" where it did not. */
  readonly message: string;
  readonly trades: readonly TradesPiece[];
  /** null: worked out from the trades. */
  readonly equity: readonly Float64Array[] | null;
}

export function assembled({ feeds, settings, done, message, trades, equity }: Assembly): RunResult {
  const { instrument, series } = feeds[0]!;
  const row = inOneRow(trades);
  const failure = message ? { message, line: null, column: null, barIndex: done, barTimeMs: series.time[done] ?? null } : null;
  return assembleResult({
    ...{ status: failure ? "failed" : "complete", failure, bars: series, barsDone: done, firstBar: 0, instrument, settings },
    instruments: feeds.map((feed) => feed.instrument),
    equity: equity ? joined(equity, done) : tradedEquity(feeds, settings, row),
    trades: row,
    ...{ orders: [], fills: [], log: [], notes: [], ownFigures: [], droppedLogLines: 0, counts: null, plots: [] },
  });
}

/** Trades numbered through, at the bars of the whole. */
function inOneRow(pieces: readonly TradesPiece[]): Trade[] {
  const trades: Trade[] = [];
  for (const { text, barOffset } of pieces)
    for (const trade of JSON.parse(new TextDecoder().decode(text)) as Trade[]) {
      const rails = trade.rails.map((rail) => ({ ...rail, barIndex: rail.barIndex + barOffset }));
      trades.push({
        ...trade,
        id: trades.length + 1,
        entryBar: trade.entryBar + barOffset,
        exitBar: trade.exitBar + barOffset,
        rails,
      });
    }
  return trades;
}

function joined(parts: readonly Float64Array[], length: number): Float64Array {
  const whole = new Float64Array(length);
  let at = 0;
  for (const part of parts) {
    whole.set(part.subarray(0, length - at), at);
    at += part.length;
  }
  return whole;
}
