/** Settings and values in short words, the same wherever two trials or two runs are set against each other. */
import { type AccountLimit, type AccountLimits, LIMIT_NAMES } from "@plan-tester/core";
import type { RunSettings } from "./schemas.ts";

const LABELS: Partial<Record<keyof RunSettings, string>> = {
  symbol: "instrument",
  alsoOn: "further instruments",
  path: "paths",
  basis: "price basis",
  kit: "exit kit",
  testPosition: "test position",
  maxQuantity: "largest size",
  maxPositions: "most positions",
  limits: "account limits",
  throughTicks: "through ticks",
  riskFree: "risk-free rate",
};

export const settingLabel = (name: keyof RunSettings): string => LABELS[name] ?? name;

const ACT_WORDS = { "no entries": "no entries that day", flatten: "flat for the day", stop: "stop" } as const;

const limitWords = (name: keyof AccountLimits, { unit, value, act }: AccountLimit): string =>
  `${LIMIT_NAMES[name]} ${value}${unit === "percent" ? " %" : ""} (${ACT_WORDS[act]})`;

/** What an account may lose, in short words; "" where it has no limit. */
export function accountLimitsWords(limits: AccountLimits | null | undefined): string {
  if (!limits) return "";
  const { dailyLoss, drawdown } = limits;
  return [dailyLoss && limitWords("dailyLoss", dailyLoss), drawdown && limitWords("drawdown", drawdown)].filter(Boolean).join(", ");
}

const MOST_VALUE = 40;

/** A value of a setting or an input; of something with a name the name. */
export function valueWords(value: unknown): string {
  if (value === null || value === undefined || value === "") return "none";
  if (Array.isArray(value)) return value.length === 0 ? "none" : value.join(", ");
  if (typeof value === "object") {
    if ("dailyLoss" in value && "drawdown" in value && !("long" in value)) return accountLimitsWords(value as AccountLimits) || "none";
    const { name } = value as { name?: unknown };
    return typeof name === "string" && name ? name : "own";
  }
  return String(value).slice(0, MOST_VALUE);
}
