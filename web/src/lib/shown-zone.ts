/** In which zone moments are shown: each in that of its exchange, or all in one. Sessions and hours of trade stay those of the exchange. */
import { useCallback, useSyncExternalStore } from "react";
import { HERE } from "./format.ts";
import { remembered } from "./site-data.ts";
import { ZONES } from "./zones.ts";

/** Each in that of its exchange. */
export const OF_EXCHANGE = "";
const KEY = "shown zone";
const listeners = new Set<() => void>();

/** A zone that the browser does not know is none. */
export function chosenZone(): string {
  const zone = remembered.getItem(KEY) ?? OF_EXCHANGE;
  return zone === HERE || ZONES.includes(zone) ? zone : OF_EXCHANGE;
}

export function chooseZone(zone: string): void {
  remembered.setItem(KEY, zone);
  for (const listener of listeners) listener();
}

export const useChosenZone = (): string =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, chosenZone);

/** The zone in which moments of an exchange are shown. */
export function useShownZone(): (exchange: string) => string {
  const chosen = useChosenZone();
  return useCallback((exchange) => chosen || exchange, [chosen]);
}
