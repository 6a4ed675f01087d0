/** A closed lot, or a closed part of one, as a trade (R5.2). */
import type { Lot } from "./lots.ts";
import type { Trade } from "./orders.ts";

/** How a trade ended, in words and money. */
export type TradeEnd = Pick<Trade, "reason" | "exitTag" | "exitLine" | "commission" | "spread" | "slippage" | "financing" | "net">;

/** Where and when it ended. */
export interface TradeClose {
  readonly id: number;
  readonly symbol: string;
  /** Of the exit's fill. */
  readonly price: number;
  readonly timeMs: number;
  readonly barIndex: number;
  /** Account currency for a move of 1.0 of one unit. */
  readonly pointMoney: number;
  /** Money that hangs on the path of this bar, where its order's story does (R4.4). */
  readonly atStake: number | undefined;
}

export function tradeOf(lot: Lot, quantity: number, end: TradeEnd, close: TradeClose): Trade {
  const { commission, spread, slippage, financing, net } = end;
  const { pointMoney } = close;
  const risk = lot.riskPerUnit ? lot.riskPerUnit * quantity * pointMoney : null;
  const adverse = lot.side > 0 ? lot.entryPrice - lot.low : lot.high - lot.entryPrice;
  const favourable = lot.side > 0 ? lot.high - lot.entryPrice : lot.entryPrice - lot.low;
  return {
    id: close.id,
    orderId: lot.order.id,
    symbol: close.symbol,
    side: lot.side,
    quantity,
    entryTime: lot.entryTime,
    entryBar: lot.entryBar,
    entryPrice: lot.entryPrice,
    entryTag: lot.order.tag,
    entryLine: lot.order.line,
    exitTime: close.timeMs,
    exitBar: close.barIndex,
    exitPrice: close.price,
    exitTag: end.exitTag,
    exitLine: end.exitLine,
    reason: end.reason,
    gross: net + commission + spread + slippage + financing,
    commission,
    spread,
    slippage,
    financing,
    net,
    barsHeld: close.barIndex - lot.entryBar,
    mae: Math.max(0, adverse) * quantity * pointMoney,
    mfe: Math.max(0, favourable) * quantity * pointMoney,
    risk,
    r: risk ? net / risk : null,
    pathDependent: lot.pathDependent || close.atStake !== undefined,
    atStake: Math.max(lot.atStake, close.atStake ?? 0),
    // What is left of a lot goes on moving its exits; a closed part keeps the rails it had.
    rails: quantity < lot.quantity ? lot.rails.slice() : lot.rails,
  };
}
