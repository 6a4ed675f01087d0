/** What distances mean today: at the last bar of the period that a run would take, for one unit. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { distanceMove, evaluateStudy, type KitDistance, type KitExits, type KitLevelsAt } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo } from "react";
import { seriesOf } from "../../data/bars.ts";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { number } from "../../lib/format.ts";

export interface KitToday extends KitLevelsAt {
  readonly decimals: number;
  readonly currency: string;
}

const Today = createContext<KitToday | null>(null);

export interface KitTodayProps {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly children: ReactNode;
}

export function KitTodayProvider({ settings, markets, children }: KitTodayProps) {
  const { symbol, timeframe, from, to } = settings;
  const instrument = marketOf(markets, symbol)?.instrument;
  const packed = useQuery({ ...queries.bars(symbol, timeframe, from, to), enabled: instrument !== undefined }).data;
  const today = useMemo((): KitToday | null => {
    const price = packed?.columns.close?.at(-1);
    if (!packed || !instrument || price === undefined) return null;
    const bars = seriesOf(packed);
    const known = new Map<string, number>();
    const study = (text: string): number => {
      if (!known.has(text)) known.set(text, lastOf(text, bars));
      return known.get(text)!;
    };
    return { price, quantity: 1, instrument, study, decimals: instrument.decimals, currency: instrument.currency };
  }, [packed, instrument]);
  return <Today.Provider value={today}>{children}</Today.Provider>;
}

/** NaN for a text that can't be read (yet). */
function lastOf(text: string, bars: ReturnType<typeof seriesOf>): number {
  try {
    return evaluateStudy(text, bars).values.at(-1) ?? Number.NaN;
  } catch {
    return Number.NaN;
  }
}

export const useKitToday = (): KitToday | null => useContext(Today);

/** "4.50, 225 XSC a unit"; empty where it can't be told. */
export function distanceWords(distance: KitDistance | null, exits: Pick<KitExits, "stopLoss">, today: KitToday | null): string {
  if (!distance || !today || distance.value === 0) return "";
  const move = distanceMove(distance, exits, today);
  if (!Number.isFinite(move)) return distance.unit === "R" ? "needs a stop loss" : "";
  const money = move * today.instrument.pointValue;
  return `${number(move, today.decimals)}, ${number(money, Math.abs(money) < 10 ? 2 : 0)} ${today.currency} a unit`;
}
