/** The runs of a basket: good and bad at a glance, by figures, curve, shape and sign; some of them to go on with. */
import type { RunSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { count, money, number, percent } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Spark } from "../../ui/spark.tsx";
import { Empty, Failure } from "../../ui/states.tsx";
import { useNewBlend } from "../run-view/new-blend.ts";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { startOf, type WatchStart } from "../watches/watch-starts.ts";

export function BatchPage() {
  const { batchId = "" } = useParams();
  const queue = useQuery(queries.queue()).data ?? [];
  const jobs = queue.filter(({ batch }) => batch === batchId);
  const over = jobs.filter(({ state }) => state !== "waiting" && state !== "running").length;
  const { data, error } = useQuery(queries.batch(batchId, over));
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const navigate = useNavigate();
  const client = useQueryClient();
  const [starts, setStarts] = useState<readonly WatchStart[] | null>(null);
  const watch = async (): Promise<void> => {
    try {
      const runs = await Promise.all(chosen.map((id) => client.fetchQuery(queries.run(id))));
      setStarts(runs.map((run) => ({ ...startOf(run), name: `${run.title} on ${run.settings.symbol}` })));
    } catch (problem) {
      toast.error(messageOf(problem));
    }
  };
  const runs = data?.runs ?? [];
  const order = (run: RunSummary): number => (run.netProfit > 0 ? -1 : 1) * 1e12 - (run.returnToDrawdown ?? 0);
  const blend = useNewBlend();
  const sorted = [...runs].sort((a, b) => order(a) - order(b));
  const gains = runs.filter(({ netProfit }) => netProfit > 0);
  const failed = jobs.filter(({ state }) => state === "failed");
  return (
    <Page
      title={runs[0]?.tags[0] ?? "Basket"}
      aside={
        <>
          <Button disabled={gains.length === 0} onClick={() => setChosen(gains.map(({ id }) => id))}>
            Choose those that gained
          </Button>
          <Button disabled={chosen.length === 0} onClick={() => void watch()}>
            Watch {chosen.length > 0 ? chosen.length : ""}
          </Button>
          <Button disabled={chosen.length === 0} onClick={() => void blend(chosen)} title="Set the chosen runs on one account, with sizes">
            Blend {chosen.length > 0 ? chosen.length : ""}
          </Button>
          <Button
            variant="primary"
            disabled={chosen.length < 2 || chosen.length > 8}
            onClick={() => navigate(`/compare?runs=${chosen.join(",")}`)}
          >
            Compare {chosen.length > 0 ? chosen.length : ""}
          </Button>
        </>
      }
    >
      {error ? <Failure error={error} /> : null}
      {jobs.length > over ? (
        <div className="px-4 py-2 text-soft" role="status">
          {number(over)} of {count(jobs.length, "instrument")} done
          <Progress done={over} total={jobs.length} label="Basket" />
        </div>
      ) : null}
      {starts ? <WatchDialog title={starts[0]!.name} starts={starts} chosenFirst={starts.length} onClose={() => setStarts(null)} /> : null}
      {failed.map((job) => (
        <p key={job.id} role="alert" className="mx-4 my-1 border-loss border-l-3 bg-loss-wash px-2 py-1">
          <strong>{job.symbol}:</strong> {job.message}
        </p>
      ))}
      {runs.length === 0 && jobs.length === over ? <Empty title="No run of this basket is kept" /> : null}
      {runs.length > 0 ? (
        <>
          <p className="px-4 py-1.5 text-[13px] text-soft">
            {number(gains.length)} of {number(runs.length)} gained; together{" "}
            <Amount value={runs.reduce((sum, { netProfit }) => sum + netProfit, 0)} />. A plan that holds on most instruments is more likely
            to have found something than one that shines on one.
          </p>
          <table className="w-full text-[13px]">
            <thead>
              <tr>
                <th className={th}>
                  <span className="sr-only">Choose</span>
                </th>
                <th className={th}>Instrument</th>
                <th className={th}>Equity</th>
                {["Net", "Return", "Drawdown", "Net / DD", "Trades", "Win rate", "PF", "Sharpe"].map((head) => (
                  <th key={head} className={`${th} ${num}`}>
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {sorted.map((run) => (
                <tr key={run.id} className={cx("hover:bg-sunk", run.netProfit > 0 ? "bg-gain-wash/40" : "bg-loss-wash/40")}>
                  <td className={td}>
                    <input
                      type="checkbox"
                      aria-label={`Choose ${run.settings.symbol}`}
                      checked={chosen.includes(run.id)}
                      onChange={(event) => setChosen(event.target.checked ? [...chosen, run.id] : chosen.filter((id) => id !== run.id))}
                    />
                  </td>
                  <td className={td}>
                    <span aria-hidden className={run.netProfit > 0 ? "text-gain" : "text-loss"}>
                      {run.netProfit > 0 ? "▲ " : "▽ "}
                    </span>
                    <Link to={`/runs/${run.id}`} className="font-semibold hover:underline">
                      {run.settings.symbol}
                    </Link>{" "}
                    <span className="text-soft">{timeframeLabel(run.settings.timeframe)}</span>
                  </td>
                  <td className={td}>
                    <Spark values={run.spark} width={160} label={`Equity on ${run.settings.symbol}`} />
                  </td>
                  <td className={`${td} ${num}`}>
                    <Amount value={run.netProfit} />
                  </td>
                  <td className={`${td} ${num}`}>{percent(run.totalReturn)}</td>
                  <td className={`${td} ${num}`}>{money(-run.maxDrawdown)}</td>
                  <td className={`${td} ${num}`}>{number(run.returnToDrawdown, 2)}</td>
                  <td className={`${td} ${num}`}>{number(run.trades)}</td>
                  <td className={`${td} ${num}`}>{percent(run.winRate, 0)}</td>
                  <td className={`${td} ${num}`}>{number(run.profitFactor, 2)}</td>
                  <td className={`${td} ${num}`}>{number(run.sharpe, 2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : null}
    </Page>
  );
}
