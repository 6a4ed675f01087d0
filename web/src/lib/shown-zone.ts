/** In which zone moments are shown: each in that of its exchange, or all in one. Sessions, hours of trade and what is saved to files stay those of the exchange. */
import { useCallback } from "react";
import { HERE } from "./format.ts";
import { remembered, useRemembered } from "./site-data.ts";
import { ZONES } from "./zones.ts";

/** Each in that of its exchange. */
export const OF_EXCHANGE = "";
const KEY = "shown zone";

export const chooseZone = (zone: string): void => remembered.setItem(KEY, zone);

/** A zone that the browser does not know is none. */
export function useChosenZone(): string {
  const zone = useRemembered(KEY) ?? OF_EXCHANGE;
  return zone === HERE || ZONES.includes(zone) ? zone : OF_EXCHANGE;
}

/** The zone in which moments of an exchange are shown. */
export function useShownZone(): (exchange: string) => string {
  const chosen = useChosenZone();
  return useCallback((exchange) => chosen || exchange, [chosen]);
}
