/** In what the evidence that is shown was made otherwise than the Bench would make it now. */
import { PLAIN_SETTINGS, type RunEvidence, type RunSettings } from "@plan-tester/contract";
import { hashKey } from "@tanstack/react-query";
import type { Draft } from "./use-draft.ts";

type Made = Pick<RunEvidence, "source" | "inputs" | "inputSpecs" | "settings">;

/** What each setting is called on the Bench; all others are of the account. */
const WORDS: Partial<Record<keyof RunSettings, string>> = {
  symbol: "instrument",
  alsoOn: "instrument",
  timeframe: "timeframe",
  from: "period",
  to: "period",
  costs: "costs",
  costsScale: "costs",
  costsFor: "costs",
  path: "path",
  kit: "exit kit",
  testPosition: "test position",
};

/** Equal whatever the order of their keys. */
const same = (one: unknown, other: unknown): boolean => hashKey([one ?? null]) === hashKey([other ?? null]);

/** What differs, in the words of the Bench and in its order: "program", "inputs", "instrument" and so on. Empty where nothing does. */
export function draftDifferences(made: Made, draft: Draft): string[] {
  const [then, now]: RunSettings[] = [
    { ...PLAIN_SETTINGS, ...made.settings },
    { ...PLAIN_SETTINGS, ...draft.settings },
  ];
  // A run has the days alone; of what moves they are compared.
  const settings = (Object.keys(now!) as (keyof RunSettings)[])
    .filter((key) => key !== "period" && !same(then![key], now![key]))
    .map((key) => WORDS[key] ?? "account");
  const hasOtherInputs = made.inputSpecs.some(({ name, default: usual }) => !same(made.inputs[name], draft.inputs[name] ?? usual));
  return [...new Set([...(made.source === draft.source ? [] : ["program"]), ...(hasOtherInputs ? ["inputs"] : []), ...settings])];
}
