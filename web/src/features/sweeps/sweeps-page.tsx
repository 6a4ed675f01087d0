import { countVariants, marketsOf, type SweepSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useDelete } from "../../data/use-delete.ts";
import { aimWords, axisWords } from "../../lib/aims.ts";
import { duration, HERE, number, periodWords, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, Page, td, tdText, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { WalkForwardList } from "../walk-forwards/walk-forward-list.tsx";

export function SweepsPage() {
  const { data, error } = useQuery(queries.sweeps());
  const remove = useDelete();
  return (
    <Page title="Sweeps">
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="sweeps" /> : null}
      {data?.length === 0 ? (
        <Empty title="No sweep yet">
          Open a plan and press Sweep: choose inputs and ranges, and see how long it will take before it starts.
        </Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>Plan</th>
              <th className={th}>Market</th>
              <th className={th}>In-sample, out-of-sample</th>
              <th className={th}>Varies</th>
              <th className={th}>Ranked by</th>
              <th className={`${th} ${num}`}>Variants</th>
              <th className={th}>State</th>
              <th className={th}>Begun</th>
              <th className={th}>
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.map(({ id, planTitle, request, variants, done, status, elapsedMs, createdMs }) => (
              <tr key={id} className="hover:bg-sunk">
                <td className={td}>
                  <Link to={`/sweeps/${id}`} className="font-semibold hover:underline">
                    {planTitle}
                  </Link>
                </td>
                <td className={td}>
                  <Markets {...request} />
                </td>
                <td className={`${td} text-soft`}>
                  {periodWords(request.settings)}
                  {request.outOfSample ? <span className="block">{periodWords(request.outOfSample)}</span> : null}
                </td>
                <td className={tdText}>
                  {request.ranges.map((range) => `${axisWords(range.input)} (${countVariants([range])})`).join(", ")}
                </td>
                <td className={tdText}>{aimWords(request.aim)}</td>
                <td className={`${td} ${num}`}>{done === variants ? number(variants) : `${number(done)} of ${number(variants)}`}</td>
                <td className={td}>
                  {status} <span className="text-soft">{duration(elapsedMs)}</span>
                </td>
                <td className={`${td} text-soft`}>{timeAt(createdMs, HERE)}</td>
                <td className={td}>
                  <Button
                    variant="quiet"
                    aria-label={`Delete the sweep of ${planTitle}`}
                    disabled={status === "running"}
                    onClick={() => void remove("sweep", id, `Sweep of ${planTitle}`)}
                  >
                    <Trash2 size={14} aria-hidden />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      <WalkForwardList />
    </Page>
  );
}

function Markets({ settings, ranges }: Pick<SweepSummary["request"], "settings" | "ranges">) {
  const { symbols, timeframes } = marketsOf(settings, ranges);
  return (
    <>
      {symbols.join(", ")} <span className="text-soft">{timeframes.map(timeframeLabel).join(", ")}</span>
    </>
  );
}
