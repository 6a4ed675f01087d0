/** Everything besides plan, inputs and data that a run depends on. */
import { PlanTesterError } from "../errors.ts";
import { type Costs, type Instrument, NO_COSTS } from "../market/instrument.ts";

export type PathModel = "assumed" | "finer";
export type PriceBasis = "last" | "bid";

export interface EngineSettings {
  /** Starting cash, account currency. */
  readonly cash: number;
  readonly costs: Costs;
  /** How price is taken to move inside a bar (R4). */
  readonly path: PathModel;
  readonly basis: PriceBasis;
  /** Ticks that price must trade through a limit before it fills (R3.1). */
  readonly throughTicks: number;
  readonly seed: number;
  /** Yearly risk-free rate, 0.02 is 2 %. */
  readonly riskFree: number;
}

export const DEFAULT_SETTINGS: EngineSettings = Object.freeze({
  cash: 100_000,
  costs: NO_COSTS,
  path: "assumed",
  basis: "last",
  throughTicks: 0,
  seed: 1,
  riskFree: 0,
});

/** Settings with defaults filled in; an explicit undefined counts as absent. */
export function resolveSettings(given: Partial<EngineSettings>): EngineSettings {
  const present = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined));
  const settings = { ...DEFAULT_SETTINGS, ...present } as EngineSettings;
  if (!(settings.cash > 0) || !Number.isFinite(settings.cash))
    throw new PlanTesterError("bad-settings", `Starting cash is ${settings.cash}; it must be above 0.`, { cash: settings.cash });
  return settings;
}

/** Checks the numbers of an instrument that the engine divides by. */
export function checkInstrument(instrument: Instrument): void {
  for (const field of ["tickSize", "pointValue", "minQuantity", "quantityStep"] as const)
    if (!(instrument[field] > 0) || !Number.isFinite(instrument[field]))
      throw new PlanTesterError("bad-instrument", `${instrument.symbol}: ${field} is ${instrument[field]}; it must be above 0.`, { field });
}
