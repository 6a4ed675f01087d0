/** What `backtest --json` prints of a run, and `verify` compares. */
import { type RunDocument, runDocument } from "@plan-tester/contract";
import type { EngineSettings } from "@plan-tester/core";
import { type FeedData, findSlips, type RunOutcome, resultHashOf } from "@plan-tester/runner";

export interface DocumentFacts {
  readonly source: string;
  readonly outcome: RunOutcome;
  readonly feeds: readonly FeedData[];
  readonly settings: EngineSettings;
  readonly fingerprint: string;
  readonly dataHash: string;
  readonly notices: readonly string[];
}

export function documentOf({ source, outcome, feeds, settings, fingerprint, dataHash, notices }: DocumentFacts): RunDocument {
  const { result, description, inputs, elapsedMs } = outcome;
  const {
    instrument,
    data: { series },
  } = feeds[0]!;
  return runDocument({
    ...{ title: description.title, inputSpecs: description.inputs, inputs },
    ...{ result, resultHash: resultHashOf(result), elapsedMs },
    bars: { count: series.length, timeframe: series.timeframe, firstMs: series.time[0]!, lastMs: series.closeTime[series.length - 1]! },
    ...{ instrument, settings, fingerprint, dataHash, notices },
    slips: findSlips(source, result),
  });
}
