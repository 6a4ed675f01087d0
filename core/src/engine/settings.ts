/** Everything besides plan, inputs and data that a run depends on. */
import { PlanTesterError } from "../errors.ts";
import { type Costs, type Instrument, NO_COSTS } from "../market/instrument.ts";
import type { AccountLimits } from "./account-limits.ts";
import type { ExitKit } from "./kit.ts";
import type { Side } from "./orders.ts";

export const PATH_MODELS = ["assumed", "finer", "adverse"] as const;
export type PathModel = (typeof PATH_MODELS)[number];
export const PRICE_BASES = ["last", "bid", "ask"] as const;
export type PriceBasis = (typeof PRICE_BASES)[number];
export const POSITION_MODES = ["netting", "independent"] as const;
export type PositionMode = (typeof POSITION_MODES)[number];
export const RUIN_MODES = ["stop", "continue"] as const;
export type RuinMode = (typeof RUIN_MODES)[number];

/** What open positions tie up (R5.5): money for each unit, or notional over leverage. */
export interface Margin {
  readonly by: "unit" | "leverage";
  /** Account currency for one unit; or the leverage, 20 for 20:1. */
  readonly value: number;
  /** Share of the margin, in percent, under which equity at a close ends everything. */
  readonly maintenancePercent: number;
}

/** How money of one currency becomes account money: a constant, or another instrument's last close. */
export type Conversion = number | { readonly symbol: string; readonly inverse: boolean };

/** Enters at the open of bar `bar` (0 is the first on which the plan may act) with the kit's exits, and the plan's answer to it. */
export interface TestPosition {
  readonly side: Side;
  readonly bar: number;
  readonly units: number;
}

export interface EngineSettings {
  /** Starting cash, account currency. */
  readonly cash: number;
  readonly costs: Costs;
  /** Costs of instruments that have others: costs are facts of an instrument (R5.4). By symbol. */
  readonly costsBySymbol: Readonly<Record<string, Costs>>;
  /** How price is taken to move inside a bar (R4). */
  readonly path: PathModel;
  readonly basis: PriceBasis;
  /** Ticks that price must trade through a limit before it fills (R3.1). */
  readonly throughTicks: number;
  /** One position for each instrument, or lots side by side (R5.1). */
  readonly positions: PositionMode;
  readonly margin: Margin | null;
  /** Most units of one order, null for no limit (R6). */
  readonly maxQuantity: number | null;
  /** Most positions open at once, null for no limit: instruments under netting, lots when independent (R6). */
  readonly maxPositions: number | null;
  /** What the account may lose (R5.8). Left out: no limit. */
  readonly limits?: AccountLimits | null;
  /** Account currency; empty for that of the first instrument. */
  readonly currency: string;
  /** By currency other than the account's. */
  readonly conversions: Readonly<Record<string, Conversion>>;
  /** Laid over the plan; null for none. */
  readonly kit: ExitKit | null;
  /** A position opened without waiting for an entry, to see the exits at work; null for none. */
  readonly testPosition: TestPosition | null;
  /** What becomes of a run whose equity is 0 or less at a close: it ends, or goes on (R5.6). */
  readonly ruin: RuinMode;
  readonly seed: number;
  /** Yearly risk-free rate, 0.02 is 2 %. */
  readonly riskFree: number;
}

export const DEFAULT_SETTINGS: EngineSettings = Object.freeze({
  cash: 100_000,
  costs: NO_COSTS,
  costsBySymbol: Object.freeze({}),
  path: "assumed",
  basis: "last",
  throughTicks: 0,
  positions: "netting",
  margin: null,
  maxQuantity: null,
  maxPositions: null,
  currency: "",
  conversions: Object.freeze({}),
  kit: null,
  testPosition: null,
  ruin: "stop",
  seed: 1,
  riskFree: 0,
});

/** Settings with defaults filled in; an explicit undefined counts as absent. */
export function resolveSettings(given: Partial<EngineSettings>): EngineSettings {
  const present = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined));
  const settings = { ...DEFAULT_SETTINGS, ...present } as EngineSettings;
  const costs = { ...NO_COSTS, ...settings.costs };
  const wrong = (message: string, details: Record<string, unknown>): PlanTesterError =>
    new PlanTesterError("bad-settings", message, details);
  if (!(settings.cash > 0) || !Number.isFinite(settings.cash))
    throw wrong(`Starting cash is ${settings.cash}; it must be above 0.`, { cash: settings.cash });
  const { margin } = settings;
  if (margin && !(margin.value > 0 && margin.maintenancePercent >= 0 && margin.maintenancePercent <= 100))
    throw wrong(
      `Margin is ${margin.value} with maintenance at ${margin.maintenancePercent} %; it must be above 0 with maintenance from 0 to 100 %.`,
      { margin },
    );
  for (const limit of [settings.limits?.drawdown, settings.limits?.dailyLoss])
    if (limit && !(limit.value > 0 && Number.isFinite(limit.value) && (limit.unit === "money" || limit.value <= 100)))
      throw wrong(`A limit of the account is ${limit.value}; it must be above 0, and 100 at most in percent.`, { limit });
  for (const [name, value] of [costs, ...Object.values(settings.costsBySymbol)].flatMap((given) => Object.entries(given)))
    if (!Number.isFinite(value) || (value < 0 && !name.startsWith("financing")))
      throw wrong(`Costs: ${name} is ${value}; it must be 0 or more.`, { [name]: value });
  return { ...settings, costs };
}

/** What trading an instrument costs in a run. */
export const costsIn = ({ costs, costsBySymbol }: Pick<EngineSettings, "costs" | "costsBySymbol">, symbol: string): Costs =>
  costsBySymbol[symbol] ?? costs;

/** Checks the numbers of an instrument that the engine divides by. */
export function checkInstrument(instrument: Instrument): void {
  for (const field of ["tickSize", "pipSize", "pointValue", "minQuantity", "quantityStep"] as const)
    if (!(instrument[field] > 0) || !Number.isFinite(instrument[field]))
      throw new PlanTesterError("bad-instrument", `${instrument.symbol}: ${field} is ${instrument[field]}; it must be above 0.`, { field });
}
