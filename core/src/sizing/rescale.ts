/**
 * A finished run at another size, without running again: money is in proportion to size where nothing that the plan or its
 * account does depends on money. Where something does, the run has to be made.
 */
import type { AccountLimits } from "../engine/account-limits.ts";
import type { ExitKit, KitExits } from "../engine/kit.ts";
import { roundQuantity } from "../engine/money.ts";
import type { Trade } from "../engine/orders.ts";
import type { Margin } from "../engine/settings.ts";
import type { Costs, Instrument } from "../market/instrument.ts";
import { entrySizes } from "./entry-sizes.ts";

export interface RescaledRun {
  readonly trades: readonly Pick<Trade, "orderId" | "quantity">[];
  /** The program's text. */
  readonly source: string;
  readonly kit: ExitKit | null;
  readonly costs: Costs;
  readonly margin: Margin | null;
  readonly limits: AccountLimits | null;
  /** Of its account, and the least that it was worth at a close at the size of the run. */
  readonly cash: number;
  readonly leastEquity: number;
  readonly instruments: number;
}

/** What a plan's text may read of money: it could act otherwise at another size. */
const READS_MONEY = /\baccount\b|\bprofit\b|\bmoney\s*\(|\bequityPercent\b|\briskPercent\b|\briskMoney\b|\bbalance|\bnet\b/;

const inMoney = (exits: KitExits | null): boolean => JSON.stringify(exits ?? {}).includes('"unit":"money"');

/** Why money is not in proportion to size between the run and its rescaling, in words; "" where it is: then it is exact. */
export function rescaleProblem(run: RescaledRun, factor: number): string {
  const { trades, source, kit, costs, margin, limits, cash, leastEquity, instruments } = run;
  const { least, most } = entrySizes(trades);
  if (instruments > 1) return "it trades several instruments";
  if (least !== most) return "its entries were of several sizes";
  if (costs.commissionPerOrder !== 0 || costs.commissionMinimum !== 0)
    return "it pays commission per order or a least one, which don't grow with size";
  if (margin) return "its account asks for margin, which may refuse another size";
  if (limits && (limits.drawdown || limits.dailyLoss)) return "its account has limits on losses";
  if (kit && (kit.dailyLoss !== null || kit.drawdown)) return "its exit kit has limits in money or equity";
  if (kit && (inMoney(kit.long) || inMoney(kit.short))) return "its exit kit has distances in money";
  if (READS_MONEY.test(source.replace(/\/\/.*|\/\*[\s\S]*?\*\//g, ""))) return "its program reads money or equity, so it may act otherwise";
  if (cash + factor * (leastEquity - cash) <= 0) return "the account would be wiped out on the way";
  return "";
}

export interface Rescaled {
  /** Units of each entry that can be traded: rounded down; 0 where that is below the instrument's minimum. */
  readonly units: number;
  readonly factor: number;
  readonly netProfit: number;
  readonly maxDrawdown: number;
  /** Deepest fall less what was aimed at, of the aim, a fraction: 0 or less. */
  readonly off: number;
}

/** The size at which a run falls by so much money at worst, or as near under it as can be traded. */
export function toDrawdown(
  { base, netProfit, maxDrawdown }: { readonly base: number; readonly netProfit: number; readonly maxDrawdown: number },
  instrument: Pick<Instrument, "minQuantity" | "quantityStep">,
  wanted: number,
): Rescaled | null {
  if (!(maxDrawdown > 0) || !(base > 0)) return null;
  // A hair, so that an exact size is not rounded down to the one below.
  const asked = (base * wanted * (1 + 1e-9)) / maxDrawdown;
  const whole = roundQuantity(Math.floor(asked / instrument.quantityStep + 1e-9) * instrument.quantityStep, instrument);
  const units = whole < instrument.minQuantity ? 0 : whole;
  const factor = units / base;
  return { units, factor, netProfit: factor * netProfit, maxDrawdown: factor * maxDrawdown, off: (factor * maxDrawdown) / wanted - 1 };
}
