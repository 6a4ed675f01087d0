/** What a fill costs, and where a distance puts an exit. */
import type { Costs, Instrument } from "../market/instrument.ts";
import { toGrid } from "../market/price-grid.ts";
import type { Distance, Side } from "./orders.ts";

/** Commission of one fill in account currency (R5.4). `pointValue` is account currency for a move of 1.0. */
export function commissionOf(costs: Costs, quantity: number, price: number, pointValue: number): number {
  const plain =
    costs.commissionPerOrder +
    costs.commissionPerUnit * quantity +
    (costs.commissionPercent / 100) * Math.abs(price) * quantity * pointValue;
  return Math.max(plain, costs.commissionMinimum);
}

/** What a distance is measured against: the entry fill, the lot's quantity, the money of a point and the initial risk. */
export interface EntryFacts {
  readonly price: number;
  readonly side: Side;
  readonly quantity: number;
  /** Account currency for a move of 1.0 of one unit. */
  readonly pointValue: number;
  /** Price units to the first stop; NaN while unknown. */
  risk: number;
}

/**
 * The price move of a distance, in price units and in favour of the position: an absolute price gives the signed way
 * from the entry to it. NaN where the distance needs a risk that is not known.
 */
export function moveOf(distance: Distance, entry: EntryFacts, instrument: Instrument): number {
  const { value } = distance;
  switch (distance.unit) {
    case "points":
      return value;
    case "ticks":
      return value * instrument.tickSize;
    case "pips":
      return value * instrument.pipSize;
    case "percent":
      return (value / 100) * entry.price;
    case "money":
      return value / (entry.quantity * entry.pointValue);
    case "money per unit":
      return value / entry.pointValue;
    case "R":
      return value * entry.risk;
    case "price":
      return (value - entry.price) * entry.side;
  }
}

/**
 * Level of an attached exit on the grid (R1.4: buy stops and sell limits up, sell stops and buy limits down).
 * `direction` is 1 for a target (in favour) and -1 for a stop (against).
 */
export function exitLevel(distance: Distance, direction: 1 | -1, entry: EntryFacts, instrument: Instrument): number {
  const raw = distance.unit === "price" ? distance.value : entry.price + entry.side * direction * moveOf(distance, entry, instrument);
  return toGrid(raw, instrument.tickSize, entry.side * direction > 0 ? "up" : "down");
}

/** Units on the quantity step, rounded down (R3.10). A tolerance keeps 0.3 / 0.1 at three steps. */
export function roundQuantity(quantity: number, instrument: Pick<Instrument, "quantityStep">): number {
  const steps = Math.floor(quantity / instrument.quantityStep + 1e-9);
  const perUnit = Math.round(1 / instrument.quantityStep);
  return Math.abs(perUnit * instrument.quantityStep - 1) < 1e-12 ? steps / perUnit : steps * instrument.quantityStep;
}
