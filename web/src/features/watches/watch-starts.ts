/** What can be set to watch: a plan's text with inputs and settings, and how its entries are sent there. */
import { type RunEvidence, type RunSettings, withUnits } from "@plan-tester/contract";
import { EMPTY_KIT, type EntryLimit, type InputValues, timeframeLabel } from "@plan-tester/core";

export interface WatchStart {
  readonly key: string;
  /** Of the watch. */
  readonly name: string;
  /** What it is: "as it is on the Bench", a variant's name, a run's name. */
  readonly from: string;
  readonly planId: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
}

/** What the start lays over a plan's entries: a kit carries it, so that a backtest of the same settings does the same. */
export interface EntryChoice {
  /** Units of each entry; null for the plan's own size. */
  readonly units: number | null;
  readonly limit: EntryLimit | null;
}

export function withEntries(settings: RunSettings, { units, limit }: EntryChoice): RunSettings {
  const sized = withUnits(settings, units);
  return limit ? { ...sized, kit: { ...(sized.kit ?? EMPTY_KIT), entryLimit: limit } } : sized;
}

/** A run as it was made. */
export function startOf(run: Pick<RunEvidence, "id" | "kept" | "title" | "planId" | "source" | "inputs" | "settings">): WatchStart {
  const { id, kept, title, planId, source, inputs, settings } = run;
  const name = kept?.name ?? title;
  return { key: id, name: name.slice(0, 80), from: name, planId, source, inputs, settings };
}

export const marketWords = ({ symbol, alsoOn, timeframe }: RunSettings): string =>
  `${[symbol, ...alsoOn].join(", ")} ${timeframeLabel(timeframe)}`;

/** "fast 8, slow 30". */
export const inputWords = (inputs: InputValues): string =>
  Object.entries(inputs)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(", ");
