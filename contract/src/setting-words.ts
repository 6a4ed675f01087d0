/** Settings and values in short words, the same wherever two trials or two runs are set against each other. */
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
  throughTicks: "through ticks",
  riskFree: "risk-free rate",
};

export const settingLabel = (name: keyof RunSettings): string => LABELS[name] ?? name;

const MOST_VALUE = 40;

/** A value of a setting or an input; of something with a name the name. */
export function valueWords(value: unknown): string {
  if (value === null || value === undefined || value === "") return "none";
  if (Array.isArray(value)) return value.length === 0 ? "none" : value.join(", ");
  if (typeof value === "object") {
    const { name } = value as { name?: unknown };
    return typeof name === "string" && name ? name : "own";
  }
  return String(value).slice(0, MOST_VALUE);
}
