/** Evidence, orders and columns of a run, as the server hands them out, put together as one run document. */
import type { Instrument } from "@plan-tester/core";
import type { RunEvidence, RunOrders } from "./api.ts";
import { type RunDocument, runDocument } from "./run-document.ts";
import { engineSettings } from "./run-settings.ts";

export function evidenceDocument(
  run: RunEvidence,
  { orders, fills }: RunOrders,
  { equity, ...shown }: Readonly<Record<string, Float64Array>>,
  instruments: readonly Instrument[],
): RunDocument {
  const instrument = instruments[0]!;
  const { settings, title, inputs, inputSpecs, resultHash, elapsedMs, fingerprint, dataHash, slips } = run;
  const result = {
    ...run,
    orders,
    fills,
    firstBar: run.firstBar,
    equity: equity!,
    daily: { dates: run.daily.dates, equity: Float64Array.from(run.daily.equity) },
    plots: run.plots.map((plot, i) => ({ ...plot, values: shown[`plot${i}`]! })),
  };
  return runDocument({
    ...{ title, inputs, inputSpecs, result, resultHash, elapsedMs, instrument, fingerprint, dataHash, slips, notices: [] },
    bars: { count: run.bars, timeframe: settings.timeframe, firstMs: run.firstMs, lastMs: run.lastMs },
    settings: engineSettings(settings, instruments),
  });
}
