/** The trust figures of a run, worked out from its trades, days and bars; reruns are asked for apart. */
import type { RuleAnswer, RunEvidence, StressAnswer, TrialContext } from "@plan-tester/contract";
import {
  chanceVariance,
  costStress,
  deflatedSharpe,
  delayedEntries,
  type Luck,
  minimumTrackRecord,
  probabilisticSharpe,
  returnShape,
  withoutBest,
} from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { askWorker } from "../../lib/ask-worker.ts";
import { ruleVerdict } from "../rules/rule-verdict.ts";
import type { EvidenceData, EvidenceView } from "../run-view/view.ts";
import { choosingOn, trialsOn } from "./spent.ts";
import type { Draws, DrawsQuestion } from "./trust-worker.ts";
import { type Verdict, verdictOf } from "./verdict.ts";

export type Trust = ReturnType<typeof trustOf> & Draws & { readonly verdict: Verdict; readonly isDrawing: boolean };

const NO_DRAWS: Draws = { resampling: null, random: null, entries: null };

/** The draws of a run, or of a stretch of it, from a worker. */
function useDraws(run: RunEvidence, view: EvidenceView, { bars, source }: EvidenceData) {
  const ends = view.trades.length === 0 ? "" : `${view.trades[0]!.id}-${view.trades.at(-1)!.id}`;
  const question = (): DrawsQuestion => ({
    ...{ trades: view.trades, bars, instrument: source.instruments[0]! },
    cash: view.daily.equity[0] ?? run.settings.cash,
  });
  return useQuery({
    queryKey: ["runs", run.id, "draws", ends, view.trades.length],
    queryFn: () => askWorker<Draws>(() => new Worker(new URL("./trust-worker.ts", import.meta.url), { type: "module" }), question()),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    retry: false,
  });
}

function trustOf(run: RunEvidence, view: EvidenceView, data: EvidenceData, context: TrialContext) {
  const instrument = data.source.instruments[0]!;
  const year = run.figures.sessionsPerYear ?? instrument.calendar.sessionsPerYear;
  const equity = Array.from(view.daily.equity);
  const returns = equity.slice(1).map((value, d) => value / equity[d]! - 1 - run.settings.riskFree / year);
  const shape = returnShape(returns);
  const trials = trialsOn(context, run.settings, run.walkForwardId);
  // Of one session, as the shape is.
  const variance = chanceVariance(returns.length);
  return {
    shape,
    year,
    trials,
    variance,
    confidence: shape && probabilisticSharpe(shape),
    deflated: shape && deflatedSharpe(shape, trials.independent, variance),
    needed: shape && minimumTrackRecord(shape),
    sessions: returns.length,
    costs: costStress(view.trades),
    without: withoutBest(view.trades),
    delayed: delayedEntries(view.trades, data.bars, instrument),
  };
}

/** What is found only when it is asked; null before. */
export interface Asked {
  readonly stress: StressAnswer | null;
  readonly chance: Luck | null;
  readonly rules: readonly RuleAnswer[] | null;
}

export function useTrust(run: RunEvidence, view: EvidenceView, data: EvidenceData, context: TrialContext, asked: Asked): Trust {
  const trust = useMemo(() => trustOf(run, view, data, context), [run, view, data, context]);
  const draws = useDraws(run, view, data);
  const { resampling, random, entries } = draws.data ?? NO_DRAWS;
  const { stress, chance, rules } = asked;
  const verdict = useMemo(() => {
    const gained = stress && stress.jitter.length > 0 ? stress.jitter.filter(({ net }) => net > 0).length / stress.jitter.length : null;
    return verdictOf({
      figures: view.figures,
      confidence: trust.confidence,
      sessions: trust.sessions,
      neededSessions: trust.needed,
      lossProbability: resampling?.bootstrap.lossProbability ?? null,
      badDrawdown: resampling?.reshuffle.maxDrawdown[4] ?? null,
      breakEvenCosts: trust.costs.breakEven,
      withoutBest: trust.without[0]?.net ?? null,
      delayedNet: view.trades.length > 0 ? trust.delayed.net : null,
      randomAtLeast: random?.atLeast ?? null,
      entriesAtLeast: entries?.atLeast ?? null,
      chance,
      rules: rules?.map((rule) => ruleVerdict(rule).standing) ?? null,
      jitterGained: gained,
      slippageNet: stress?.slippage.find(({ ticks }) => ticks === 1)?.net ?? null,
      isSpent: choosingOn(context, run.settings).length > 0,
      hasWalkForward: context.stretches.some(({ kind }) => kind === "walk-forward"),
      isWalkForward: run.walkForwardId !== "",
    });
  }, [run, view, trust, resampling, random, entries, context, stress, chance, rules]);
  return { ...trust, resampling, random, entries, verdict, isDrawing: draws.isPending };
}
