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
  /** Units of all instruments, long and short added up. */
  readonly grossUnits: Float64Array;
  /** 1 for a bar on which a position was open at any time, also one that began and ended inside it. */
  readonly exposed: Uint8Array;
}

/** A position is held at the close of each bar from its entry up to, not including, the bar of its exit. It exposes both. */
export function positionColumns(trades: readonly Trade[], bars: BarSeries, instruments: readonly Instrument[]): PositionColumns {
  const { close, closeTime, length } = bars;
  const own = instruments[0]!;
  const units = new Float64Array(length + 1);
  const gross = new Float64Array(length + 1);
  const grossUnits = new Float64Array(length + 1);
  const others = new Float64Array(length + 1);
  const open = new Int32Array(length + 1);
  for (const trade of trades) {
    const isOwn = isTradeIn(trade, own);
    const from = isOwn ? trade.entryBar : lowerBound(closeTime, trade.entryTime);
    const last = isOwn ? trade.exitBar : lowerBound(closeTime, trade.exitTime);
    if (from < 0 || last < from || last >= length) continue;
    open[from]!++;
    open[last + 1]!--;
    // Case: marked out at the end of the data. It is held at that very close.
    const to = trade.reason === "end of data" ? last + 1 : last;
    grossUnits[from]! += trade.quantity;
    grossUnits[to]! -= trade.quantity;
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
  const exposed = new Uint8Array(length);
  let [held, all, every, elsewhere, opened] = [0, 0, 0, 0, 0];
  for (let i = 0; i < length; i++) {
    held = tidy(held + units[i]!);
    all = tidy(all + gross[i]!);
    every = tidy(every + grossUnits[i]!);
    elsewhere = tidy(elsewhere + others[i]!);
    opened += open[i]!;
    exposed[i] = opened > 0 ? 1 : 0;
    units[i] = held;
    grossUnits[i] = every;
    value[i] = all * close[i]! * own.pointValue + elsewhere;
  }
  return { units: units.subarray(0, length), value, grossUnits: grossUnits.subarray(0, length), exposed };
}

/** On how many bars something was held, and of how much value: as a simulation counts it on its way. */
export function heldCounts({ value, grossUnits, exposed }: Omit<PositionColumns, "units">): HeldCounts {
  let [exposedBars, positionValueSum, positionValuePeak, unitsPeak] = [0, 0, 0, 0];
  for (let i = 0; i < value.length; i++) {
    const held = value[i]!;
    exposedBars += exposed[i]!;
    positionValueSum += held;
    if (held > positionValuePeak) positionValuePeak = held;
    if (grossUnits[i]! > unitsPeak) unitsPeak = grossUnits[i]!;
  }
  return { exposedBars, positionValueSum, positionValuePeak, unitsPeak };
}

/** What rounding leaves of parts that cancel out. */
const tidy = (value: number): number => (Math.abs(value) < 1e-9 ? 0 : value);
