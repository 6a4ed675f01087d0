/** The markets, and what of one is asked for everywhere. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { COMMON_TIMEFRAMES, DAY_MS, type Instrument, nominalMs } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { queries } from "./queries.ts";

const NONE: readonly Market[] = [];

/** All markets; none while they are not loaded. */
export const useMarkets = (): readonly Market[] => useQuery(queries.markets()).data ?? NONE;

export const marketOf = (markets: readonly Market[], symbol: string): Market | undefined =>
  markets.find(({ instrument }) => instrument.symbol === symbol);

export const instrumentOf = (markets: readonly Market[], symbol: string): Instrument | undefined => marketOf(markets, symbol)?.instrument;

/** Decimals of an instrument's prices; 2 while it is not known. */
export function useDecimals(): (symbol: string) => number {
  const markets = useMarkets();
  return useCallback((symbol) => instrumentOf(markets, symbol)?.decimals ?? 2, [markets]);
}

export const zoneOf = (markets: readonly Market[], symbol: string): string => instrumentOf(markets, symbol)?.calendar.zone ?? "UTC";

/** Timeframes that bars of a market can be shown in: none finer than what it has. */
export const offeredTimeframes = (market: Market | undefined): readonly string[] =>
  COMMON_TIMEFRAMES.filter((timeframe) => nominalMs(timeframe) >= nominalMs(market?.timeframe ?? "1m"));

/** Currency that a run's account is kept in: its own setting, or that of the plan's own instrument. */
export const accountCurrency = ({ currency, symbol }: Pick<RunSettings, "currency" | "symbol">, markets: readonly Market[]): string =>
  currency || (instrumentOf(markets, symbol)?.currency ?? "");

/** Of the demo world's own currency its name, of others the code. */
export const currencyWord = (currency: string): string => (currency === "XSC" ? "crowns" : currency);

const YEAR_MS = 365 * DAY_MS;

/** A period as far as an instrument has bars in it; where it has none, the last year that it has. */
export function coveredPeriod(
  { from, to }: Pick<RunSettings, "from" | "to">,
  { firstDate, lastDate }: Pick<Market, "firstDate" | "lastDate">,
): Pick<RunSettings, "from" | "to"> {
  if (from <= lastDate && to >= firstDate) return { from: from < firstDate ? firstDate : from, to: to > lastDate ? lastDate : to };
  const yearBefore = new Date(Date.parse(`${lastDate}T00:00:00Z`) - YEAR_MS).toISOString().slice(0, 10);
  return { from: yearBefore < firstDate ? firstDate : yearBefore, to: lastDate };
}
