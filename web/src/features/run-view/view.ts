/** What of a run is looked at: all of it, or a stretch of its bars; and which of its trades. */
import { engineSettings, type Market, type RunEvidence } from "@plan-tester/contract";
import {
  type BarSeries,
  type Instrument,
  lowerBound,
  type StretchResult,
  type StretchSource,
  stretchResult,
  type Trade,
} from "@plan-tester/core";
import { createContext, useContext } from "react";
import { instrumentOf } from "../../data/markets.ts";
import { dayAt } from "../../lib/format.ts";

/** What a run, or a stretch of it, came to. */
export type EvidenceView = Pick<
  RunEvidence,
  "figures" | "long" | "short" | "benchmarkFigures" | "months" | "years" | "warnings" | "trades"
> & { readonly daily: { readonly dates: readonly string[]; readonly equity: ArrayLike<number> } };

/** A stretch by times, so that it stays where it is when the next run has other bars. */
export interface Stretch {
  readonly fromMs: number;
  readonly toMs: number;
  readonly label: string;
}

/** Some of the trades, and in words which. */
export interface TradeFilter {
  readonly label: string;
  readonly ids: ReadonlySet<number>;
}

/** The columns of a run that are there once they have been loaded. */
export interface EvidenceData {
  readonly bars: BarSeries;
  readonly equity: Float64Array;
  readonly plots: Readonly<Record<string, Float64Array>>;
  /** In which moments are shown. */
  readonly zone: string;
  readonly source: StretchSource;
}

/** Instruments of a run that are still there, the plan's own first. */
export function instrumentsOfRun({ settings, trades }: RunEvidence, markets: readonly Market[]): Instrument[] {
  const symbols = new Set([settings.symbol, ...settings.alsoOn, ...trades.flatMap(({ symbol }) => symbol || [])]);
  return [...symbols].flatMap((symbol) => instrumentOf(markets, symbol) ?? []);
}

export function sourceOf(run: RunEvidence, bars: BarSeries, equity: Float64Array, markets: readonly Market[]): StretchSource {
  const instruments = instrumentsOfRun(run, markets);
  return { bars, equity, trades: run.trades, instruments, settings: engineSettings(run.settings, instruments) };
}

/** The zone of the exchange, in which files are written. */
export const exchangeOf = ({ source }: Pick<EvidenceData, "source">): string => source.instruments[0]!.calendar.zone;

/** Bars of a stretch, both ends included; null where it lies outside the run. */
export function barsOf(stretch: Stretch, { bars, equity }: Pick<EvidenceData, "bars" | "equity">): { from: number; to: number } | null {
  const from = lowerBound(bars.closeTime, stretch.fromMs + 1);
  const to = Math.min(equity.length, lowerBound(bars.closeTime, stretch.toMs + 1)) - 1;
  return from <= to ? { from, to } : null;
}

export function stretchOfBars(from: number, to: number, { bars, zone }: Pick<EvidenceData, "bars" | "zone">): Stretch {
  const [fromMs, toMs] = [bars.time[from]!, bars.closeTime[to]!];
  return { fromMs, toMs, label: `${dayAt(fromMs, zone)} – ${dayAt(toMs, zone)}` };
}

/** What happened in a stretch, both ends included; all of it without one. */
export const happenedIn = <T>(stretch: Stretch | null, list: readonly T[], timeOf: (one: T) => number): readonly T[] =>
  stretch ? list.filter((one) => timeOf(one) >= stretch.fromMs && timeOf(one) <= stretch.toMs) : list;

/** The stretch of the sessions whose date begins with a text: a year, or a month. */
export function stretchOfDates(prefix: string, label: string, { bars, equity }: Pick<EvidenceData, "bars" | "equity">): Stretch | null {
  const { dates } = bars.sessions;
  let [from, to] = [-1, -1];
  for (let i = 0; i < equity.length; i++)
    if (dates[bars.session[i]!]!.startsWith(prefix)) {
      if (from < 0) from = i;
      to = i;
    }
  return from < 0 ? null : { fromMs: bars.time[from]!, toMs: bars.closeTime[to]!, label };
}

export const viewOfStretch = (data: EvidenceData, from: number, to: number): StretchResult => stretchResult(data.source, from, to);

/** What can be done from inside the evidence. */
export interface EvidenceActs {
  /** Lists some of the trades. */
  showTrades(filter: TradeFilter): void;
  /** Looks at a stretch only; null for the whole run. */
  showStretch(stretch: Stretch | null): void;
  openTrade(id: number): void;
  showLine(line: number): void;
}

const nothing = (): void => undefined;
export const EvidenceContext = createContext<EvidenceActs>({
  showTrades: nothing,
  showStretch: nothing,
  openTrade: nothing,
  showLine: nothing,
});
export const useEvidenceActs = (): EvidenceActs => useContext(EvidenceContext);

export const filterOf = (label: string, trades: readonly Trade[]): TradeFilter => ({ label, ids: new Set(trades.map(({ id }) => id)) });
