/** From the words of a run's sentence to the numbers the engine takes. */
import type { RunSettings } from "@plan-tester/contract";
import { type EngineSettings, type Instrument, NO_COSTS, resolveSettings } from "@plan-tester/core";

export function engineSettings(settings: RunSettings, instrument: Instrument): EngineSettings {
  const { cash, path, basis, throughTicks, seed, riskFree } = settings;
  const costs = settings.costs === "market" ? instrument.costs : settings.costs === "none" ? NO_COSTS : settings.costs;
  return resolveSettings({ cash, path, basis, throughTicks, seed, riskFree, costs });
}
