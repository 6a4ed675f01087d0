/** What a fill costs, and where a distance puts an exit. */
import type { Costs, Instrument } from "../market/instrument.ts";
import { toGrid } from "../market/price-grid.ts";
import type { Distance, Side } from "./orders.ts";

/** Commission of one fill in account currency (R5.4). */
export function commissionOf(costs: Costs, quantity: number, price: number, pointValue: number): number {
  const plain =
    costs.commissionPerOrder + costs.commissionPerUnit * quantity + (costs.commissionPercent / 100) * price * quantity * pointValue;
  return Math.max(plain, costs.commissionMinimum);
}

/** The price move of a distance, in price units, seen from an entry fill. NaN for an absolute price. */
export function moveOf(distance: Distance, entryPrice: number, quantity: number, instrument: Instrument): number {
  switch (distance.unit) {
    case "ticks":
      return distance.value * instrument.tickSize;
    case "percent":
      return (distance.value / 100) * entryPrice;
    case "money":
      return distance.value / (quantity * instrument.pointValue);
    case "price":
      return Number.NaN;
  }
}

/**
 * Level of an attached exit on the grid (R1.4: buy stops and sell limits up, sell stops and buy limits down).
 * `direction` is 1 for a target (in favour) and -1 for a stop (against).
 */
export function exitLevel(
  distance: Distance,
  side: Side,
  direction: 1 | -1,
  entryPrice: number,
  quantity: number,
  instrument: Instrument,
): number {
  const raw =
    distance.unit === "price" ? distance.value : entryPrice + side * direction * moveOf(distance, entryPrice, quantity, instrument);
  return toGrid(raw, instrument.tickSize, side * direction > 0 ? "up" : "down");
}

/** Units on the quantity step, rounded down (R3.10). A tolerance keeps 0.3 / 0.1 at three steps. */
export function roundQuantity(quantity: number, instrument: Instrument): number {
  const steps = Math.floor(quantity / instrument.quantityStep + 1e-9);
  const perUnit = Math.round(1 / instrument.quantityStep);
  return Math.abs(perUnit * instrument.quantityStep - 1) < 1e-12 ? steps / perUnit : steps * instrument.quantityStep;
}
