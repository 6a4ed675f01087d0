/** Warnings that come from around a run: what its history was used for, and how old its data are. */
import type { Market, RunEvidence, TrialContext } from "@plan-tester/contract";
import { DAY_MS } from "@plan-tester/core";
import { count, dateWords, number } from "../../lib/format.ts";
import { choosingOn } from "../trust/spent.ts";

export interface Surrounding {
  readonly code: string;
  readonly text: string;
  readonly advice: string;
}

const OLD_DAYS = 30;

export function surroundings(
  run: RunEvidence,
  market: Market | undefined,
  context: TrialContext | undefined,
  nowMs: number,
): Surrounding[] {
  const found: Surrounding[] = [];
  const spent = context ? choosingOn(context, run.settings) : [];
  if (spent.length > 0 && !run.walkForwardId)
    found.push({
      code: "spent",
      text: `Spent history: ${number(spent.reduce((sum, { variants }) => sum + variants, 0))} variants were compared on this period`,
      advice: `Sweeps or walk-forwards have used ${dateWords(spent[0]!.from)} to ${dateWords(spent[0]!.to)}${spent.length > 1 ? ` and ${count(spent.length - 1, "other period", "other periods")}` : ""}. What was chosen there looks better there. Judge it on a period that nothing was chosen on; Trust counts the trials.`,
    });
  const age = market && market.origin === "import" ? (nowMs - market.lastMs) / DAY_MS : 0;
  if (age > OLD_DAYS)
    found.push({
      code: "old data",
      text: `Its data are ${number(age)} days old`,
      advice: "The market may have changed since. Import what has come after before you trade on it.",
    });
  return found;
}
