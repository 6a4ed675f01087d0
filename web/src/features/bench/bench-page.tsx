/** The Bench: what a plan says on one side, what came of it on the other. */
import type { PlanDetail, RunEvidence } from "@plan-tester/contract";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { useCommands } from "../../app/commands.ts";
import { duration } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { Evidence } from "../evidence/evidence.tsx";
import { SweepDialog } from "../sweeps/sweep-dialog.tsx";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { BenchLayout } from "./bench-layout.tsx";
import { Editor } from "./editor.tsx";
import { HistoryRibbon } from "./history-ribbon.tsx";
import { InputsForm } from "./inputs-form.tsx";
import { KeepDialog } from "./keep-dialog.tsx";
import { RunButton } from "./run-button.tsx";
import { SettingsSentence } from "./settings-sentence.tsx";
import { problemOf, useDescription } from "./use-description.ts";
import { type SaveState, useDraft } from "./use-draft.ts";
import { useLineMarks } from "./use-line-marks.ts";
import { useRunner } from "./use-runner.ts";

export function BenchPage() {
  const { planId = "" } = useParams();
  const plan = useQuery(queries.plan(planId));
  const plans = useQuery(queries.plans());
  if (plan.error) return <Failure error={plan.error} />;
  if (!plan.data || !plans.data) return <Loading what="the plan" />;
  const lastRun = plans.data.find((candidate) => candidate.id === planId)?.lastRun?.id ?? null;
  return <Bench key={planId} plan={plan.data} lastRun={lastRun} />;
}

const saveWords = (state: SaveState): string =>
  state.kind === "saved" ? "draft saved" : state.kind === "saving" ? "saving …" : `not saved: ${state.message}`;

function Bench({ plan, lastRun }: { readonly plan: PlanDetail; readonly lastRun: string | null }) {
  const { draft, change, saveState } = useDraft(plan);
  const { description, problem } = useDescription(draft.source);
  const { running, failure, run, stop } = useRunner();
  const markets = useQuery(queries.markets());
  const client = useQueryClient();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const [runId, setRunId] = useState(lastRun);
  const shown = useQuery({ ...queries.run(runId ?? ""), enabled: runId !== null, placeholderData: keepPreviousData });
  const [dialog, setDialog] = useState<"keep" | "sweep" | "watch" | null>(null);
  const [reveal, setReveal] = useState<{ line: number; turn: number } | null>(null);
  const tab = search.get("tab") ?? "summary";
  const setTab = useCallback(
    (next: string) => setSearch((params) => ({ ...Object.fromEntries(params), tab: next }), { replace: true }),
    [setSearch],
  );
  const showLine = useCallback((line: number) => setReveal((last) => ({ line, turn: (last?.turn ?? 0) + 1 })), []);

  const start = useCallback(async (): Promise<void> => {
    const evidence = await run({ planId: plan.id, source: draft.source, inputs: draft.inputs, settings: draft.settings });
    if (evidence) setRunId(evidence.id);
  }, [run, plan.id, draft]);

  const market = markets.data?.find(({ instrument }) => instrument.symbol === draft.settings.symbol);
  // Bars and history are asked for ahead, so that a run has only its own result to wait for.
  useEffect(() => {
    const { symbol, timeframe, from, to } = draft.settings;
    void client.prefetchQuery(queries.bars(symbol, timeframe, from, to));
  }, [client, draft.settings]);

  const evidence = shown.data ?? null;
  const lineEvidence = useLineMarks(evidence, draft.source);

  useCommands([
    { id: "run", label: "Run this plan", keys: "Ctrl+Enter", act: () => void start() },
    { id: "keep", label: "Keep this run", keys: "Ctrl+S", act: () => shown.data && setDialog("keep") },
    { id: "sweep", label: "Sweep this plan's inputs", act: () => setDialog("sweep") },
    { id: "lines", label: "Show or hide line evidence", keys: "Ctrl+L", act: lineEvidence.toggle },
    { id: "watch", label: "Set this plan to watch", act: () => setDialog("watch") },
    ...(running ? [{ id: "stop", label: "Stop the run", keys: "Escape", act: stop }] : []),
  ]);

  const runProblem = failure && failure.code !== "unavailable" ? problemOf(failure) : null;
  const specs = description?.inputs ?? [];
  const values = Object.fromEntries(Object.entries(draft.inputs).filter(([name]) => specs.some((spec) => spec.name === name)));
  const onKept = (name: string, note: string): void => {
    if (evidence) client.setQueryData<RunEvidence>(queries.run(evidence.id).queryKey, { ...evidence, kept: { name, note } });
  };

  return (
    <>
      <BenchLayout
        head={
          <>
            <h1 className="font-semibold text-[15px]">{description?.title ?? plan.title}</h1>
            <span className={`font-mono text-[12px] ${saveState.kind === "failed" ? "text-loss" : "text-soft"}`} role="status">
              {saveWords(saveState)}
            </span>
          </>
        }
        sentence={<SettingsSentence settings={draft.settings} markets={markets.data ?? []} onChange={(settings) => change({ settings })} />}
        action={<RunButton running={running} onRun={() => void start()} onStop={stop} />}
        ribbon={
          <HistoryRibbon
            symbol={draft.settings.symbol}
            from={draft.settings.from}
            to={draft.settings.to}
            onChange={(from, to) => change({ settings: { ...draft.settings, from, to } })}
          />
        }
        editor={
          <Editor
            value={draft.source}
            problem={problem ?? runProblem}
            reveal={reveal}
            marks={lineEvidence.marks}
            onChange={(source) => change({ source })}
            onRun={() => void start()}
          />
        }
        inputs={
          <>
            {problem ? (
              <button
                type="button"
                className="block w-full border-loss border-l-3 bg-loss-wash px-3 py-1.5 text-left"
                onClick={() => showLine(problem.line)}
              >
                {problem.message}
              </button>
            ) : null}
            <InputsForm specs={specs} values={values} onChange={(inputs) => change({ inputs })} />
          </>
        }
        evidence={
          <div className={`flex h-full min-h-0 flex-col ${running ? "opacity-70" : ""}`}>
            {failure && !problem ? <Failure error={failure} /> : null}
            {evidence ? (
              <Evidence
                run={evidence}
                market={
                  market?.instrument.symbol === evidence.settings.symbol
                    ? market
                    : markets.data?.find(({ instrument }) => instrument.symbol === evidence.settings.symbol)
                }
                tab={tab}
                onTab={setTab}
                onLine={showLine}
                aside={
                  <div className="flex items-center [&_button]:px-1.5 [&_button]:text-accent">
                    <span
                      className="max-w-28 truncate text-[13px] text-soft"
                      data-testid="run-state"
                      title={`${evidence.kept?.name ?? "Draft run"}, made in ${duration(evidence.elapsedMs)}`}
                    >
                      {evidence.kept ? evidence.kept.name : "draft run"}
                    </span>
                    <Button
                      variant="quiet"
                      aria-pressed={lineEvidence.isOn}
                      title={
                        lineEvidence.isStale
                          ? "The source has changed since this run: run it to see its lines."
                          : "How often each line ran (Ctrl+L)"
                      }
                      onClick={lineEvidence.toggle}
                    >
                      {lineEvidence.isOn ? "Hide lines" : "Lines"}
                    </Button>
                    <Button variant="quiet" onClick={() => setDialog("keep")}>
                      {evidence.kept ? "Rename" : "Keep"}
                    </Button>
                    <Button variant="quiet" onClick={() => setDialog("sweep")}>
                      Sweep
                    </Button>
                    <Button variant="quiet" onClick={() => setDialog("watch")}>
                      Watch
                    </Button>
                  </div>
                }
              />
            ) : shown.error ? (
              <Failure error={shown.error} />
            ) : runId ? (
              <Loading what="the last run" />
            ) : (
              <Empty title="Not run yet">Press Ctrl+Enter. The evidence appears here, beside the source.</Empty>
            )}
          </div>
        }
      />
      {dialog === "keep" && evidence ? <KeepDialog run={evidence} onClose={() => setDialog(null)} onKept={onKept} /> : null}
      {dialog === "sweep" ? (
        <SweepDialog
          planId={plan.id}
          draft={draft}
          specs={specs}
          market={market}
          onClose={() => setDialog(null)}
          onStarted={(id) => navigate(`/sweeps/${id}`)}
        />
      ) : null}
      {dialog === "watch" ? (
        <WatchDialog
          planId={plan.id}
          title={description?.title ?? plan.title}
          draft={draft}
          onClose={() => setDialog(null)}
          onStarted={(id) => navigate(`/watches/${id}`)}
        />
      ) : null}
    </>
  );
}
