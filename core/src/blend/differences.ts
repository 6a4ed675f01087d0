/** What a plan did on an account that it shared, against what its own run says at that size: trade by trade, in money. */
import type { MatchedTrade } from "../figures/trade-match.ts";

export type SizedTrade = Pick<MatchedTrade, "symbol" | "side" | "entryTime" | "exitTime" | "net"> & { readonly quantity: number };

/** How many trades, and what they add to or take from the result. */
export interface Difference {
  readonly trades: number;
  readonly money: number;
}

export interface Differences {
  /** Only its own run has them: refused, or the account was gone. */
  readonly missing: Difference;
  /** Only the shared account has them. */
  readonly further: Difference;
  /** Of another size. */
  readonly sized: Difference;
  /** Of the same size, and another result: another exit, or another price. */
  readonly other: Difference;
  /** Shared less own: the money of all four. */
  readonly money: number;
}

const keyOf = ({ symbol, side, entryTime }: SizedTrade): string => `${symbol} ${side} ${entryTime}`;
/** Money that rounding leaves. */
const HAIR = 1e-6;

/** @param factor by which the sizes of its own run are multiplied; its results with them */
export function differencesBetween(own: readonly SizedTrade[], factor: number, shared: readonly SizedTrade[]): Differences {
  const waiting = new Map<string, SizedTrade[]>();
  for (const trade of own) waiting.set(keyOf(trade), [...(waiting.get(keyOf(trade)) ?? []), trade]);
  const sums = { missing: nothing(), further: nothing(), sized: nothing(), other: nothing() };
  const add = (kind: keyof typeof sums, money: number): void => {
    sums[kind].trades++;
    sums[kind].money += money;
  };
  for (const trade of shared) {
    const match = waiting.get(keyOf(trade))?.shift();
    if (!match) add("further", trade.net);
    else if (Math.abs(trade.quantity - factor * match.quantity) > HAIR) add("sized", trade.net - factor * match.net);
    else if (Math.abs(trade.net - factor * match.net) > HAIR) add("other", trade.net - factor * match.net);
  }
  for (const left of waiting.values()) for (const { net } of left) add("missing", -factor * net);
  const money = Object.values(sums).reduce((sum, part) => sum + part.money, 0);
  return { ...sums, money };
}

const nothing = (): { trades: number; money: number } => ({ trades: 0, money: 0 });
