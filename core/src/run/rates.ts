/** How the money of several instruments becomes that of one account. */
import type { Book } from "../engine/book.ts";
import type { RateSource } from "../engine/rates.ts";
import type { EngineSettings } from "../engine/settings.ts";
import { PlanTesterError } from "../errors.ts";
import type { Instrument } from "../market/instrument.ts";

/**
 * Account money for a move of one price unit of one unit of an instrument, at the last prices. A rate whose price is not known
 * yet counts as 1, as in a run before its first close.
 * @param instruments those of the account, its own first @param priceOf undefined before there is a price
 */
export function pointMoneyAt(
  symbol: string,
  instruments: readonly Instrument[],
  settings: Pick<EngineSettings, "currency" | "conversions">,
  priceOf: (symbol: string) => number | undefined,
): number {
  const { currency, pointValue } = instruments.find((instrument) => instrument.symbol === symbol)!;
  const conversion = settings.conversions[currency];
  if (currency === (settings.currency || instruments[0]!.currency) || conversion === undefined) return pointValue;
  if (typeof conversion === "number") return conversion * pointValue;
  const price = priceOf(conversion.symbol) ?? 1;
  return pointValue * (conversion.inverse ? 1 / price : price);
}

/** How each instrument's money becomes the account's: fixed rates are set at once, others follow a feed. */
export function ratesOf(instruments: readonly Instrument[], settings: EngineSettings, books: readonly Book[]): (RateSource | null)[] {
  const own = settings.currency || instruments[0]!.currency;
  return instruments.map((instrument, k) => {
    if (instrument.currency === own) return null;
    const conversion = settings.conversions[instrument.currency];
    if (conversion === undefined)
      throw new PlanTesterError(
        "bad-settings",
        `${instrument.symbol} is paid in ${instrument.currency} and the account is kept in ${own}: give a conversion for ${instrument.currency}, a rate or an instrument.`,
        { currency: instrument.currency },
      );
    if (typeof conversion === "number") {
      if (!(conversion > 0))
        throw new PlanTesterError("bad-settings", `The rate of ${instrument.currency} is ${conversion}; it must be above 0.`, {});
      books[k]!.rate = conversion;
      return null;
    }
    const feed = instruments.findIndex((candidate) => candidate.symbol === conversion.symbol);
    if (feed < 0)
      throw new PlanTesterError(
        "bad-settings",
        `${instrument.currency} is converted by ${conversion.symbol}, which is not an instrument of this run: add it.`,
        { symbol: conversion.symbol },
      );
    return { feed, inverse: conversion.inverse };
  });
}
