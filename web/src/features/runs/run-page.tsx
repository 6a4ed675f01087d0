/** One run with everything that made it, as it was; it can be made current again. */
import type { RunEvidence, WatchedRun } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { useMarkets, zoneOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { useCommands } from "../../lib/commands.ts";
import { duration, timeAt } from "../../lib/format.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { Button } from "../../ui/button.tsx";
import { Menu } from "../../ui/menu.tsx";
import { TabTitle } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { BenchLayout } from "../bench/bench-layout.tsx";
import { Editor } from "../bench/editor.tsx";
import { HistoryRibbon } from "../bench/history-ribbon.tsx";
import { KeepDialog } from "../bench/keep-dialog.tsx";
import { SettingsSentence } from "../bench/settings-sentence.tsx";
import { useLineMarks } from "../bench/use-line-marks.ts";
import { useReveal } from "../bench/use-reveal.ts";
import { SaveBundle } from "../bundles/save-bundle.tsx";
import { drafts } from "../drafts/drafts.ts";
import { Evidence } from "../evidence/evidence.tsx";
import { RunDoubts } from "../evidence/run-doubts.tsx";
import { saveDocument, saveReport } from "../evidence/save-run.ts";
import { InputsForm } from "../inputs/inputs-form.tsx";
import { useNewBlend } from "../run-view/new-blend.ts";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { startOf } from "../watches/watch-starts.ts";

export function RunPage() {
  const { runId = "" } = useParams();
  const run = useQuery(queries.run(runId));
  if (run.error) return <Failure error={run.error} />;
  if (!run.data) return <Loading what="the run" />;
  return <OpenRun key={runId} run={run.data} />;
}

const nothing = (): void => undefined;

/** In place of the history, behind whose end it lies: which bars they were, the watch, and what stands beside it. */
function WatchedBars({ id, watched, zone }: { readonly id: string; readonly watched: WatchedRun; readonly zone: string }) {
  const { watchId, isBacktest, besideId, fromMs, toMs } = watched;
  const both = isBacktest ? [besideId, id] : [id, besideId];
  return (
    <p className="pt-1 pb-2 text-[13px]">
      {isBacktest ? "The backtest of the bars that a watch saw" : "What a watch did"}, from {timeAt(fromMs, zone)} to {timeAt(toMs, zone)},
      on bars of the venue behind the end of the history.
      <Link to={`/watches/${watchId}`} className="ml-3 font-semibold text-accent hover:underline">
        The watch
      </Link>
      <Link to={`/compare?runs=${both.join(",")}`} className="ml-3 font-semibold text-accent hover:underline">
        {isBacktest ? "Compare with what the watch did" : "Compare with the backtest of the same bars"}
      </Link>
    </p>
  );
}

function OpenRun({ run }: { readonly run: RunEvidence }) {
  const shownZone = useShownZone();
  const markets = useMarkets();
  const client = useQueryClient();
  const navigate = useNavigate();
  const blend = useNewBlend();
  const updatePlan = useChange("updatePlan");
  const [search, setSearch] = useSearchParams();
  const [keeping, setKeeping] = useState(false);
  const [watching, setWatching] = useState(false);
  const [isBundling, setBundling] = useState(false);
  const { reveal, showLine, peekLine, wanted, wantLine } = useReveal();
  const lineEvidence = useLineMarks(run, run.source);
  const setTab = useCallback((tab: string) => setSearch({ tab }, { replace: true }), [setSearch]);
  const makeCurrent = async (): Promise<void> => {
    const { source, inputs, settings, watched } = run;
    // The bars of a watch lie behind the history: the plan keeps its own period.
    const saved = await updatePlan.run({ id: run.planId }, { source, inputs, ...(watched ? {} : { settings }) });
    if (!saved) return;
    // What was typed before gives way to what the user has chosen now.
    drafts.drop(run.planId);
    client.setQueryData(queries.plan(run.planId).queryKey, saved.reply);
    navigate(`/plans/${run.planId}`);
  };
  useCommands([
    { id: "lines", label: "Show or hide line evidence", keys: "Ctrl+L", act: lineEvidence.toggle },
    { id: "keep", label: run.kept ? "Rename this run" : "Keep this run", keys: "Ctrl+S", act: () => setKeeping(true) },
    { id: "watch", label: "Watch this run's plan on the live feed", act: () => setWatching(true) },
    { id: "bundle", label: "Save this run as a bundle", act: () => setBundling(true) },
    { id: "current", label: "Make this run's source and settings current", act: () => void makeCurrent() },
  ]);
  return (
    <>
      <TabTitle text={run.kept?.name ?? `${run.title}, draft run`} />
      <BenchLayout
        head={
          <>
            <h1 className="font-semibold text-[15px]">{run.kept?.name ?? `${run.title}, draft run`}</h1>
            <Link to={`/plans/${run.planId}`} className="text-[13px] text-soft hover:underline">
              {run.title}
            </Link>
          </>
        }
        sentence={<SettingsSentence settings={run.settings} markets={markets} readOnly onChange={nothing} />}
        action={
          <Button variant="primary" onClick={() => void makeCurrent()}>
            Make current
          </Button>
        }
        ribbon={
          run.watched ? (
            <WatchedBars id={run.id} watched={run.watched} zone={shownZone(zoneOf(markets, run.settings.symbol))} />
          ) : (
            <HistoryRibbon symbol={run.settings.symbol} from={run.settings.from} to={run.settings.to} readOnly onChange={nothing} />
          )
        }
        editor={
          <Editor
            value={run.source}
            edition={run.id}
            readOnly
            problem={null}
            reveal={reveal}
            marks={lineEvidence.marks}
            onLineTrades={wantLine}
          />
        }
        inputs={
          <>
            <InputsForm specs={run.inputSpecs} values={run.inputs} readOnly onChange={nothing} />
            <p className="px-3 pb-2 font-mono text-[12px] text-soft">
              fingerprint {run.fingerprint} · data {run.dataHash.slice(0, 12)}
            </p>
            {run.kept && run.kept.tags.length > 0 ? (
              <p className="px-3 pb-2 text-[13px] text-soft">tags: {run.kept.tags.join(", ")}</p>
            ) : null}
            {run.kept?.note ? <p className="whitespace-pre-wrap px-3 pb-3">{run.kept.note}</p> : null}
          </>
        }
        evidence={
          <Evidence
            run={run}
            markets={markets}
            wanted={wanted}
            onPeek={peekLine}
            tab={search.get("tab") ?? "summary"}
            onTab={setTab}
            onLine={showLine}
            aside={
              <div className="flex items-center gap-1">
                <span className="text-[13px] text-soft">
                  {run.kept ? "kept" : "draft run"} · {duration(run.elapsedMs)}
                </span>
                <Button variant="quiet" className="px-1.5 text-accent" onClick={() => setKeeping(true)}>
                  {run.kept ? "Rename" : "Keep"}
                </Button>
                <Button variant="quiet" className="px-1.5 text-accent" aria-pressed={lineEvidence.isOn} onClick={lineEvidence.toggle}>
                  {lineEvidence.isOn ? "Hide lines" : "Lines"}
                </Button>
                <RunDoubts run={run} zone={shownZone(zoneOf(markets, run.settings.symbol))} onLine={showLine} />
                <Menu
                  trigger={
                    <Button variant="quiet" className="px-1.5 text-accent">
                      More
                    </Button>
                  }
                  items={[
                    { label: "Watch this run's plan", act: () => setWatching(true) },
                    { label: "Compare with other runs", act: () => navigate(`/compare?runs=${run.id}`) },
                    ...(run.kept ? [{ label: "Begin a blend with this run", act: () => void blend([run.id]) }] : []),
                    { label: "Save as a bundle …", act: () => setBundling(true) },
                    { label: "Save run as JSON", act: () => void saveDocument(run, markets) },
                    { label: "Save printable report", act: () => void saveReport(run, markets) },
                  ]}
                />
              </div>
            }
          />
        }
      />
      {watching ? <WatchDialog title={run.title} starts={[startOf(run)]} chosenFirst={1} onClose={() => setWatching(false)} /> : null}
      {isBundling ? <SaveBundle title={run.kept?.name ?? run.title} plans={[]} runs={[run.id]} onClose={() => setBundling(false)} /> : null}
      {keeping ? (
        <KeepDialog
          run={run}
          onClose={() => setKeeping(false)}
          onKept={(kept) => client.setQueryData<RunEvidence>(queries.run(run.id).queryKey, { ...run, kept })}
        />
      ) : null}
    </>
  );
}
