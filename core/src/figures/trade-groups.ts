/** Closed trades by what they have in common. */
import type { Trade } from "../engine/orders.ts";
import { utcToWall } from "../market/calendar.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { costsOf } from "./trade-facts.ts";

export const GROUPINGS = ["tag", "exit reason", "side", "instrument", "entry hour", "weekday", "month", "line"] as const;
export type Grouping = (typeof GROUPINGS)[number];

/** The label of the group that a trade is in, and a key by which groups are ordered. */
export type TradeGroupOf = (trade: Trade) => { readonly label: string; readonly order: string };

export interface TradeGroup {
  readonly label: string;
  readonly trades: readonly Trade[];
  readonly net: number;
  readonly wins: number;
  readonly costs: number;
}

const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
const two = (value: number): string => String(value).padStart(2, "0");

/** Hours, weekdays and months are those of the entry, at the exchange. */
function groupOf(trade: Trade, by: Grouping, zone: string): { label: string; order: string } {
  const wall = (): number => utcToWall(zone, trade.entryTime);
  const plain = (label: string): { label: string; order: string } => ({ label, order: label });
  switch (by) {
    case "tag":
      return plain(trade.entryTag || "no tag");
    case "exit reason":
      return plain(trade.reason);
    case "side":
      return plain(trade.side > 0 ? "long" : "short");
    case "instrument":
      return plain(trade.symbol);
    case "line":
      return { label: trade.entryLine > 0 ? `line ${trade.entryLine}` : "no line", order: String(trade.entryLine).padStart(6, "0") };
    case "entry hour":
      return plain(`${two(new Date(wall()).getUTCHours())}:00`);
    case "weekday": {
      const day = (((Math.floor(wall() / DAY_MS) + 3) % 7) + 7) % 7;
      return { label: WEEKDAYS[day]!, order: String(day) };
    }
    case "month":
      return plain(new Date(wall()).toISOString().slice(0, 7));
  }
}

/** @param by a grouping, or what tells the group of each trade */
export function tradeGroups(trades: readonly Trade[], by: Grouping | TradeGroupOf, zone: string): TradeGroup[] {
  const groups = new Map<string, { label: string; trades: Trade[]; net: number; wins: number; costs: number }>();
  for (const trade of trades) {
    const { label, order } = typeof by === "function" ? by(trade) : groupOf(trade, by, zone);
    const group = groups.get(order) ?? { label, trades: [], net: 0, wins: 0, costs: 0 };
    groups.set(order, group);
    group.trades.push(trade);
    group.net += trade.net;
    if (trade.net > 0) group.wins++;
    group.costs += costsOf(trade);
  }
  return [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, group]) => group);
}
