import { PlanTesterError } from "../errors.ts";
import { describe } from "./columns.ts";

/** @throws PlanTesterError plan-error naming the call, where a price is no number. */
export function checkPrice(price: unknown, verb: string): number {
  if (typeof price !== "number")
    throw new PlanTesterError("plan-error", `${verb} takes its price first, as a number; it got ${describe(price)}.`);
  return price;
}
