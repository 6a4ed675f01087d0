/** What a run's account is to be ready for, at the size of its entries: measured, and in days and trades like those it had. */
import {
  type BarSeries,
  type DrawdownAhead,
  dayMoves,
  drawdownAhead,
  type EngineSettings,
  type EntrySizes,
  entrySizes,
  type Instrument,
  resampleTrades,
  type SizeQuestion,
  type Trade,
} from "@plan-tester/core";

export const FALLS = ["measured", "orders 95", "orders 99", "days 95", "days 99"] as const;
export type FallKind = (typeof FALLS)[number];

export const FALL_WORDS: Readonly<Record<FallKind, string>> = {
  measured: "as it was",
  "orders 95": "resampled trades, 95\u00a0%",
  "orders 99": "resampled trades, 99\u00a0%",
  "days 95": "resampled days, 95\u00a0%",
  "days 99": "resampled days, 99\u00a0%",
};

export interface Falls {
  readonly sizes: EntrySizes;
  /** Money at the size of the run's entries; null where there is too little to draw from. */
  readonly money: Readonly<Record<FallKind, number | null>>;
  /** Days drawn in blocks; null where there are too few. */
  readonly days: DrawdownAhead | null;
  /** How many days a draw has: as many as the run. */
  readonly sessions: number;
}

export interface FallsQuestion {
  readonly trades: readonly Trade[];
  readonly bars: BarSeries;
  readonly equity: Float64Array;
  readonly cash: number;
  readonly maxDrawdown: number;
}

export function fallsOf({ trades, bars, equity, cash, maxDrawdown }: FallsQuestion): Falls {
  const nets = Float64Array.from(trades, ({ net }) => net);
  const moves = dayMoves(bars, equity, cash);
  const [orders, days] = [resampleTrades(nets, cash)?.bootstrap, drawdownAhead(moves)];
  return {
    sizes: entrySizes(trades),
    ...{ days, sessions: moves.end.length },
    money: {
      measured: maxDrawdown,
      ...{ "orders 95": orders?.maxDrawdown.at(-1) ?? null, "orders 99": orders?.rareDrawdown ?? null },
      ...{ "days 95": days?.likely ?? null, "days 99": days?.rare ?? null },
    },
  };
}

/**
 * Account money that the venue holds back for a unit at a price; 0 where it asks for none.
 * @param rate account money for one of the instrument's; null where it moved: then what leverage asks for can't be told
 */
export function marginPerUnit(
  margin: { readonly by: "unit" | "leverage"; readonly value: number } | null,
  { pointValue }: Pick<Instrument, "pointValue">,
  price: number,
  rate: number | null,
): number | null {
  if (!margin) return 0;
  if (margin.by === "unit") return margin.value;
  return rate === null ? null : (Math.abs(price) * pointValue * rate) / margin.value;
}

/** Account money for one of the instrument's in a run; null where closes of another instrument gave it. */
export function fixedRate(
  instrument: Pick<Instrument, "currency">,
  account: string,
  conversions: EngineSettings["conversions"],
): number | null {
  if (instrument.currency === account) return 1;
  const conversion = conversions[instrument.currency];
  return typeof conversion === "number" ? conversion : null;
}

export type SizeTerms = Pick<SizeQuestion, "tolerated" | "allowance">;
