import type { WatchPosition } from "@plan-tester/contract";
import { priceText, units } from "../../lib/format.ts";

/** A position in words. */
export const positionText = (
  { symbol, units: held, entryPrice }: Pick<WatchPosition, "symbol" | "units" | "entryPrice">,
  decimals: number,
): string => `${held > 0 ? "long" : "short"} ${units(Math.abs(held))} ${symbol} at ${priceText(entryPrice, decimals)}`;
