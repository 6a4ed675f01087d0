/** A distance of prices in the units in which traders count. */
import type { Instrument } from "./instrument.ts";

export const PRICE_UNITS = ["points", "ticks", "pips", "percent", "money"] as const;
export type PriceUnit = (typeof PRICE_UNITS)[number];

type Facts = Pick<Instrument, "tickSize" | "pipSize" | "pointValue">;

/** One of a unit, in points of price. @param price of which a percent is one @param quantity whose money it is */
function pointsIn(unit: PriceUnit, { tickSize, pipSize, pointValue }: Facts, price: number, quantity: number): number {
  return { points: 1, ticks: tickSize, pips: pipSize, percent: price / 100, money: 1 / (pointValue * quantity) }[unit];
}

/** The same distance in every unit. */
export function inUnits(
  amount: number,
  unit: PriceUnit,
  facts: Facts,
  price: number,
  quantity: number,
): Readonly<Record<PriceUnit, number>> {
  const points = amount * pointsIn(unit, facts, price, quantity);
  return Object.fromEntries(
    PRICE_UNITS.map((one) => [one, one === unit ? amount : points / pointsIn(one, facts, price, quantity)]),
  ) as unknown as Record<PriceUnit, number>;
}
