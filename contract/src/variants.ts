/** A variant of a plan against the settings of a run. */
import { EMPTY_KIT } from "@plan-tester/core";
import type { Variant } from "./api.ts";
import type { RunSettings } from "./schemas.ts";

/** Settings with a variant's exit kit, and on its market where it has one. */
export function settingsOfVariant(settings: RunSettings, { kit, market }: Pick<Variant, "kit" | "market">): RunSettings {
  if (!market) return { ...settings, kit };
  return { ...settings, ...market, kit, alsoOn: settings.alsoOn.filter((symbol) => symbol !== market.symbol) };
}

/** Settings with so many units for each entry, beside whatever kit they have; null leaves the plan's own size. */
export function withUnits(settings: RunSettings, units: number | null): RunSettings {
  if (units === null) return settings;
  return { ...settings, kit: { ...(settings.kit ?? EMPTY_KIT), size: { by: "units", value: units } } };
}
