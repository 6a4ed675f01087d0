/** One search on one world: what each figure of trust says of its best setting, and what that did in the year after. */
import {
  type BarSeries,
  chanceVariance,
  daysNotSeen,
  deflatedSharpe,
  effectiveTrials,
  luckOf,
  overfitting,
  probabilisticSharpe,
  resolveSettings,
  returnShape,
  SWEEP_FIGURES,
  sampleDeviation,
  sliceByTime,
  superiorAbility,
  surrogateBars,
  type Verdict,
  verdictOf,
} from "@plan-tester/core";
import { type PlanProcess, sweepPlan } from "@plan-tester/runner";
import { SEARCHES, type Search } from "./searches.ts";
import { hourly, instrumentOf, type Kind } from "./worlds.ts";

const FROM = Date.UTC(2023, 2, 1);
export const MARKETS = 19;
/** Years that are searched; the year after each is what comes of it. */
export const LENGTHS = [1, 2, 3] as const;
const after = (years: number): number => Date.UTC(2023 + years, 2, 1);

export interface Outcome {
  readonly kind: Kind;
  readonly search: Search;
  readonly years: number;
  /** Annual Sharpe ratio of the best setting, and less what luck found. */
  readonly best: number;
  readonly expected: number;
  /** Higher speaks more for it: shares of certainty, or 1 less a share of chance. */
  readonly scores: Readonly<Record<Figure, number>>;
  readonly verdict: Verdict | null;
  /** The same setting in the year after. */
  readonly next: number;
  readonly nextNet: number;
  /** Ratios of all settings over the searched years, and over the year after. */
  readonly ratios: Float64Array;
  readonly nextRatios: Float64Array;
}

export const FIGURES = ["alone", "deflated", "deflatedByChance", "ability", "overfitting", "notSeen", "luck", "luckSmooth"] as const;
export type Figure = (typeof FIGURES)[number];

const WIDTH = SWEEP_FIGURES.length;
const [SHARPE, NET] = [SWEEP_FIGURES.indexOf("sharpe"), SWEEP_FIGURES.indexOf("netProfit")];

interface Swept {
  readonly figures: Float64Array;
  readonly daily: Float64Array | Float32Array;
}

interface Searched {
  readonly kind: Kind;
  readonly search: Search;
  readonly key: string;
}

async function swept(process: PlanProcess, { kind, search, key }: Searched, stretches: readonly BarSeries[]): Promise<Swept> {
  const instrument = instrumentOf(kind);
  const { variants, source } = search;
  const { figures, daily, failures } = await sweepPlan(process, {
    source,
    variants,
    stretches: stretches.map((series, s) => [{ instrument, data: { key: `${key} ${s}`, series, finer: null } }]),
    settings: resolveSettings({ costs: instrument.costs }),
    dailyOf: variants.map((_variant, v) => v),
  });
  if (failures.length > 0 || !daily) throw new Error(`${search.name} on ${kind.name}: ${failures[0]?.message ?? "no daily returns"}`);
  return { figures, daily };
}

/** One figure of every setting over one of the stretches; what never traded has none and counts as nothing. */
const column = ({ figures }: Swept, settings: number, stretches: number, stretch: number, figure: number): Float64Array =>
  Float64Array.from({ length: settings }, (_none, v) => {
    const value = figures[(v * stretches + stretch) * WIDTH + figure]!;
    return Number.isFinite(value) ? value : 0;
  });

const largest = (values: Float64Array): number => values.reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);

function scoresOf(daily: Swept["daily"], ratios: Float64Array, perYear: number): Record<Exclude<Figure, "luck" | "luckSmooth">, number> {
  const settings = ratios.length;
  const days = daily.length / settings;
  const best = ratios.indexOf(largest(ratios));
  const shape = returnShape(daily.subarray(best * days, (best + 1) * days))!;
  return {
    alone: probabilisticSharpe(shape),
    deflated: deflatedSharpe(shape, settings, sampleDeviation(ratios)! ** 2 / perYear),
    deflatedByChance: deflatedSharpe(shape, Math.max(1, effectiveTrials(daily, settings)), chanceVariance(days)),
    ability: 1 - superiorAbility(daily, settings, 1)!.p,
    overfitting: 1 - overfitting(daily, settings, 12).probability,
    notSeen: 1 - daysNotSeen(daily, settings, perYear)!.p,
  };
}

/** All searches of all lengths on one world; markets without memory are shared by the searches. */
export async function doubted(process: PlanProcess, kind: Kind, seed: number): Promise<Outcome[]> {
  const instrument = instrumentOf(kind);
  const perYear = instrument.calendar.sessionsPerYear!;
  const world = hourly(kind, seed, after(Math.max(...LENGTHS) + 1));
  const outcomes: Outcome[] = [];
  for (const years of LENGTHS) {
    const series = sliceByTime(world, FROM, after(years));
    const next = sliceByTime(world, after(years), after(years + 1));
    const found = new Map<Search, { real: Swept; lucky: number[] }>();
    for (const search of SEARCHES) {
      const real = await swept(process, { kind, search, key: `${kind.name} ${seed} ${years}` }, [series, next]);
      found.set(search, { real, lucky: [] });
    }
    for (let market = 0; market < MARKETS; market++) {
      const lucky = { ...series, ...surrogateBars(series, instrument.tickSize, seed * 1000 + market) };
      for (const [search, { lucky: ratios }] of found) {
        const one = await swept(process, { kind, search, key: `${kind.name} ${seed} ${years} ${market}` }, [lucky]);
        ratios.push(largest(column(one, search.variants.length, 1, 0, SHARPE)));
      }
    }
    for (const [search, { real, lucky }] of found) {
      const settings = search.variants.length;
      const ratios = column(real, settings, 2, 0, SHARPE);
      const best = largest(ratios);
      const chosen = ratios.indexOf(best);
      const luck = luckOf(best, lucky)!;
      const scores = scoresOf(real.daily, ratios, perYear);
      const nextRatios = column(real, settings, 2, 1, SHARPE);
      outcomes.push({
        ...{ kind, search, years, best, ratios, nextRatios, expected: luck.expected },
        scores: { ...scores, luck: 1 - luck.p, luckSmooth: 1 - (luck.smooth ?? luck.p) },
        verdict: verdictOf({ luck: luck.p, notSeen: 1 - scores.notSeen, overfitting: 1 - scores.overfitting, years }),
        next: nextRatios[chosen]!,
        nextNet: column(real, settings, 2, 1, NET)[chosen]!,
      });
    }
  }
  return outcomes;
}
