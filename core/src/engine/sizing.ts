/** How many units an entry asks for (R6). The answer is a quantity on the step, or the reason there is none. */
import type { Instrument } from "../market/instrument.ts";
import { moveOf, roundQuantity } from "./money.ts";
import type { Distance, Side } from "./orders.ts";

export type Size =
  | { readonly by: "units"; readonly value: number }
  /** Notional as percent of equity. */
  | { readonly by: "equity percent"; readonly value: number }
  /** Percent of equity, or money, lost when the attached stop is hit. */
  | { readonly by: "risk percent"; readonly value: number }
  | { readonly by: "risk money"; readonly value: number }
  /** `value` units for every full `step` of balance. */
  | { readonly by: "balance step"; readonly value: number; readonly step: number }
  /** Percent of equity that a move of `move` price units (a day's usual range, say) makes or loses. */
  | { readonly by: "volatility percent"; readonly value: number; readonly move: number };

export interface SizingFacts {
  readonly side: Side;
  readonly equity: number;
  /** Cash without open profit. */
  readonly balance: number;
  /** The order's price, or for a market order the last known close. */
  readonly price: number;
  readonly stopLoss: Distance | null;
  /** Account currency for a move of 1.0 of one unit. */
  readonly pointMoney: number;
  readonly maxQuantity: number | null;
}

export type Sized =
  | { readonly quantity: number; readonly refusal: null; readonly cut: string }
  | { readonly quantity: 0; readonly refusal: string; readonly cut: "" };

const refuse = (refusal: string): Sized => ({ quantity: 0, refusal, cut: "" });

/** The quantity of an order, rounded down to the step; a refusal, and a cut, names the field, the value and the rule. */
export function sizeOrder(size: Size, facts: SizingFacts, instrument: Instrument): Sized {
  if (!Number.isFinite(size.value) || size.value <= 0) return refuse(`size ${size.value} is not above 0`);
  const wanted = unitsOf(size, facts, instrument);
  if (typeof wanted === "string") return refuse(wanted);
  const { maxQuantity } = facts;
  const isCut = maxQuantity !== null && wanted > maxQuantity;
  const quantity = roundQuantity(isCut ? maxQuantity : wanted, instrument);
  if (quantity < instrument.minQuantity)
    return refuse(
      `quantity ${Number(wanted.toPrecision(6))} rounds down to ${quantity}, below the minimum of ${instrument.minQuantity} (R3.10)`,
    );
  if (isCut) return { quantity, refusal: null, cut: `quantity ${Number(wanted.toPrecision(6))} is cut to the maximum of ${quantity} (R6)` };
  const isRounded = size.by === "units" && Math.abs(quantity - wanted) > instrument.quantityStep * 1e-6;
  return { quantity, refusal: null, cut: isRounded ? `quantity ${wanted} is rounded down to ${quantity} (R3.10)` : "" };
}

function unitsOf(size: Size, facts: SizingFacts, instrument: Instrument): number | string {
  const { equity, balance, price, pointMoney } = facts;
  if (size.by === "units") return size.value;
  if (size.by === "balance step") {
    if (!(size.step > 0)) return `balance step ${size.step} is not above 0`;
    // A hair, so that a balance of exactly three steps makes three.
    return size.value * Math.floor(balance / size.step + 1e-9);
  }
  const share = size.by === "risk money" ? size.value : (size.value / 100) * equity;
  if (!(share > 0)) return `equity ${equity.toFixed(2)} leaves nothing to size by`;
  if (size.by === "equity percent") return share / (price * pointMoney);
  if (size.by === "volatility percent")
    return size.move > 0 ? share / (size.move * pointMoney) : `the move to size by is ${size.move}; it must be above 0`;
  return share / riskOfUnit(facts, instrument) || "size by risk needs a stop loss on the same order, at a distance from it that is known";
}

/** Money that one unit loses at the attached stop; Infinity divides to 0 where that can't be known. */
function riskOfUnit({ side, price, stopLoss, pointMoney }: SizingFacts, instrument: Instrument): number {
  if (!stopLoss || stopLoss.unit === "money" || stopLoss.unit === "R") return Number.POSITIVE_INFINITY;
  const move = Math.abs(moveOf(stopLoss, { price, side, quantity: 1, pointValue: pointMoney, risk: Number.NaN }, instrument));
  return move > 0 ? move * pointMoney : Number.POSITIVE_INFINITY;
}
