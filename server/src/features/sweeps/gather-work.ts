/** Gathers what a sweep works on. */
import { engineSettings, marketsOf, type SweepRequest, valuesOf } from "@plan-tester/contract";
import { type InputSpec, PlanTesterError } from "@plan-tester/core";
import { type FeedData, type SweepMarket, SweepWork } from "@plan-tester/runner";
import type { MarketService } from "../markets/market-service.ts";

/** Instruments times timeframes of one sweep. */
const MOST_MARKETS = 60;

export interface Stretch {
  readonly from: string;
  readonly to: string;
}

export interface WorkRequest extends Pick<SweepRequest, "source" | "settings" | "ranges"> {
  /** Inputs and settings that follow others. */
  readonly linked: readonly string[];
}

/** Symbols that ranges over instrument inputs name: bars of them have to be brought along too. */
export function instrumentsVaried(ranges: SweepRequest["ranges"], specs: readonly InputSpec[]): string[] {
  const names = new Set(specs.filter(({ kind }) => kind === "instrument").map(({ name }) => name));
  return ranges.filter(({ input }) => names.has(input)).flatMap((range) => valuesOf(range).map(String));
}

/**
 * Gathers the bars of a sweep.
 * @param further instruments that the plan's inputs name. @param surrogate and atMs as of `prepareSweep`
 * @throws PlanTesterError bad-input when there are too many markets, or one has no bars.
 */
export async function gatherWork(
  markets: MarketService,
  { source, settings, ranges, linked }: WorkRequest,
  stretches: readonly Stretch[],
  further: readonly string[],
  surrogate: number | null = null,
  atMs?: number,
): Promise<SweepWork> {
  const { symbols, timeframes } = marketsOf(settings, ranges);
  if (symbols.length * timeframes.length > MOST_MARKETS)
    throw new PlanTesterError(
      "bad-input",
      `${symbols.length} instruments on ${timeframes.length} timeframes are more than ${MOST_MARKETS} in one sweep. Leave some out.`,
      {},
    );
  const found: SweepMarket[] = [];
  for (const symbol of symbols)
    for (const timeframe of timeframes) {
      const own = { ...settings, symbol, timeframe };
      const parts: FeedData[][] = [];
      for (const stretch of stretches) parts.push((await markets.feeds(own, stretch, further, surrogate, atMs)).feeds);
      for (const [i, feeds] of parts.entries())
        for (const { instrument, data } of feeds)
          if (data.series.length === 0)
            throw new PlanTesterError(
              "bad-input",
              `There are no bars of ${instrument.symbol} from ${stretches[i]!.from} to ${stretches[i]!.to}. Choose dates inside its history.`,
              {},
            );
      found.push({
        symbol,
        timeframe,
        settings: engineSettings(
          own,
          parts[0]!.map(({ instrument }) => instrument),
        ),
        stretches: parts,
      });
    }
  const varied = [...ranges.map(({ input }) => input), ...linked];
  return new SweepWork(
    source,
    settings,
    found,
    varied.some((name) => name.startsWith("kit.")),
  );
}
