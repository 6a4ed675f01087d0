/** Words of a blend. */
import type { BlendDays, BlendFall, BlendWeighting } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { units } from "../../lib/format.ts";
import { nameOf } from "../compare/names.ts";
import type { MemberFacts } from "./use-members.ts";

export const WEIGHTING_WORDS: Readonly<Record<BlendWeighting, string>> = {
  "by hand": "by hand",
  "as they ran": "as they ran",
  "equal drawdown": "to equal drawdown",
  "equal volatility": "to equal volatility",
  "equal contribution to risk": "to equal contribution to risk",
  "lowest correlation": "for the lowest correlation",
  "greatest return over drawdown": "for the greatest return over drawdown",
};

export const BLEND_FALL_WORDS: Readonly<Record<BlendFall, string>> = {
  measured: "as it was",
  "days 95": "in 95 % of resampled days",
  "days 99": "in 99 % of resampled days",
};

export const BLEND_DAYS_WORDS: Readonly<Record<BlendDays, string>> = {
  shared: "the days on which all ran",
  all: "every day on which any ran",
};

/** Written out where a sentence counts. */
const COUNTS = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];
export const countWord = (count: number): string => COUNTS[count] ?? String(count);

/** The plan's title; where several members have it, with the name under which the run was kept. */
export function memberNames(members: readonly { readonly runId: string }[], facts: readonly (MemberFacts | null)[]): string[] {
  const titles = facts.map((one) => one?.run.title);
  return members.map(({ runId }, k) => {
    const run = facts[k]?.run;
    if (!run) return `Run ${runId}`;
    return titles.filter((title) => title === run.title).length > 1 ? nameOf(run) : run.title;
  });
}
export const memberMarket = ({ run: { settings } }: MemberFacts): string => `${settings.symbol} ${timeframeLabel(settings.timeframe)}`;

/** "3 units", "2 × its run". */
export const sizeWords = (size: number, { base }: Pick<MemberFacts, "base">): string =>
  base === null ? `${units(size)} × its run` : `${units(size)} ${size === 1 ? "unit" : "units"}`;
