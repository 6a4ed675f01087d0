/** From the words of a run's sentence to the numbers the engine takes. */
import { type Costs, type EngineSettings, type Instrument, NO_COSTS, resolveSettings, scaledCosts } from "@plan-tester/core";
import type { RunSettings } from "./schemas.ts";

/** What an instrument costs by a run's settings: its own costs, none or given ones; those of one instrument may be told apart, and all are scaled. */
export function costsOfRun({ costs: words, costsScale = 1, costsFor = {} }: RunSettings, { symbol, costs: own }: Instrument): Costs {
  const mine = costsFor[symbol];
  const given = mine?.costs ?? words;
  const plain = given === "market" ? own : given === "none" ? NO_COSTS : { ...NO_COSTS, ...given };
  return scaledCosts(plain, costsScale * (mine?.scale ?? 1));
}

/** @param instruments all of the run, the plan's own first: each pays its own costs. */
export function engineSettings(settings: RunSettings, instruments: readonly Instrument[]): EngineSettings {
  const {
    symbol: _symbol,
    timeframe: _timeframe,
    from: _from,
    to: _to,
    period: _period,
    alsoOn: _alsoOn,
    costs: _costs,
    costsScale: _scale,
    costsFor: _for,
    ...numbers
  } = settings;
  const [first, ...others] = instruments;
  return resolveSettings({
    ...numbers,
    costs: costsOfRun(settings, first!),
    costsBySymbol: Object.fromEntries(others.map((instrument) => [instrument.symbol, costsOfRun(settings, instrument)])),
  });
}
