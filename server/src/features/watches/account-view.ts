/** What a watch has at the venue, as it is shown: positions, working orders, and what becomes of them when it ends. */
import type { WatchOrder, WatchPosition } from "@plan-tester/contract";
import type { AccountReport, PlanCommand } from "@plan-tester/core";

/**
 * @param pointMoneyOf account money for a move of one price unit of one unit
 * @param priceOf the last price of an instrument; undefined before there is one
 */
export function positionsOf(
  account: AccountReport,
  pointMoneyOf: (symbol: string) => number,
  priceOf: (symbol: string) => number | undefined,
): WatchPosition[] {
  return account.books.flatMap(({ symbol, lots }) => {
    const [first] = lots;
    if (!first) return [];
    const pointMoney = pointMoneyOf(symbol);
    const price = priceOf(symbol);
    const units = lots.reduce((sum, lot) => sum + lot.side * lot.quantity, 0);
    const gross = lots.reduce((sum, lot) => sum + lot.quantity, 0);
    const entryPrice = lots.reduce((sum, lot) => sum + lot.quantity * lot.entryPrice, 0) / gross;
    const moved = price === undefined ? 0 : lots.reduce((sum, lot) => sum + lot.side * lot.quantity * (price - lot.entryPrice), 0);
    const profit = moved * pointMoney;
    const risk = lots.reduce((sum, lot) => sum + (lot.riskPerUnit ?? Number.NaN) * lot.quantity, 0) * pointMoney;
    const value = Math.abs(units) * (price ?? entryPrice) * pointMoney;
    return [{ symbol, units, entryPrice, value, stop: first.stop, target: first.target, profit, r: risk > 0 ? profit / risk : null }];
  });
}

/** Whether anything is open or waits. */
export const isHolding = (account: AccountReport | null): boolean =>
  account?.books.some(({ lots, orders }) => lots.length + orders.length > 0) ?? false;

/** JSON has no NaN and no infinity: such a number is null. */
export const orNull = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** Orders that wait or work; what one does not have is null. */
export const ordersOf = (account: AccountReport): WatchOrder[] =>
  account.books.flatMap(({ symbol, orders }) =>
    orders.map((order) => ({
      ...order,
      symbol,
      ...{ quantity: orNull(order.quantity), price: orNull(order.price), limitPrice: orNull(order.limitPrice) },
      ...{ expiresBar: orNull(order.expiresBar), expiresTime: orNull(order.expiresTime) },
      ...{ fillPrice: orNull(order.fillPrice), fillTime: orNull(order.fillTime) },
    })),
  );

/** How a watch leaves what it has open (R8.5). */
export interface Leave {
  readonly commands: readonly PlanCommand[];
  /** In words, by instrument; whether it is left without a stop. */
  readonly left: readonly { readonly text: string; readonly isBare: boolean }[];
}

/** Entries are cancelled; bare, every exit, stop and target too. */
export function leaving(account: AccountReport, isBare: boolean): Leave {
  const commands: PlanCommand[] = [];
  const left: { text: string; isBare: boolean }[] = [];
  for (const { symbol, lots, orders } of account.books) {
    for (const { id, intent } of orders)
      if (id > 0 && (isBare || intent !== "exit"))
        commands.push({ kind: "cancel", symbol, orderId: id, note: "the watch has ended", isExpiry: false });
    if (isBare && lots.length > 0)
      for (const which of ["stop", "target"] as const) commands.push({ kind: "exits", symbol, which, price: null, mayLoosen: true });
    const bare = lots.filter(({ stop }) => isBare || stop === null).reduce((sum, { side, quantity }) => sum + side * quantity, 0);
    if (bare !== 0) left.push({ text: `${bare} ${symbol} are left open without a stop`, isBare: true });
    else if (lots.length > 0) left.push({ text: `what is open of ${symbol} stays at the venue with its stop`, isBare: false });
  }
  return { commands, left };
}
