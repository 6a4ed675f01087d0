/** Equity of an account at the closes of its bars, from what was traded: for one who kept trades only, such as a watch. */
import { Account } from "../engine/account.ts";
import { Book } from "../engine/book.ts";
import type { Trade } from "../engine/orders.ts";
import { applyRates } from "../engine/rates.ts";
import type { EngineSettings } from "../engine/settings.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { ratesOf } from "./rates.ts";

/** What equity needs of a trade. */
export type Traded = Pick<
  Trade,
  "symbol" | "side" | "quantity" | "entryTime" | "entryPrice" | "exitTime" | "net" | "commission" | "reason"
>;

/**
 * @param feeds bars of each instrument, the one whose closes count first
 * @param trades with net results in account money; one that is still open ends with the last close
 * @returns account money at each close of the first instrument: cash, what closed trades made, and what open ones stand at.
 * Half of a trade's commission counts from its entry on; all of it where the data has ended it, which costs nothing.
 */
export function tradedEquity(
  feeds: readonly { readonly instrument: Instrument; readonly series: BarSeries }[],
  settings: EngineSettings,
  trades: readonly Traded[],
): Float64Array {
  const account = new Account(settings);
  const instruments = feeds.map(({ instrument }) => instrument);
  const books = instruments.map((instrument) => new Book(instrument, account, null));
  const rates = ratesOf(instruments, settings, books);
  const bookOf = new Map(instruments.map(({ symbol }, k) => [symbol, books[k]!]));
  const reached = feeds.map(() => 0);
  const waiting = [...trades].sort((a, b) => b.entryTime - a.entryTime);
  const open: Traded[] = [];
  let made = settings.cash;
  return Float64Array.from(feeds[0]!.series.closeTime, (closeMs) => {
    feeds.forEach(({ series }, k) => {
      while (reached[k]! < series.length && series.closeTime[reached[k]!]! <= closeMs) books[k]!.mark = series.close[reached[k]!++]!;
    });
    applyRates(rates, books);
    // What fills at the next open has the time of this close, and belongs to the next bar.
    while (waiting.length > 0 && waiting.at(-1)!.entryTime < closeMs) open.push(waiting.pop()!);
    let left = 0;
    let value = 0;
    for (const trade of open) {
      if (trade.exitTime < closeMs) {
        made += trade.net;
        continue;
      }
      open[left++] = trade;
      const { mark, pointMoney } = bookOf.get(trade.symbol)!;
      const paid = trade.reason === "end of data" ? trade.commission : trade.commission / 2;
      if (Number.isFinite(mark)) value += trade.side * trade.quantity * (mark - trade.entryPrice) * pointMoney - paid;
    }
    open.length = left;
    return made + value;
  });
}
