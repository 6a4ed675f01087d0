/** Walk-forwards that were made, newest first. */
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { useDelete } from "../../data/use-delete.ts";
import { duration, HERE, number, percent, periodWords, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, td, th } from "../../ui/page.tsx";

export function WalkForwardList() {
  const { data } = useQuery(queries.walkForwards());
  const remove = useDelete();
  if (!data || data.length === 0) return null;
  return (
    <section aria-label="Walk-forwards" className="border-rule border-t">
      <table className="w-full">
        <thead>
          <tr>
            <th className={th}>Walk-forward of</th>
            <th className={th}>Market</th>
            <th className={th}>Period</th>
            <th className={`${th} ${num}`}>Windows</th>
            <th className={`${th} ${num}`}>Settings in each</th>
            <th className={`${th} ${num}`}>Efficiency</th>
            <th className={th}>State</th>
            <th className={th}>Begun</th>
            <th className={th}>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map(({ id, planTitle, request, windows, total, variants, efficiency, status, elapsedMs, createdMs }) => (
            <tr key={id} className="hover:bg-sunk">
              <td className={td}>
                <Link to={`/walk-forwards/${id}`} className="font-semibold hover:underline">
                  {planTitle}
                </Link>
              </td>
              <td className={td}>
                {request.settings.symbol} <span className="text-soft">{timeframeLabel(request.settings.timeframe)}</span>
              </td>
              <td className={`${td} text-soft`}>{periodWords(request.settings)}</td>
              <td className={`${td} ${num}`}>
                {windows.length === total ? number(total) : `${number(windows.length)} of ${number(total)}`}
              </td>
              <td className={`${td} ${num}`}>{number(variants)}</td>
              <td className={`${td} ${num}`}>{percent(efficiency, 0)}</td>
              <td className={td}>
                {status} <span className="text-soft">{duration(elapsedMs)}</span>
              </td>
              <td className={`${td} text-soft`}>{timeAt(createdMs, HERE)}</td>
              <td className={td}>
                <Button
                  variant="quiet"
                  aria-label={`Delete the walk-forward of ${planTitle}`}
                  disabled={status === "running"}
                  onClick={() => void remove("walk-forward", id, `Walk-forward of ${planTitle}`)}
                >
                  <Trash2 size={14} aria-hidden />
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
