/** What happened in a run, with bars numbered from the first of its period: the bars ahead of it were there for warm-up only. */
import type { Fill, LogLine, Order, Trade } from "../engine/orders.ts";
import type { ChartNote } from "../language/host.ts";

type Changeable<T> = { -readonly [Field in keyof T]: T[Field] };

/** Numbers that mean no bar (-1, Infinity) stay as they are. */
const moved = (bar: number, lead: number): number => (bar < 0 ? bar : bar - lead);

interface Happened {
  readonly orders: readonly Order[];
  readonly fills: readonly Fill[];
  readonly trades: readonly Trade[];
  readonly log: readonly LogLine[];
  readonly notes: readonly ChartNote[];
}

/** Changes the objects themselves: a run is reported once, when it is over. Bars of other instruments have numbers of their own. */
export function numberFromPeriod({ orders, fills, trades, log, notes }: Happened, leadOf: (symbol: string) => number): void {
  const own = leadOf("");
  for (const trade of trades as Changeable<Trade>[]) {
    const lead = leadOf(trade.symbol);
    trade.entryBar = moved(trade.entryBar, lead);
    trade.exitBar = moved(trade.exitBar, lead);
    trade.rails = trade.rails.map((rail) => ({ ...rail, barIndex: moved(rail.barIndex, lead) }));
  }
  for (const order of orders as Changeable<Order>[]) {
    order.submittedBar = moved(order.submittedBar, own);
    order.fillBar = moved(order.fillBar, own);
    order.endBar = moved(order.endBar, own);
    order.expiresBar = moved(order.expiresBar, own);
  }
  for (const fill of fills as Changeable<Fill>[]) fill.barIndex = moved(fill.barIndex, own);
  for (const line of log as Changeable<LogLine>[]) line.barIndex = moved(line.barIndex, own);
  for (const note of notes as Changeable<ChartNote>[]) note.barIndex = moved(note.barIndex, own);
}
