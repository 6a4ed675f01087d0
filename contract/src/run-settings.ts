/** From the words of a run's sentence to the numbers the engine takes. */
import { type EngineSettings, type Instrument, NO_COSTS, resolveSettings } from "@plan-tester/core";
import type { RunSettings } from "./schemas.ts";

export function engineSettings(settings: RunSettings, instrument: Instrument): EngineSettings {
  const { symbol: _symbol, timeframe: _timeframe, from: _from, to: _to, alsoOn: _alsoOn, costs: words, ...numbers } = settings;
  const costs = words === "market" ? instrument.costs : words === "none" ? NO_COSTS : { ...NO_COSTS, ...words };
  return resolveSettings({ ...numbers, costs });
}
