/** What a sweep works on: the bars of each instrument and timeframe that it varies over, and what a variant comes to there. */
import {
  engineSettings,
  type RunSettings,
  runOfVariant,
  type SweepRequest,
  SYMBOL_AXIS,
  TIMEFRAME_AXIS,
  valuesOf,
} from "@plan-tester/contract";
import { type EngineSettings, type ExitKit, type InputSpec, type InputValues, PlanTesterError } from "@plan-tester/core";
import type { FeedData } from "@plan-tester/runner";
import type { MarketService } from "../markets/market-service.ts";

/** Instruments times timeframes of one sweep. */
const MOST_MARKETS = 60;

/** One instrument on one timeframe. */
export interface SweepMarket {
  readonly symbol: string;
  readonly timeframe: string;
  readonly settings: EngineSettings;
  /** For each stretch its instruments, the plan's own first. */
  readonly stretches: readonly (readonly FeedData[])[];
}

/** Where and how a variant runs. */
export interface VariantPlace {
  readonly market: number;
  readonly inputs: InputValues;
  readonly kit: ExitKit | null;
}

export interface Stretch {
  readonly from: string;
  readonly to: string;
}

export class SweepWork {
  readonly source: string;
  readonly markets: readonly SweepMarket[];
  /** Whether exit kits differ between variants. */
  readonly variesKit: boolean;
  readonly #settings: RunSettings;

  constructor(source: string, settings: RunSettings, markets: readonly SweepMarket[], variesKit: boolean) {
    this.source = source;
    this.markets = markets;
    this.variesKit = variesKit;
    this.#settings = settings;
  }

  placeOf(variant: InputValues): VariantPlace {
    const { inputs, settings } = runOfVariant(variant, this.#settings);
    const { symbol, timeframe, kit } = settings;
    const market = this.markets.findIndex((known) => known.symbol === symbol && known.timeframe === timeframe);
    return { market, inputs, kit };
  }

  get symbols(): string[] {
    return [...new Set(this.markets.map(({ symbol }) => symbol))];
  }

  /** Session dates of the first stretch, over all instruments. */
  get dates(): string[] {
    const dates = new Set<string>();
    for (const market of this.markets) for (const date of datesOf(market)) dates.add(date);
    return [...dates].sort();
  }
}

/** Session dates of a market's first stretch that have bars, each once. */
export function datesOf({ stretches }: SweepMarket): string[] {
  const { session, sessions } = stretches[0]![0]!.data.series;
  return [...new Set(session)].map((number) => sessions.dates[number]!).filter((date, i, all) => date !== all[i - 1]);
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
 * @param further instruments that the plan's inputs name.
 * @throws PlanTesterError bad-input when there are too many markets, or one has no bars.
 */
export async function gatherWork(
  markets: MarketService,
  { source, settings, ranges, linked }: WorkRequest,
  stretches: readonly Stretch[],
  further: readonly string[],
): Promise<SweepWork> {
  const valuesAt = (axis: string, own: string): string[] => {
    const range = ranges.find(({ input }) => input === axis);
    return range ? valuesOf(range).map(String) : [own];
  };
  const symbols = valuesAt(SYMBOL_AXIS, settings.symbol);
  const timeframes = valuesAt(TIMEFRAME_AXIS, settings.timeframe);
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
      for (const { from, to } of stretches) parts.push((await markets.feeds(own, from, to, further)).feeds);
      for (const [i, feeds] of parts.entries())
        for (const { instrument, data } of feeds)
          if (data.series.length === 0)
            throw new PlanTesterError(
              "bad-input",
              `There are no bars of ${instrument.symbol} from ${stretches[i]!.from} to ${stretches[i]!.to}. Choose dates inside its history.`,
              {},
            );
      found.push({ symbol, timeframe, settings: engineSettings(own, parts[0]![0]!.instrument), stretches: parts });
    }
  const varied = [...ranges.map(({ input }) => input), ...linked];
  return new SweepWork(
    source,
    settings,
    found,
    varied.some((name) => name.startsWith("kit.")),
  );
}
