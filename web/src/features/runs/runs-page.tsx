/** Kept runs, newest first, searched as one types. */
import { timeframeLabel } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { dateWords, number, timeAt } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/field.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Spark } from "../../ui/spark.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";

const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone;

export function RunsPage() {
  const { data, error } = useQuery(queries.runs());
  const [search, setSearch] = useState("");
  const client = useQueryClient();
  const wanted = search.toLowerCase();
  const shown =
    data?.filter((run) => `${run.name} ${run.planTitle} ${run.settings.symbol} ${run.note}`.toLowerCase().includes(wanted)) ?? [];
  const remove = async (id: string): Promise<void> => {
    await api.delete(`/runs/${id}`).catch((problem) => toast.error(messageOf(problem)));
    await client.invalidateQueries({ queryKey: ["runs"], exact: true });
  };
  return (
    <Page
      title="Kept runs"
      aside={
        <TextInput
          aria-label="Search runs"
          placeholder="Search name, plan, instrument"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          className="w-64"
        />
      }
    >
      {error ? <Failure error={error} /> : null}
      {!data && !error ? <Loading what="runs" /> : null}
      {data?.length === 0 ? (
        <Empty title="No run is kept yet">Run a plan on its Bench and press Keep. A kept run holds everything that made it.</Empty>
      ) : null}
      {data && data.length > 0 ? (
        <table className="w-full">
          <thead>
            <tr>
              <th className={th}>Run</th>
              <th className={th}>Plan</th>
              <th className={th}>On</th>
              <th className={th}>Period</th>
              <th className={th}>Equity</th>
              <th className={`${th} ${num}`}>Net</th>
              <th className={`${th} ${num}`}>Drawdown</th>
              <th className={`${th} ${num}`}>Trades</th>
              <th className={`${th} ${num}`}>PF</th>
              <th className={`${th} ${num}`}>Sharpe</th>
              <th className={th}>Kept</th>
              <th className={th}>
                <span className="sr-only">Acts</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((run) => (
              <tr key={run.id} className="hover:bg-sunk">
                <td className={td}>
                  <Link to={`/runs/${run.id}`} className="font-semibold hover:underline">
                    {run.name}
                  </Link>
                  {run.status === "complete" ? null : <span className="text-warn"> ({run.status})</span>}
                </td>
                <td className={td}>{run.planTitle}</td>
                <td className={td}>
                  {run.settings.symbol} <span className="text-soft">{timeframeLabel(run.settings.timeframe)}</span>
                </td>
                <td className={`${td} text-soft`}>
                  {dateWords(run.settings.from)} – {dateWords(run.settings.to)}
                </td>
                <td className={td}>
                  <Spark values={run.spark} label={`Equity of ${run.name}`} />
                </td>
                <td className={`${td} ${num}`}>
                  <Amount value={run.netProfit} />
                </td>
                <td className={`${td} ${num}`}>{number(-run.maxDrawdown)}</td>
                <td className={`${td} ${num}`}>{number(run.trades)}</td>
                <td className={`${td} ${num}`}>{number(run.profitFactor, 2)}</td>
                <td className={`${td} ${num}`}>{number(run.sharpe, 2)}</td>
                <td className={`${td} text-soft`}>{timeAt(run.createdMs, HERE)}</td>
                <td className={td}>
                  <Button variant="quiet" aria-label={`Delete the run ${run.name}`} onClick={() => void remove(run.id)}>
                    <Trash2 size={14} aria-hidden />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {data && data.length > 0 && shown.length === 0 ? <Empty title="Nothing found">No run matches “{search}”.</Empty> : null}
    </Page>
  );
}
