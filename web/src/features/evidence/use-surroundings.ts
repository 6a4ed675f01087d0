/** What has to be known around a run before one believes it. */
import type { Market, RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { queries } from "../../data/queries.ts";
import { dataDoubts } from "./data-doubts.ts";
import { type Surrounding, surroundings } from "./surroundings.ts";

/** What is told of the bars comes a moment after the run. */
export function useSurroundings(run: RunEvidence, market: Market | undefined, zone: string): readonly Surrounding[] {
  const { symbol } = run.settings;
  const trials = useQuery(queries.trials(run.planId, run.id)).data;
  const quality = useQuery({ ...queries.quality(symbol), enabled: market !== undefined }).data;
  const repairs = useQuery({ ...queries.repairs(symbol), enabled: market !== undefined }).data;
  return useMemo(
    () => [...surroundings(run, market, trials, Date.now()), ...dataDoubts(run, market, quality?.meta.findings ?? [], repairs ?? [], zone)],
    [run, market, trials, quality, repairs, zone],
  );
}
