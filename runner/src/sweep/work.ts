/** What a sweep works on: the bars of each instrument and timeframe that it varies over, and what a variant comes to there. */
import { runOfVariant, type VariedSettings } from "@plan-tester/contract";
import type { EngineSettings, ExitKit, InputValues } from "@plan-tester/core";
import type { FeedData } from "../run-plan.ts";

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

export class SweepWork {
  readonly source: string;
  readonly markets: readonly SweepMarket[];
  /** Whether exit kits differ between variants. */
  readonly variesKit: boolean;
  readonly #settings: VariedSettings;

  constructor(source: string, settings: VariedSettings, markets: readonly SweepMarket[], variesKit: boolean) {
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
