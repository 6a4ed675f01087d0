/** What the out-of-sample days of a walk-forward earned, put one after the other: days that no choice had seen. */
import type { RunEvidence } from "@plan-tester/contract";
import { dailyReturns, earnedOn, LEAST_DAYS, MOST_P } from "@plan-tester/core";
import { count, number, percent } from "../../lib/format.ts";

/** Where no calendar says how many sessions a year has. */
const SESSIONS_A_YEAR = 252;

export function stitchedWords({ daily, figures }: Pick<RunEvidence, "daily" | "figures">): string {
  const days = dailyReturns(Float64Array.from(daily.equity));
  const found = earnedOn(days, figures.sessionsPerYear ?? SESSIONS_A_YEAR);
  if (!found)
    return `${count(days.length, "session")} out-of-sample tell nothing of how much of it is luck: ${LEAST_DAYS} that vary are needed.`;
  const { aYear, ratio, p } = found;
  const meaning =
    p <= MOST_P
      ? "days that earn nothing seldom come to as much"
      : "days that earn nothing come to as much too often for it to be believed";
  return `On ${count(days.length, "session")} that no choice had seen it made ${percent(aYear, 1)} a year, a Sharpe ratio of ${number(ratio, 2)} (p ${p < 0.001 ? "under 0.001" : number(p, 3)}, one-sided t): ${meaning}.`;
}
