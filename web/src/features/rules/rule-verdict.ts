/** What each rule earns, in words. */
import type { RuleAnswer } from "@plan-tester/contract";
import { MOST_AS_GOOD } from "@plan-tester/core";
import { count, number, percent, signed } from "../../lib/format.ts";

export const yearly = (share: number): string => `${signed(100 * share, 1)} %`;

export type Standing = "earns" | "costs" | "nothing" | "open";

export interface RuleVerdict {
  readonly standing: Standing;
  readonly text: string;
}

/** A rule earns only where both the band and the placebos say so; without placebos that stays open. */
export function ruleVerdict({ low, high, share, asGood, placebos, earns, keptOut, letIn }: RuleAnswer): RuleVerdict {
  const asWell = `${number(asGood)} of ${count(placebos, "placebo")} did as well`;
  if (keptOut.trades + letIn.trades === 0 && low === 0 && high === 0)
    return { standing: "nothing", text: "Changes nothing: without it the same trades were made." };
  if (high < 0) return { standing: "costs", text: "Costs money: the plan did better without it." };
  if (earns) return { standing: "earns", text: `Earns: its band is above 0, and ${asGood === 0 ? "no placebo did" : `only ${asWell}`}.` };
  if (low > 0 && share === null) return { standing: "open", text: "May earn: its band is above 0. Placebos have not been asked." };
  if (share !== null && share > MOST_AS_GOOD)
    return {
      standing: "nothing",
      text: `Nothing beyond its placebos: ${asWell}${low > 0 ? ", so that keeping trades out at other times helps as much" : ""}.`,
    };
  return {
    standing: "nothing",
    text: `Nothing that stands out from chance: its band reaches from ${yearly(low)} to ${yearly(high)}${share === null ? "" : `, though only ${percent(share, 0)} of placebos can be expected to do as well`}.`,
  };
}
