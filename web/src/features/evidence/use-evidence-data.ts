/** What a run's report is drawn from: its bars, its equity and what the plan showed. */
import type { Market, RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { seriesOf } from "../../data/bars.ts";
import { marketOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { type EvidenceData, sourceOf } from "../run-view/view.ts";

export function useEvidenceData(run: RunEvidence, markets: readonly Market[]): { data: EvidenceData | null; error: unknown } {
  const { settings } = run;
  const columns = useQuery(queries.runColumns(run.id));
  const packed = useQuery(queries.barsOf(run));
  const shownZone = useShownZone();
  const data = useMemo(() => {
    if (!columns.data || !packed.data || !marketOf(markets, settings.symbol)) return null;
    const bars = seriesOf(packed.data);
    const { equity, ...plots } = columns.data.columns;
    return { bars, equity: equity!, plots, zone: shownZone(packed.data.meta.zone), source: sourceOf(run, bars, equity!, markets) };
  }, [run, settings.symbol, markets, columns.data, packed.data, shownZone]);
  return { data, error: columns.error ?? packed.error };
}
