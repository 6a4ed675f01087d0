/** The trust figures of a run, worked out from its trades, days and bars; reruns are asked for apart. */
import type { RunEvidence, StressAnswer, TrialContext } from "@plan-tester/contract";
import {
  chanceVariance,
  costStress,
  deflatedSharpe,
  delayedEntries,
  minimumTrackRecord,
  probabilisticSharpe,
  randomEntries,
  resampleTrades,
  returnShape,
  withoutBest,
} from "@plan-tester/core";
import { useMemo } from "react";
import type { EvidenceData, EvidenceView } from "../evidence/view.ts";
import { type Verdict, verdictOf } from "./verdict.ts";

export type Trust = ReturnType<typeof trustOf> & { readonly verdict: Verdict };

function trustOf(run: RunEvidence, view: EvidenceView, data: EvidenceData, context: TrialContext) {
  const instrument = data.source.instruments[0]!;
  const year = instrument.calendar.sessionsPerYear;
  const equity = Array.from(view.daily.equity);
  const returns = equity.slice(1).map((value, d) => value / equity[d]! - 1 - run.settings.riskFree / year);
  const shape = returnShape(returns);
  const trials = Math.max(1, context.trials);
  // Of one session, as the shape is.
  const variance = context.sharpeVariance === null ? chanceVariance(returns.length) : context.sharpeVariance / year;
  const nets = view.trades.map(({ net }) => net);
  return {
    shape,
    year,
    trials,
    variance,
    isVarianceKnown: context.sharpeVariance !== null,
    confidence: shape && probabilisticSharpe(shape),
    deflated: shape && deflatedSharpe(shape, trials, variance),
    needed: shape && minimumTrackRecord(shape),
    sessions: returns.length,
    resampling: resampleTrades(nets, equity[0] ?? run.settings.cash),
    costs: costStress(view.trades),
    without: withoutBest(view.trades),
    delayed: delayedEntries(view.trades, data.bars, instrument),
    random: randomEntries(view.trades, data.bars, instrument),
  };
}

export function useTrust(
  run: RunEvidence,
  view: EvidenceView,
  data: EvidenceData,
  context: TrialContext,
  stress: StressAnswer | null,
): Trust {
  const trust = useMemo(() => trustOf(run, view, data, context), [run, view, data, context]);
  const verdict = useMemo(() => {
    const { symbol, from, to } = run.settings;
    const gained = stress && stress.jitter.length > 0 ? stress.jitter.filter(({ net }) => net > 0).length / stress.jitter.length : null;
    return verdictOf({
      figures: view.figures,
      confidence: trust.confidence,
      deflated: trust.deflated,
      trials: trust.trials,
      sessions: trust.sessions,
      neededSessions: trust.needed,
      lossProbability: trust.resampling?.bootstrap.lossProbability ?? null,
      badDrawdown: trust.resampling?.reshuffle.maxDrawdown[4] ?? null,
      breakEvenCosts: trust.costs.breakEven,
      withoutBest: trust.without[0]?.net ?? null,
      delayedNet: view.trades.length > 0 ? trust.delayed.net : null,
      randomAtLeast: trust.random?.atLeast ?? null,
      jitterGained: gained,
      slippageNet: stress?.slippage.find(({ ticks }) => ticks === 1)?.net ?? null,
      isSpent: context.stretches.some((used) => used.kind === "sweep" && used.symbol === symbol && used.from <= to && used.to >= from),
      hasWalkForward: context.stretches.some(({ kind }) => kind === "walk-forward"),
      isWalkForward: run.walkForwardId !== undefined,
    });
  }, [run, view, trust, context, stress]);
  return { ...trust, verdict };
}
