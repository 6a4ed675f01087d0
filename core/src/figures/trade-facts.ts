/** What is asked of a closed trade in several places. */
import type { Trade } from "../engine/orders.ts";
import type { Instrument } from "../market/instrument.ts";

/** All that a trade cost: its net result is `gross` less this. */
export const costsOf = ({ commission, spread, slippage, financing }: Trade): number => commission + spread + slippage + financing;

/** Whether a trade was made in an instrument; a run of one instrument alone may leave the symbol empty. */
export const isTradeIn = ({ symbol }: Pick<Trade, "symbol">, instrument: Pick<Instrument, "symbol">): boolean =>
  !symbol || symbol === instrument.symbol;

/** Tells a trade of one run again in another: instrument, side, time of entry and tag agree. Parts of one lot have the same key. */
export const tradeKey = ({ symbol, side, entryTime, entryTag }: Pick<Trade, "symbol" | "side" | "entryTime" | "entryTag">): string =>
  `${symbol}:${side}:${entryTime}:${entryTag}`;
