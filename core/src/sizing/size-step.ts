/**
 * From a drawdown to what to trade: how much balance each step of size needs so that a fall stays within what is tolerated.
 * Balances round up, sizes round down, the instrument's minimum and step are kept.
 */
import { roundQuantity } from "../engine/money.ts";
import type { Instrument } from "../market/instrument.ts";

export interface SizeQuestion {
  readonly instrument: Pick<Instrument, "minQuantity" | "quantityStep">;
  /** Units of each entry of the run. */
  readonly base: number;
  /** Money that the run falls at that size, and is to be ready for. Above 0. */
  readonly drawdown: number;
  /** Percent of the balance that may be lost; above 0, up to 100. */
  readonly tolerated: number;
  /** Percent that is added to the drawdown for a future worse than the past; 0 or more. */
  readonly allowance: number;
  /** Money that the venue holds back for each unit; 0 for none. */
  readonly marginPerUnit: number;
}

export interface SizeSteps {
  /** Units of one step. */
  readonly step: number;
  /** Balance for each of them, whole money. */
  readonly balance: number;
  /** The least balance on which the smallest size can be traded, and what asks for it. */
  readonly minimum: { readonly balance: number; readonly units: number; readonly by: "drawdown" | "margin" };
}

/** A hair, so that an exact balance is not rounded up to the next. */
const HAIR = 1e-9;
const roundUp = (money: number): number => Math.ceil(money * (1 - HAIR));

/** What one unit is to be able to fall, money. */
const fallOfUnit = ({ base, drawdown, allowance }: SizeQuestion): number => (drawdown / base) * (1 + allowance / 100);

/** @param units of a step; the instrument's step where left out */
export function sizeSteps(question: SizeQuestion, units = question.instrument.quantityStep): SizeSteps {
  const { instrument, tolerated, marginPerUnit } = question;
  const balanceOf = (size: number): number => (fallOfUnit(question) * size) / (tolerated / 100);
  const balance = roundUp(balanceOf(units));
  const least = Math.max(instrument.minQuantity, units);
  const smallest = Math.ceil(least / units - HAIR) * units;
  const [byDrawdown, byMargin] = [Math.ceil(smallest / units - HAIR) * balance, roundUp(marginPerUnit * smallest)];
  return {
    ...{ step: units, balance },
    minimum: {
      balance: Math.max(byDrawdown, byMargin),
      units: roundQuantity(smallest, instrument),
      by: byMargin > byDrawdown ? "margin" : "drawdown",
    },
  };
}

/** Units that a balance carries: whole steps, none below the instrument's minimum, no more than margin allows. */
export function unitsOn(account: number, { step, balance }: SizeSteps, { instrument, marginPerUnit }: SizeQuestion): number {
  let steps = Math.floor(account / balance + HAIR);
  if (marginPerUnit > 0) steps = Math.min(steps, Math.floor(account / (marginPerUnit * step) + HAIR));
  const units = roundQuantity(steps * step, instrument);
  return units < instrument.minQuantity ? 0 : units;
}

/** The other way round: what a size on an account is to be able to fall, money and percent of the account. */
export function drawdownOf(units: number, account: number, question: SizeQuestion): { readonly money: number; readonly percent: number } {
  const money = fallOfUnit(question) * units;
  return { money, percent: (100 * money) / account };
}
