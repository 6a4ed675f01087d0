/** A variant of a plan against the settings of a run. */
import type { Variant } from "./api.ts";
import type { RunSettings } from "./schemas.ts";

/** Settings with a variant's exit kit, and on its market where it has one. */
export function settingsOfVariant(settings: RunSettings, { kit, market }: Pick<Variant, "kit" | "market">): RunSettings {
  if (!market) return { ...settings, kit };
  return { ...settings, ...market, kit, alsoOn: settings.alsoOn.filter((symbol) => symbol !== market.symbol) };
}
