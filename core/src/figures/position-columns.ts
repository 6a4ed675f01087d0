/** What was held at each bar close, worked out from closed trades. */
import type { HeldCounts } from "../engine/feed.ts";
import type { Trade } from "../engine/orders.ts";
import { type BarSeries, lowerBound } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { isTradeIn } from "./trade-facts.ts";

/** One value a bar of the run's first instrument. */
export interface PositionColumns {
  /** Signed units of the first instrument. */
  readonly units: Float64Array;
  /**
   * Value of all open positions in account currency, >= 0: units times close times point value; positions in other
   * instruments at their entry price.
   */
  readonly value: Float64Array;
}

/** A position is held at the close of each bar from its entry up to, not including, the bar of its exit. */
export function positionColumns(trades: readonly Trade[], bars: BarSeries, instruments: readonly Instrument[]): PositionColumns {
  const { close, closeTime, length } = bars;
  const own = instruments[0]!;
  const units = new Float64Array(length + 1);
  const gross = new Float64Array(length + 1);
  const others = new Float64Array(length + 1);
  for (const trade of trades) {
    const isOwn = isTradeIn(trade, own);
    const from = isOwn ? trade.entryBar : lowerBound(closeTime, trade.entryTime);
    // Case: marked out at the end of the data. It is held at that very close.
    const end = trade.reason === "end of data" ? 1 : 0;
    const to = (isOwn ? trade.exitBar : lowerBound(closeTime, trade.exitTime)) + end;
    if (!(from < to) || from < 0 || to > length) continue;
    if (isOwn) {
      units[from]! += trade.side * trade.quantity;
      units[to]! -= trade.side * trade.quantity;
      gross[from]! += trade.quantity;
      gross[to]! -= trade.quantity;
    } else {
      const pointValue = instruments.find(({ symbol }) => symbol === trade.symbol)?.pointValue ?? 1;
      others[from]! += trade.quantity * trade.entryPrice * pointValue;
      others[to]! -= trade.quantity * trade.entryPrice * pointValue;
    }
  }
  const value = new Float64Array(length);
  let [held, all, elsewhere] = [0, 0, 0];
  for (let i = 0; i < length; i++) {
    held = tidy(held + units[i]!);
    all = tidy(all + gross[i]!);
    elsewhere = tidy(elsewhere + others[i]!);
    units[i] = held;
    value[i] = all * close[i]! * own.pointValue + elsewhere;
  }
  return { units: units.subarray(0, length), value };
}

/** On how many bars something was held, and of how much value: as a simulation counts it on its way. */
export function heldCounts(value: Float64Array): HeldCounts {
  let [exposedBars, positionValueSum, positionValuePeak] = [0, 0, 0];
  for (let i = 0; i < value.length; i++) {
    const held = value[i]!;
    if (held > 0) exposedBars++;
    positionValueSum += held;
    if (held > positionValuePeak) positionValuePeak = held;
  }
  return { exposedBars, positionValueSum, positionValuePeak };
}

/** What rounding leaves of parts that cancel out. */
const tidy = (value: number): number => (Math.abs(value) < 1e-9 ? 0 : value);
