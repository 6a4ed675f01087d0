/** How much has been looked at on the later period: the more candidates are tried on it, the less it is worth. */
import { marketsOf, type SweepDetail } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { count } from "../../lib/format.ts";

export function LaterPeriod({ sweep }: { readonly sweep: SweepDetail }) {
  const { outOfSample, settings, ranges } = sweep.request;
  const { data } = useQuery(queries.trials(sweep.planId, sweep.id));
  if (!outOfSample || !data) return null;
  const { symbols } = marketsOf(settings, ranges);
  const runs = data.stretches
    .filter(({ kind, symbol, from, to }) => kind === "run" && symbols.includes(symbol) && from <= outOfSample.to && to >= outOfSample.from)
    .reduce((sum, { variants }) => sum + variants, 0);
  return (
    <span
      className="text-[13px] text-soft"
      title="Each candidate that is opened there and judged spends the period a little; the figures of the other variants are only to be compared."
    >
      Later period: {runs === 0 ? "no candidate opened yet" : `${count(runs, "run")} of this plan opened`}
    </span>
  );
}
