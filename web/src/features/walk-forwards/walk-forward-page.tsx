/** One walk-forward: what was chosen in each window, what became of it, and the stitched curve as a run. */
import type { WalkForwardDetail } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Square } from "lucide-react";
import { Link, useParams } from "react-router";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { aimWords } from "../../lib/aims.ts";
import { fileName, saveFile } from "../../lib/files.ts";
import { duration, money, number, percent, periodWords, signedMoney } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { num, Page, td, th } from "../../ui/page.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { CurvesCompared } from "../compare/curves-compared.tsx";
import { stitchedWords } from "./stitched-words.ts";
import { walkReportHtml } from "./walk-report.ts";

export function WalkForwardPage() {
  const { walkId = "" } = useParams();
  const walk = useQuery(queries.walkForward(walkId));
  if (walk.error) return <Failure error={walk.error} />;
  if (!walk.data) return <Loading what="the walk-forward" />;
  return <OpenWalk walk={walk.data} />;
}

const at = (figure: (typeof SWEEP_FIGURES)[number]): number => SWEEP_FIGURES.indexOf(figure);

function OpenWalk({ walk }: { readonly walk: WalkForwardDetail }) {
  const { request, windows, total, status, variants, error, elapsedMs } = walk;
  const stopWalkForward = useChange("stopWalkForward");
  const stitched = useQuery({ ...queries.run(walk.runId), enabled: walk.runId !== "" });
  const running = status === "running";
  const rate = windows.length / Math.max(1, elapsedMs);
  return (
    <Page
      name={`Walk-forward of ${walk.planTitle}`}
      title={
        <>
          Walk-forward of {walk.planTitle} <span className="font-normal text-soft">on {request.settings.symbol}</span>
        </>
      }
      aside={
        running ? (
          <>
            <div className="w-64 text-[13px] text-soft" role="status">
              window {number(windows.length)} of {number(total)}
              {windows.length > 0 ? ` · ${duration((total - windows.length) / rate)} left` : ""}
              <Progress done={windows.length} total={total} label="Walk-forward" />
            </div>
            <Button variant="danger" onClick={() => void stopWalkForward.run({ id: walk.id })}>
              <Square size={11} aria-hidden /> Stop
            </Button>
          </>
        ) : (
          <>
            <span className="text-[13px] text-soft" data-testid="walk-state">
              {status} · {number(windows.length)} of {number(total)} windows in {duration(elapsedMs)}
            </span>
            <Button
              title="An HTML file that prints well"
              onClick={() =>
                saveFile(fileName(`Walk-forward of ${walk.planTitle}`, ".html"), walkReportHtml(walk, stitched.data ?? null), "text/html")
              }
            >
              Report
            </Button>
          </>
        )
      }
    >
      <div className="flex flex-col gap-4 p-4">
        {error ? <p className="text-loss">{error}</p> : null}
        <p className="text-[14px]">
          {number(variants)} settings in each window, chosen by {aimWords(request.aim)} on {number(request.inSample)} sessions
          {request.anchored ? " or more, always from the start," : ""} and tried, unchanged, on the next {number(request.outOfSample)}.
        </p>
        {windows.length === 0 ? (
          <Empty title="The first window is running">Each window appears here as it is done.</Empty>
        ) : (
          <Outcome walk={walk} />
        )}
        {walk.runId ? <Stitched runId={walk.runId} /> : null}
        {windows.length > 0 ? <WindowTable walk={walk} /> : null}
      </div>
    </Page>
  );
}

function Outcome({ walk: { windows, efficiency } }: { readonly walk: WalkForwardDetail }) {
  const walked = windows.filter(({ inputs }) => inputs !== null);
  const gained = walked.filter(({ outFigures }) => (outFigures[at("netProfit")] ?? 0) > 0).length;
  const net = walked.reduce((sum, { outFigures }) => sum + (outFigures[at("netProfit")] ?? 0), 0);
  return (
    <p className="text-[15px]">
      Out-of-sample it made <Amount value={net} className="font-bold" />, gaining in {number(gained)} of {number(walked.length)} windows
      {efficiency === null ? "." : `: ${percent(efficiency, 0)} of what the chosen settings had made a session where they were chosen.`}{" "}
      <span className="text-[13px] text-soft">Walk-forward efficiency, Pardo 2008.</span>
    </p>
  );
}

function Stitched({ runId }: { readonly runId: string }) {
  const run = useQuery(queries.run(runId));
  if (run.error) return <Failure error={run.error} />;
  if (!run.data) return <Loading what="the stitched curve" />;
  return (
    <section>
      <h2 className="flex items-center gap-3 pb-1 font-semibold text-[13px]">
        The out-of-sample stretches, one after the other
        <Link to={`/runs/${runId}?tab=trust`} className="font-semibold text-accent hover:underline">
          Open it as a run
        </Link>
      </h2>
      <p className="pb-2 text-[14px]">{stitchedWords(run.data)}</p>
      <CurvesCompared runs={[run.data]} />
    </section>
  );
}

function WindowTable({ walk: { windows, inputSpecs, request } }: { readonly walk: WalkForwardDetail }) {
  const varied = request.ranges.map(({ input }) => inputSpecs.find(({ name }) => name === input)!).filter(Boolean);
  return (
    <section className="overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[13px]">Window by window</h2>
      <table className="text-[13px]">
        <thead>
          <tr>
            <th className={`${th} ${num}`}>#</th>
            <th className={th}>Chosen on</th>
            <th className={th}>Tried on</th>
            {varied.map(({ name, label }) => (
              <th key={name} className={`${th} ${num}`}>
                {label}
              </th>
            ))}
            <th className={`${th} ${num} text-accent`}>Net in-sample</th>
            <th className={`${th} ${num} text-accent`}>Trades</th>
            <th className={`${th} ${num} text-loss`}>Net out-of-sample</th>
            <th className={`${th} ${num} text-loss`}>Trades</th>
            <th className={`${th} ${num} text-loss`}>Drawdown</th>
            <th className={`${th} ${num}`}>Efficiency</th>
          </tr>
        </thead>
        <tbody>
          {windows.map((window, k) => {
            const before = windows[k - 1]?.inputs;
            return (
              <tr key={window.outOfSample.from} className="hover:bg-sunk">
                <td className={`${td} ${num}`}>{k + 1}</td>
                <td className={`${td} text-soft`}>{periodWords(window.inSample)}</td>
                <td className={td}>{periodWords(window.outOfSample)}</td>
                {varied.map(({ name }) => {
                  const value = window.inputs?.[name];
                  const isNew = before !== undefined && before !== null && before[name] !== value;
                  return (
                    <td key={name} className={`${td} ${num} ${isNew ? "font-semibold" : ""}`}>
                      {value === undefined ? "–" : String(value)}
                    </td>
                  );
                })}
                <td className={`${td} ${num}`}>{signedMoney(window.inFigures[at("netProfit")])}</td>
                <td className={`${td} ${num}`}>{number(window.inFigures[at("trades")])}</td>
                <td className={`${td} ${num} font-semibold`}>
                  {window.inputs === null ? "nothing chosen" : <Amount value={window.outFigures[at("netProfit")] ?? null} />}
                </td>
                <td className={`${td} ${num}`}>{number(window.outFigures[at("trades")])}</td>
                <td className={`${td} ${num}`}>{money(window.outFigures[at("maxDrawdown")])}</td>
                <td className={`${td} ${num}`}>{percent(window.efficiency, 0)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
