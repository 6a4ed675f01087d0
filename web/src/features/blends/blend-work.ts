/**
 * What a blend comes to, worked out beside the page: first what follows the hand that sets sizes, then what takes draws.
 * Curves, correlations and chosen weights are kept until members or terms change.
 */
import type { BlendDays, BlendSetup } from "@plan-tester/contract";
import {
  type BlendCurves,
  type BlendFigures,
  type BlendQuestion,
  type BlendSizes,
  blendCurves,
  blendFigures,
  blendPart,
  blendSizes,
  type Correlations,
  correlations,
  correlationsOn,
  dailyProfits,
  deepestFallOf,
  type FallBand,
  factorsOf,
  fallBands,
  fallsOf,
  findTwins,
  type Gain,
  gainOver,
  heldAt,
  jointAhead,
  jointProfit,
  leastAccount,
  marginOf,
  membersThatFit,
  rollingCorrelation,
  type SharedFall,
  shareBeyond,
  sharedFalls,
  type Trade,
  type Twins,
  weightsBy,
  worstDays,
} from "@plan-tester/core";

/** A member as its run left it; money is that of the blend but for the curve. */
export interface WorkMember {
  readonly time: Float64Array;
  readonly equity: Float64Array;
  readonly cash: number;
  /** Blend money for one of the run's account. */
  readonly rate: number;
  readonly trades: readonly Pick<Trade, "symbol" | "side" | "entryTime" | "exitTime">[];
  /** Units of an entry; 1 where they vary: then the run is counted as a whole. */
  readonly base: number;
  readonly instrument: { readonly minQuantity: number; readonly quantityStep: number };
  readonly marginPerUnit: number;
  /** At each close: value of what is held, and its margin. */
  readonly value: Float64Array;
  readonly margin: Float64Array;
}

export interface BlendWorld {
  readonly members: readonly WorkMember[];
  readonly zone: string;
}

/** Figures of one part of the days. */
export interface PartFigures {
  readonly profit: number;
  readonly drawdown: number;
  readonly returnToDrawdown: number | null;
}

export interface BlendChart {
  readonly time: Float64Array;
  /** Made since the beginning. */
  readonly joint: Float64Array;
  readonly members: readonly Float64Array[];
  /** Percent of the account, 0 or less. */
  readonly fall: Float64Array;
  readonly value: Float64Array;
  readonly margin: Float64Array;
  /** Place of the last day by which weights are chosen. */
  readonly cut: number;
}

export interface QuickAnswer {
  readonly units: readonly number[];
  readonly figures: BlendFigures;
  readonly falls: readonly SharedFall[];
  /** Times of the closes of which falls speak: start, low, recovery. */
  readonly fallTimes: readonly { readonly start: number | null; readonly low: number; readonly recovery: number | null }[];
  readonly chart: BlendChart;
  /** Largest value held and margin asked for, of the account, fractions. */
  readonly peak: { readonly value: number; readonly margin: number };
  readonly correlations: Correlations;
  readonly twins: readonly Twins[];
  readonly days: number;
  readonly shared: BlendWork["shared"];
  readonly isShorter: boolean;
}

export interface SlowAnswer {
  readonly sizes: Pick<BlendSizes, "balances" | "fall">;
  readonly least: number | null;
  /** Nothing fell at the weights: no size follows from them. */
  readonly isStill: boolean;
  /** Resampled days; null of fewer than two. */
  readonly ahead: {
    readonly middle: number;
    readonly likely: number;
    readonly rare: number;
    readonly beyond: number;
    readonly draws: number;
    readonly bands: readonly FallBand[];
    /** Share of the draws that fall by more than it was. */
    readonly deeper: number;
  } | null;
  readonly worst: Correlations;
  readonly worstDays: number;
  readonly rolling: Float64Array;
  readonly days: Float64Array;
  readonly parts: readonly { readonly from: number; readonly to: number; readonly chosen: PartFigures; readonly plain: PartFigures }[];
  /** The weights that were sought are those of equal drawdown: none did better on the first days. */
  readonly isPlain: boolean;
  /** What the weights gain over equal drawdown on the days they were not chosen by; null where they are that, or by hand. */
  readonly gain: Gain | null;
}

const BUCKETS = 1200;

export class BlendWork {
  readonly #members: readonly WorkMember[];
  readonly curves: BlendCurves;
  /** First and last of the days on which every member ran; null where there are none. */
  readonly shared: { readonly from: number; readonly to: number } | null;
  /** Whether some member did not run on all days of the others. */
  readonly isShorter: boolean;
  readonly #daily: readonly Float64Array[];
  readonly #correlations: Correlations;
  readonly #twins: readonly Twins[];
  readonly #value: readonly Float64Array[];
  readonly #margin: readonly Float64Array[];
  readonly #parts = new Map<string, BlendCurves>();
  readonly #weights = new Map<string, readonly number[]>();
  readonly #ahead = new Map<string, ReturnType<typeof jointAhead>>();
  #rolling: Float64Array | null = null;

  constructor({ members, zone }: BlendWorld, days: BlendDays) {
    this.#members = members;
    const all = blendCurves(members, zone);
    const shared = { from: Math.max(...all.alive.map(({ from }) => from)), to: Math.min(...all.alive.map(({ to }) => to)) };
    this.shared = shared.from <= shared.to ? { from: all.days[shared.from]!, to: all.days[shared.to]! } : null;
    this.curves = days === "shared" && this.shared ? blendPart(all, shared.from, shared.to + 1) : all;
    this.isShorter = shared.from > 0 || shared.to < all.dayEnds.length - 1;
    this.#daily = dailyProfits(this.curves);
    this.#correlations = correlations(this.#daily, this.curves.alive);
    this.#twins = findTwins(members.map(({ trades }, k) => ({ daily: this.#daily[k]!, trades })));
    const onClock = (values: (member: WorkMember) => Float64Array): Float64Array[] =>
      members.map((member) => heldAt({ time: member.time, values: values(member) }, this.curves.time));
    this.#value = onClock(({ value }) => value);
    this.#margin = onClock(({ margin }) => margin);
  }

  /** Days [0, cut) are those by which weights are chosen. */
  #cut({ chosenBy }: Pick<BlendSetup, "chosenBy">): number {
    return Math.round((this.curves.dayEnds.length * chosenBy) / 100);
  }

  /** Days [from, to), kept: what does not change with sizes is worked out once for each. */
  #partOf(from: number, to: number): BlendCurves {
    const key = `${from} ${to}`;
    const found = this.#parts.get(key) ?? blendPart(this.curves, from, to);
    this.#parts.set(key, found);
    return found;
  }

  #weightsBy(weighting: Exclude<BlendSetup["weighting"], "by hand">, cut: number): readonly number[] {
    const key = `${weighting} ${cut}`;
    const found = this.#weights.get(key) ?? weightsBy(weighting, this.#partOf(0, cut));
    this.#weights.set(key, found);
    return found;
  }

  #aheadAt(factors: readonly number[]): ReturnType<typeof jointAhead> {
    const key = factors.join();
    const known = this.#ahead.get(key);
    if (known !== undefined) return known;
    if (this.#ahead.size > 200) this.#ahead.clear();
    const found = jointAhead(this.curves, factors);
    this.#ahead.set(key, found);
    return found;
  }

  #question(setup: BlendSetup, weights: readonly number[]): BlendQuestion {
    const { tolerated, allowance, fall } = setup;
    const measured = (factors: readonly number[]): number => deepestFallOf(jointProfit(this.curves, factors));
    const ahead = (factors: readonly number[]): number => {
      const found = this.#aheadAt(factors);
      return found === null ? measured(factors) : fall === "days 95" ? found.likely : found.rare;
    };
    return { members: this.#members, weights, tolerated, allowance, fallAt: fall === "measured" ? measured : ahead };
  }

  /** Weights as asked for; those of the sizes by hand. */
  #weightsOf(setup: BlendSetup): readonly number[] {
    if (setup.weighting === "by hand")
      return factorsOf(
        this.#members,
        setup.members.map(({ size }) => size),
      );
    const weights = this.#weightsBy(setup.weighting, this.#cut(setup));
    // A size of 0 leaves a member out, however weights are found.
    return weights.map((weight, k) => (setup.members[k]!.size === 0 ? 0 : weight));
  }

  #unitsOf(setup: BlendSetup): readonly number[] {
    if (setup.weighting === "by hand") return setup.members.map(({ size }) => size);
    const question = this.#question(setup, this.#weightsOf(setup));
    const weights = membersThatFit(question, setup.cash);
    return blendSizes({ ...question, weights }, setup.cash).units;
  }

  quick(setup: BlendSetup): QuickAnswer {
    const { cash } = setup;
    const units = this.#unitsOf(setup);
    const factors = factorsOf(this.#members, units);
    const { curves } = this;
    const joint = jointProfit(curves, factors);
    const falls = sharedFalls(curves, factors, cash, joint);
    const [value, margin] = [this.#value, this.#margin].map((columns) => jointProfit({ time: curves.time, profits: columns }, factors));
    const timeOf = (i: number | null): number | null => (i === null || i < 0 ? null : curves.time[i]!);
    return {
      ...{ units, falls, figures: blendFigures(curves, factors, cash, joint), days: curves.dayEnds.length },
      fallTimes: falls.map(({ start, low, recovery }) => ({ start: timeOf(start), low: curves.time[low]!, recovery: timeOf(recovery) })),
      chart: this.#chart(factors, { joint, cash, value: value!, margin: margin!, cut: this.#cut(setup) }),
      peak: { value: greatest(value!) / cash, margin: Math.max(greatest(margin!), marginOf(this.#members, units)) / cash },
      ...{ correlations: this.#correlations, twins: this.#twins, shared: this.shared, isShorter: this.isShorter },
    };
  }

  slow(setup: BlendSetup, units: readonly number[]): SlowAnswer {
    const { cash, tolerated, weighting } = setup;
    const { curves } = this;
    const cut = this.#cut(setup);
    const factors = factorsOf(this.#members, units);
    const question = this.#question(setup, this.#weightsOf(setup));
    const plain = this.#weightsBy("equal drawdown", cut);
    const ahead = this.#aheadAt(factors);
    const days = worstDays(this.#jointDaily(factors));
    const isSought = weighting !== "by hand" && weighting !== "equal drawdown";
    const isPlain = isSought && areAlike(question.weights, plain);
    const deep = (weights: readonly number[]): number => deepestFallOf(jointProfit(curves, weights));
    // At equal drawdowns that fall as deep over all days.
    const [fell, plainFell] = [deep(factors), deep(plain)];
    const scale = plainFell > 0 ? fell / plainFell : 0;
    const scaled = plain.map((weight) => weight * scale);
    this.#rolling ??= rollingCorrelation(this.#daily);
    return {
      sizes: blendSizes(question, cash),
      ...{ least: leastAccount(question), isStill: !(question.fallAt(question.weights) > 0) },
      ahead: ahead && {
        ...{ middle: ahead.middle, likely: ahead.likely, rare: ahead.rare, draws: ahead.draws },
        beyond: shareBeyond(ahead, (tolerated / 100) * cash),
        bands: fallBands(ahead),
        deeper: shareBeyond(ahead, fell),
      },
      ...{ worst: correlationsOn(this.#daily, days), worstDays: days.length },
      ...{ rolling: this.#rolling, days: curves.days },
      parts: [
        [0, cut],
        [cut, curves.dayEnds.length],
      ].map(([from, to]) => this.#part(from!, to!, factors, scaled)),
      isPlain,
      gain: isSought && !isPlain ? gainOver(this.#partOf(cut, curves.dayEnds.length), question.weights, plain) : null,
    };
  }

  #jointDaily(factors: readonly number[]): Float64Array {
    return jointProfit({ time: this.curves.days, profits: this.#daily }, factors);
  }

  /** Days [from, to) at these sizes, and at plain ones. */
  #part(from: number, to: number, factors: readonly number[], plain: readonly number[]): SlowAnswer["parts"][number] {
    const part = this.#partOf(from, to);
    const figures = (weights: readonly number[]): PartFigures => {
      const { profit, drawdown, returnToDrawdown } = blendFigures(part, weights, 1);
      return { profit, drawdown: drawdown.money, returnToDrawdown };
    };
    return {
      ...{ from: part.days[0] ?? Number.NaN, to: part.days.at(-1) ?? Number.NaN },
      ...{ chosen: figures(factors), plain: figures(plain) },
    };
  }

  /** Of each stretch of closes its lowest and highest, so that no fall is lost. */
  #chart(
    factors: readonly number[],
    {
      joint,
      cash,
      value,
      margin,
      cut,
    }: Readonly<Record<"joint" | "value" | "margin", Float64Array>> & { readonly cash: number; readonly cut: number },
  ): BlendChart {
    const { curves } = this;
    const shown = turns(curves.time, joint);
    const pick = (column: Float64Array, factor = 1): Float64Array => Float64Array.from(shown, (i) => factor * column[i]!);
    const cutMs = cut > 0 ? curves.time[curves.dayEnds[cut - 1]!]! : Number.NEGATIVE_INFINITY;
    const time = pick(curves.time);
    return {
      ...{ time, joint: pick(joint), fall: pick(fallsOf(joint, 0), 100 / cash) },
      members: curves.profits.map((profit, k) => pick(profit, factors[k]!)),
      ...{ value: pick(value, 100 / cash), margin: pick(margin, 100 / cash) },
      cut: time.findLastIndex((ms) => ms <= cutMs),
    };
  }
}

/** Whether two sets of weights are the same proportions. */
function areAlike(a: readonly number[], b: readonly number[]): boolean {
  const k = a.findIndex((weight) => weight > 0);
  if (k < 0 || !(b[k]! > 0)) return k < 0;
  return a.every((weight, j) => Math.abs(weight / a[k]! - b[j]! / b[k]!) < 1e-9);
}

const greatest = (values: Float64Array): number => values.reduce((most, value) => Math.max(most, value), 0);

/** Places of the lowest and the highest of each stretch of time, in order; all where they are few. */
function turns(time: Float64Array, values: Float64Array): number[] {
  const n = values.length;
  if (n <= 2 * BUCKETS) return [...values.keys()];
  const span = (time[n - 1]! - time[0]!) / BUCKETS;
  const places = new Set([0, n - 1]);
  for (let from = 0; from < n; ) {
    const bucket = Math.floor((time[from]! - time[0]!) / span);
    let [low, high, i] = [from, from, from + 1];
    for (; i < n && Math.floor((time[i]! - time[0]!) / span) === bucket; i++) {
      if (values[i]! < values[low]!) low = i;
      if (values[i]! > values[high]!) high = i;
    }
    places.add(low).add(high);
    from = i;
  }
  return [...places].sort((a, b) => a - b);
}
