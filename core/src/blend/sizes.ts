/**
 * From proportions to sizes that can be traded on an account, so that the blend falls by no more than is tolerated: balances
 * for a step of each member round up, sizes round down, and what rounding does to the joint fall is checked.
 */
import { roundQuantity } from "../engine/money.ts";
import type { Instrument } from "../market/instrument.ts";

export interface BlendMember {
  /** Units of an entry at the size of the member's run. */
  readonly base: number;
  readonly instrument: Pick<Instrument, "minQuantity" | "quantityStep">;
  /** Blend money that the venue holds back for each unit; 0 for none. */
  readonly marginPerUnit: number;
}

export interface BlendQuestion {
  readonly members: readonly BlendMember[];
  /** Proportions, as factors on the sizes of the runs. */
  readonly weights: readonly number[];
  /** Percent of the account that may be lost; above 0, up to 100. */
  readonly tolerated: number;
  /** Percent that is added to the fall for a future worse than the past. */
  readonly allowance: number;
  /** Money that the blend is to be ready to fall at some factors; in proportion to them where all change together. */
  readonly fallAt: (factors: readonly number[]) => number;
}

export interface BlendSizes {
  /** Of each member: units; 0 where the account is too small for it, or it has no weight. */
  readonly units: readonly number[];
  /** Of each member: balance that asks for one step of its size, whole money; null without weight. */
  readonly balances: readonly (number | null)[];
  /** What the blend at these sizes is to be ready to fall, allowance included. */
  readonly fall: number;
  readonly margin: number;
}

const HAIR = 1e-9;
const TRIES = 60;
/** How much smaller sizes become where rounding made the joint fall too deep. */
const LESS = 1.01;

export const factorsOf = (members: readonly BlendMember[], units: readonly number[]): number[] =>
  units.map((size, k) => size / members[k]!.base);

export const marginOf = (members: readonly BlendMember[], units: readonly number[]): number =>
  units.reduce((sum, size, k) => sum + size * members[k]!.marginPerUnit, 0);

/** Sizes on an account. All are 0 where nothing falls: no size follows from that. */
export function blendSizes(question: BlendQuestion, account: number): BlendSizes {
  const { members, weights, tolerated, allowance, fallAt } = question;
  const ready = (factors: readonly number[]): number => fallAt(factors) * (1 + allowance / 100);
  const limit = (tolerated / 100) * account;
  let fall = ready(weights);
  const nothing: BlendSizes = { units: weights.map(() => 0), balances: weights.map(() => null), fall: 0, margin: 0 };
  if (!(fall > 0)) return nothing;
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const balances = members.map(({ base, instrument }, k) =>
      weights[k]! > 0 ? Math.ceil(((fall * instrument.quantityStep) / (weights[k]! * base * (tolerated / 100))) * (1 - HAIR)) : null,
    );
    const units = members.map((member, k) => unitsOn(account, balances[k]!, member));
    const found = { units, balances, fall: ready(factorsOf(members, units)), margin: marginOf(members, units) };
    const excess = Math.max(found.fall / limit, found.margin / account);
    if (excess <= 1 + HAIR) return found;
    fall *= Math.max(excess, LESS);
  }
  return nothing;
}

function unitsOn(account: number, balance: number | null, { instrument }: BlendMember): number {
  if (balance === null) return 0;
  const units = roundQuantity(Math.floor(account / Math.max(balance, 1) + HAIR) * instrument.quantityStep, instrument);
  return units < instrument.minQuantity ? 0 : units;
}

/** Balance for the smallest size that can be traded. @param balance for a step; null, which no balance carries, without one */
export function balanceOfSmallest({ minQuantity, quantityStep }: BlendMember["instrument"], balance: number | null): number {
  if (balance === null) return Number.POSITIVE_INFINITY;
  return Math.ceil(Math.max(minQuantity, quantityStep) / quantityStep - HAIR) * balance;
}

/**
 * The least account on which every member with weight can be traded, whole money; null where none has weight or nothing falls.
 */
export function leastAccount(question: BlendQuestion): number | null {
  const { members, weights } = question;
  const wanted = weights.flatMap((weight, k) => (weight > 0 ? [k] : []));
  if (wanted.length === 0 || !(question.fallAt(weights) > 0)) return null;
  const carriesAll = (account: number): boolean => {
    const { units } = blendSizes(question, account);
    return wanted.every((k) => units[k]! > 0);
  };
  // Of an account without a limit of its own: what each smallest size asks for.
  const { balances } = blendSizes(question, Number.MAX_SAFE_INTEGER);
  const least = wanted.map((k) => balanceOfSmallest(members[k]!.instrument, balances[k]!));
  let account = Math.max(...least);
  if (!Number.isFinite(account)) return null;
  // Sizes that were rounded down fall together in other ways than the proportions did: a little more may be asked for.
  for (let attempt = 0; attempt < TRIES && !carriesAll(account); attempt++) account = Math.ceil(account * 1.02);
  return carriesAll(account) ? account : null;
}

/** Which members an account has room for, those that need the most left out first; the weights of the others. */
export function membersThatFit(question: BlendQuestion, account: number): readonly number[] {
  let weights = question.weights;
  for (;;) {
    const { units, balances } = blendSizes({ ...question, weights }, account);
    const without = weights.flatMap((weight, k) => (weight > 0 && units[k] === 0 ? [k] : []));
    // Where nothing falls no size is too large, and none can be told.
    if (without.length === 0 || !(question.fallAt(weights) > 0)) return weights;
    const need = (k: number): number => balanceOfSmallest(question.members[k]!.instrument, balances[k]!);
    const last = without.reduce((most, k) => (need(k) > need(most) ? k : most));
    weights = weights.map((weight, k) => (k === last ? 0 : weight));
  }
}
