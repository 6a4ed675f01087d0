/** What a change did, trade by trade: the trades of two runs of one plan set against each other. */
import type { Trade } from "../engine/orders.ts";
import { tradeKey } from "./trade-facts.ts";

/** What two trades are matched by. */
export type MatchedTrade = Pick<Trade, "symbol" | "side" | "entryTime" | "entryTag" | "exitTime" | "reason" | "net">;

export interface TradePair<T = Trade> {
  readonly a: T;
  readonly b: T;
}

export interface TradeMatch<T = Trade> {
  /** In both, with the same end and the same net. */
  readonly same: readonly TradePair<T>[];
  /** Entered alike, ended otherwise. */
  readonly otherwise: readonly TradePair<T>[];
  readonly onlyA: readonly T[];
  readonly onlyB: readonly T[];
}

const CENT = 0.005;

/** Two trades are one and the same when their keys are; a lot closed in parts matches part by part. */
export function matchTrades<T extends MatchedTrade>(a: readonly T[], b: readonly T[]): TradeMatch<T> {
  const waiting = new Map<string, T[]>();
  for (const trade of b) {
    const list = waiting.get(tradeKey(trade));
    if (list) list.push(trade);
    else waiting.set(tradeKey(trade), [trade]);
  }
  const [same, otherwise, onlyA]: [TradePair<T>[], TradePair<T>[], T[]] = [[], [], []];
  for (const trade of a) {
    const partner = waiting.get(tradeKey(trade))?.shift();
    if (!partner) onlyA.push(trade);
    else if (partner.exitTime === trade.exitTime && partner.reason === trade.reason && Math.abs(partner.net - trade.net) < CENT)
      same.push({ a: trade, b: partner });
    else otherwise.push({ a: trade, b: partner });
  }
  return { same, otherwise, onlyA, onlyB: [...waiting.values()].flat().sort((x, y) => x.exitTime - y.exitTime) };
}
