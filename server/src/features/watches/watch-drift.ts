/** What a watch has open, and what it did, as legs to be compared with the backtest of its bars. */
import type { AccountReport, DriftLeg, Instrument } from "@plan-tester/core";

/** @param priceOf the last price of an instrument; its entry stands for it before there is one */
export function openLegs(
  account: AccountReport | null,
  instruments: readonly Instrument[],
  priceOf: (symbol: string) => number | undefined,
): DriftLeg[] {
  return (account?.books ?? []).flatMap(({ symbol, lots }) => {
    const pointValue = instruments.find((instrument) => instrument.symbol === symbol)?.pointValue ?? 1;
    return lots.map(({ side, quantity, entryPrice, entryTime, tag }) => {
      const exitPrice = priceOf(symbol) ?? entryPrice;
      const net = side * quantity * (exitPrice - entryPrice) * pointValue;
      return { symbol, side, quantity, entryPrice, entryTime, entryTag: tag, exitPrice, net, exitTime: null, reason: "" };
    });
  });
}
