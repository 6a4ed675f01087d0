/** What of the trust figures takes long, worked out beside the page: thousands of draws. */
import {
  type BarSeries,
  type EntryPaths,
  entryPaths,
  type Instrument,
  type RandomEntries,
  type Resampling,
  randomEntries,
  resampleTrades,
  type Trade,
} from "@plan-tester/core";
import { answerWith } from "../../lib/ask-worker.ts";

export interface DrawsQuestion {
  readonly trades: readonly Trade[];
  readonly bars: BarSeries;
  readonly instrument: Instrument;
  readonly cash: number;
}

export interface Draws {
  readonly resampling: Resampling | null;
  readonly random: RandomEntries | null;
  readonly entries: EntryPaths | null;
}

answerWith<DrawsQuestion, Draws>(({ trades, bars, instrument, cash }) => ({
  resampling: resampleTrades(
    Float64Array.from(trades, ({ net }) => net),
    cash,
  ),
  random: randomEntries(trades, bars, instrument),
  entries: entryPaths(trades, bars, instrument),
}));
