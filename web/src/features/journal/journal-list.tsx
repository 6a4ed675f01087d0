/** What was tried with a plan, one change after the other, with what each did to the result. */
import type { Trial, TrialKind } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../data/queries.ts";
import { count, HERE, money, number, periodWords, signedMoney, timeAt } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";

export function JournalList({
  planId,
  runId,
}: {
  readonly planId: string /** Asked for anew when another run is shown. */;
  readonly runId: string;
}) {
  const { data, error } = useQuery(queries.journal(planId, runId));
  const context = useQuery(queries.trials(planId, runId)).data;
  if (error) return <Failure error={error} />;
  if (!data) return <Loading what="what was tried" />;
  if (data.length === 0)
    return <Empty title="Nothing tried yet">Each run is noted here with what was changed before it, and what that did.</Empty>;
  const before = netsBefore(data);
  return (
    <div className="h-full overflow-auto">
      <p className="px-3 py-1.5 text-[13px] text-soft">
        {context ? `${count(context.trials, "setting")} tried. ` : ""}The last {count(data.length, "step")} are listed. The more one tries
        on the same history, the better the best of them looks by chance alone.
      </p>
      <table className="w-full text-[13px]">
        <thead>
          <tr>
            <th className={th}>When</th>
            <th className={th}>What was changed</th>
            <th className={th}>Market</th>
            <th className={`${th} ${num}`}>Net</th>
            <th className={`${th} ${num}`}>Effect</th>
            <th className={`${th} ${num}`}>Drawdown</th>
            <th className={`${th} ${num}`}>Trades</th>
            <th className={`${th} ${num}`}>Sharpe</th>
          </tr>
        </thead>
        <tbody>
          {data.map((trial, k) => {
            const earlier = before[k]!;
            const effect = trial.netProfit !== null && earlier !== null ? trial.netProfit - earlier : null;
            const { symbol, timeframe, from, to } = trial.settings;
            return (
              <tr key={trial.id} className="align-top hover:bg-sunk">
                <td className={`${td} text-soft`}>
                  {placeOf(trial.kind) === null ? (
                    timeAt(trial.createdMs, HERE)
                  ) : (
                    <Link to={`/${placeOf(trial.kind)}/${trial.runId}`} className="hover:underline">
                      {timeAt(trial.createdMs, HERE)}
                    </Link>
                  )}
                </td>
                <td className="border-rule/60 border-b px-3 py-1">
                  {trial.kind === "sweep" || trial.kind === "walk-forward"
                    ? `${trial.kind} over ${count(trial.variants, "setting")}${trial.status === "complete" ? "" : `, ${trial.status}`}; `
                    : ""}
                  {trial.changes.length === 0 ? <span className="text-soft">nothing: run again</span> : trial.changes.join("; ")}
                </td>
                <td className={`${td} text-soft`} title={periodWords({ from, to })}>
                  {symbol} {timeframeLabel(timeframe)}
                </td>
                <td className={`${td} ${num}`}>{trial.netProfit === null ? "–" : <Amount value={trial.netProfit} />}</td>
                <td className={`${td} ${num}`}>{signedMoney(effect)}</td>
                <td className={`${td} ${num}`}>{money(trial.maxDrawdown)}</td>
                <td className={`${td} ${num}`}>{number(trial.trades)}</td>
                <td className={`${td} ${num}`}>{number(trial.sharpe, 2)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

const PLACES: Partial<Record<TrialKind, string>> = { run: "runs", sweep: "sweeps", "walk-forward": "walk-forwards" };
/** Where what was tried can be seen; null for what is only a remark. */
const placeOf = (kind: TrialKind): string | null => PLACES[kind] ?? null;

/** For each trial, newest first, the net of the run before it; null where there is none. */
function netsBefore(trials: readonly Trial[]): (number | null)[] {
  const before: (number | null)[] = [];
  let last: number | null = null;
  for (let k = trials.length - 1; k >= 0; k--) {
    before[k] = last;
    if (trials[k]!.kind === "run") last = trials[k]!.netProfit;
  }
  return before;
}
