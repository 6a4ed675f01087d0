/** An instrument of a user's file, with what it leaves out filled in. */
import { ALWAYS_OPEN, type Instrument, NO_COSTS } from "@plan-tester/core";
import { type InstrumentFile, instrumentSchema } from "./schemas.ts";
import { check } from "./validate.ts";

function decimalsOf(tickSize: number): number {
  for (let decimals = 0; decimals <= 10; decimals++)
    if (Math.abs(Math.round(tickSize * 10 ** decimals) - tickSize * 10 ** decimals) < 1e-9) return decimals;
  return 10;
}

/** @throws PlanTesterError bad-input naming the fields that do not fit. */
export function readInstrument(value: unknown): Instrument {
  const file = check<InstrumentFile>(instrumentSchema, value, "the instrument");
  const { calendar } = file;
  return {
    symbol: file.symbol,
    name: file.name || file.symbol,
    class: file.class,
    currency: file.currency,
    tickSize: file.tickSize,
    pipSize: file.pipSize ?? file.tickSize,
    pointValue: file.pointValue,
    decimals: file.decimals ?? decimalsOf(file.tickSize),
    minQuantity: file.minQuantity,
    quantityStep: file.quantityStep,
    calendar: calendar ?? ALWAYS_OPEN,
    costs: { ...NO_COSTS, ...file.costs },
    note: file.note,
  };
}
