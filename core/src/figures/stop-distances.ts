/** How far away the stops of a run's trades were, against what its bars move. */
import type { Trade } from "../engine/orders.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { quantile } from "./statistics.ts";
import { isTradeIn } from "./trade-facts.ts";

export interface StopDistances {
  /** Trades whose stop was known at the entry. */
  readonly count: number;
  /** Of them, those whose stop was nearer than an ordinary bar is high. */
  readonly nearer: number;
  /** Price units: an ordinary bar's range (median), the middle and the farthest stop. */
  readonly ordinaryRange: number;
  readonly middle: number;
  readonly farthest: number;
}

/** Bars looked at for their range, spread evenly. */
const BARS_LOOKED_AT = 5000;

function ordinaryRangeOf({ high, low, length }: BarSeries): number {
  const step = Math.max(1, Math.floor(length / BARS_LOOKED_AT));
  const ranges = new Float64Array(Math.ceil(length / step));
  for (let k = 0; k < ranges.length; k++) ranges[k] = high[k * step]! - low[k * step]!;
  return quantile(ranges.sort(), 0.5)!;
}

/** Of the trades in one instrument whose money is the account's; null where no stop was known. */
export function stopDistancesOf(trades: readonly Trade[], bars: BarSeries, instrument: Instrument): StopDistances | null {
  const distances = trades
    .filter((trade) => isTradeIn(trade, instrument) && trade.risk !== null && trade.risk > 0)
    .map(({ risk, quantity }) => risk! / (quantity * instrument.pointValue))
    .sort((a, b) => a - b);
  if (distances.length === 0 || bars.length === 0) return null;
  const ordinaryRange = ordinaryRangeOf(bars);
  return {
    count: distances.length,
    nearer: distances.filter((distance) => distance < ordinaryRange).length,
    ordinaryRange,
    middle: quantile(distances, 0.5)!,
    farthest: distances[distances.length - 1]!,
  };
}
