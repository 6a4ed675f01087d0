/** What a run's account is to be ready for, at the size of its entries: measured, and in days and trades like those it had. */
import {
  type BarSeries,
  type DrawdownAhead,
  dayMoves,
  drawdownAhead,
  type EntrySizes,
  entrySizes,
  type Instrument,
  type SizeQuestion,
  type Trade,
  tradeMoves,
} from "@plan-tester/core";

export const FALLS = ["measured", "orders 95", "orders 99", "days 95", "days 99"] as const;
export type FallKind = (typeof FALLS)[number];

export const FALL_WORDS: Readonly<Record<FallKind, string>> = {
  measured: "as it was",
  "orders 95": "resampled trades, 95 %",
  "orders 99": "resampled trades, 99 %",
  "days 95": "resampled days, 95 %",
  "days 99": "resampled days, 99 %",
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
  const [orders, days] = [drawdownAhead(tradeMoves(nets), 1), drawdownAhead(moves)];
  return {
    sizes: entrySizes(trades),
    ...{ days, sessions: moves.end.length },
    money: {
      measured: maxDrawdown,
      ...{ "orders 95": orders?.likely ?? null, "orders 99": orders?.rare ?? null },
      ...{ "days 95": days?.likely ?? null, "days 99": days?.rare ?? null },
    },
  };
}

/** Money that the venue holds back for a unit at a price; 0 where it asks for none. */
export function marginPerUnit(
  margin: { readonly by: "unit" | "leverage"; readonly value: number } | null,
  { pointValue }: Pick<Instrument, "pointValue">,
  price: number,
): number {
  if (!margin) return 0;
  return margin.by === "unit" ? margin.value : (Math.abs(price) * pointValue) / margin.value;
}

export type SizeTerms = Pick<SizeQuestion, "tolerated" | "allowance">;
