/** How many units an entry asks for (R6). The answer is a quantity on the step, or the reason there is none. */
import type { Instrument } from "../market/instrument.ts";
import { moveOf, roundQuantity } from "./money.ts";
import type { Distance } from "./orders.ts";

export type Size =
  | { readonly by: "units"; readonly value: number }
  /** Notional as percent of equity. */
  | { readonly by: "equity percent"; readonly value: number }
  /** Percent of equity lost when the attached stop is hit. */
  | { readonly by: "risk percent"; readonly value: number };

export interface SizingFacts {
  readonly equity: number;
  /** The order's price, or for a market order the last known close. */
  readonly price: number;
  readonly stopLoss: Distance | null;
}

export type Sized = { readonly quantity: number; readonly refusal: null } | { readonly quantity: 0; readonly refusal: string };

const refuse = (refusal: string): Sized => ({ quantity: 0, refusal });

/** The quantity of an order, rounded down to the step; a refusal names the field, the value and the rule. */
export function sizeOrder(size: Size, facts: SizingFacts, instrument: Instrument): Sized {
  if (!Number.isFinite(size.value) || size.value <= 0) return refuse(`size ${size.value} is not above 0`);
  const wanted = unitsOf(size, facts, instrument);
  if (typeof wanted === "string") return refuse(wanted);
  const quantity = roundQuantity(wanted, instrument);
  if (quantity < instrument.minQuantity)
    return refuse(
      `quantity ${Number(wanted.toPrecision(6))} rounds down to ${quantity}, below the minimum of ${instrument.minQuantity} (R3.10)`,
    );
  return { quantity, refusal: null };
}

function unitsOf(size: Size, facts: SizingFacts, instrument: Instrument): number | string {
  const share = (size.value / 100) * facts.equity;
  if (size.by === "units") return size.value;
  if (facts.equity <= 0) return `equity ${facts.equity.toFixed(2)} leaves nothing to size by`;
  if (size.by === "equity percent") return share / (facts.price * instrument.pointValue);
  if (!facts.stopLoss) return "size by risk needs a stop loss on the same order";
  if (facts.stopLoss.unit === "money")
    return "size by risk needs a stop distance in price, ticks or percent: a money stop depends on the size";
  const move =
    facts.stopLoss.unit === "price" ? Math.abs(facts.price - facts.stopLoss.value) : moveOf(facts.stopLoss, facts.price, 1, instrument);
  if (!(move > 0)) return `the stop loss is ${move} away from the entry, so the risk of a unit is not known`;
  return share / (move * instrument.pointValue);
}
