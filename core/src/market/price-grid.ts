/**
 * The grid of prices that an instrument can trade at. Prices are doubles; on-grid prices are always the double nearest
 * to the decimal number (0.3, never 0.30000000000000004), so that equal prices compare equal.
 */

/** How far from a grid point, in ticks, a price still counts as on it: rounding noise, not a price of its own. */
const TOLERANCE_TICKS = 1e-6;

export type Rounding = "up" | "down" | "nearest";

/** The price of `ticks` whole ticks. Exact for ticks such as 0.05, where `n * tick` is not. */
export function priceOfTicks(ticks: number, tickSize: number): number {
  const perUnit = Math.round(1 / tickSize);
  return Math.abs(perUnit * tickSize - 1) < 1e-12 ? ticks / perUnit : ticks * tickSize;
}

/** `price` put on the grid of `tickSize` in the given direction. */
export function toGrid(price: number, tickSize: number, rounding: Rounding): number {
  const ticks = price / tickSize;
  const nearest = Math.round(ticks);
  if (rounding === "nearest" || Math.abs(ticks - nearest) < TOLERANCE_TICKS) return priceOfTicks(nearest, tickSize);
  return priceOfTicks(rounding === "up" ? Math.ceil(ticks) : Math.floor(ticks), tickSize);
}

/** Whether `price` lies on the grid of `tickSize`. */
export function isOnGrid(price: number, tickSize: number): boolean {
  const ticks = price / tickSize;
  return Math.abs(ticks - Math.round(ticks)) < TOLERANCE_TICKS;
}
