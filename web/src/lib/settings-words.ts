/** Settings of a run and facts of an instrument in words. */
import { costsOfRun, type RunSettings } from "@plan-tester/contract";
import type { Instrument } from "@plan-tester/core";
import { number } from "./format.ts";

/** "market costs", "2 × custom costs", "market costs, other ones for ORM". */
export function costsWords({ costs, costsScale = 1, costsFor = {}, symbol, alsoOn }: CostSettings): string {
  const kind = costs === "market" ? "market costs" : costs === "none" ? "no costs" : "custom costs";
  const apart = [symbol, ...alsoOn].filter((one) => one in costsFor);
  return `${costsScale === 1 ? kind : `${costsScale} × ${kind}`}${apart.length > 0 ? `, other ones for ${apart.join(", ")}` : ""}`;
}

type CostSettings = Pick<RunSettings, "costs" | "costsScale" | "costsFor" | "symbol" | "alsoOn">;

/** "2.80 XSC per unit and side", or "none". */
export function commissionWords({ costs, currency }: Pick<Instrument, "costs" | "currency">): string {
  const parts = [
    costs.commissionPerOrder > 0 && `${number(costs.commissionPerOrder, 2)} ${currency} per order`,
    costs.commissionPerUnit > 0 && `${number(costs.commissionPerUnit, 2)} ${currency} per unit and side`,
    costs.commissionPercent > 0 && `${number(costs.commissionPercent, 3)} % of value`,
    costs.commissionMinimum > 0 && `at least ${number(costs.commissionMinimum, 2)} ${currency}`,
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : "none";
}

/** What an instrument pays by a run's settings, in one line. */
export function paidWords(settings: RunSettings, instrument: Instrument): string {
  const costs = costsOfRun(settings, instrument);
  const { currency } = instrument;
  return `commission ${commissionWords({ costs, currency })}, spread ${number(costs.spreadTicks, 1)} and slippage ${number(costs.slippageTicks, 1)} ticks`;
}
