/** What is traded: its price grid, its money, its sessions and what trading it costs. Plain data. */
import type { SessionCalendar } from "./calendar.ts";

/** Costs of trading. All are exact and never rounded to the tick grid (R1.4). */
export interface Costs {
  /** Account currency for each order that fills. */
  readonly commissionPerOrder: number;
  /** Account currency for each unit and side. */
  readonly commissionPerUnit: number;
  /** Percent of the notional, each side. */
  readonly commissionPercent: number;
  /** The least commission of one fill, account currency. */
  readonly commissionMinimum: number;
  /** Ask minus bid in ticks. Ignored where the bars carry a spread column of their own. */
  readonly spreadTicks: number;
  /** Paid on market and stop fills, in ticks. */
  readonly slippageTicks: number;
  /** Paid on market and stop fills as a share of the range of the bar they happen on: 0.1 is a tenth. */
  readonly slippageRange: number;
  /** Paid on market and stop fills: from 0 up to so many ticks, drawn evenly from the run's seed. */
  readonly slippageRandomTicks: number;
  /** Account currency for each unit of a long position and each night held; negative when it earns. */
  readonly financingLong: number;
  /** The same for short positions. */
  readonly financingShort: number;
}

export const NO_COSTS: Costs = Object.freeze({
  commissionPerOrder: 0,
  commissionPerUnit: 0,
  commissionPercent: 0,
  commissionMinimum: 0,
  spreadTicks: 0,
  slippageTicks: 0,
  slippageRange: 0,
  slippageRandomTicks: 0,
  financingLong: 0,
  financingShort: 0,
});

/** All costs times a factor. */
export const scaledCosts = (costs: Costs, factor: number): Costs =>
  factor === 1 ? costs : (Object.fromEntries(Object.entries(costs).map(([name, value]) => [name, value * factor])) as unknown as Costs);

export type InstrumentClass = "future" | "share" | "currency" | "other";

export interface Instrument {
  readonly symbol: string;
  readonly name: string;
  readonly class: InstrumentClass;
  /** Currency in which a price move is paid. */
  readonly currency: string;
  readonly tickSize: number;
  /** Price units of one pip: what this market's traders count in. */
  readonly pipSize: number;
  /** Money of a price move of 1.0 for one unit. */
  readonly pointValue: number;
  readonly decimals: number;
  readonly minQuantity: number;
  readonly quantityStep: number;
  readonly calendar: SessionCalendar;
  /** What "market costs" means for this instrument. */
  readonly costs: Costs;
  readonly note: string;
}
