/** The Bench: what a plan says on one side, its outcome on the other. */
import type { PlanDetail, RunEvidence } from "@plan-tester/contract";
import type { ExitKit } from "@plan-tester/core";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { marketOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useCommands } from "../../lib/commands.ts";
import { Button } from "../../ui/button.tsx";
import { TabTitle } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import type { SaveState } from "../drafts/draft-store.ts";
import { useDraft } from "../drafts/use-draft.ts";
import { useRunner } from "../drafts/use-runner.ts";
import { Evidence } from "../evidence/evidence.tsx";
import { InputsForm } from "../inputs/inputs-form.tsx";
import { problemOf, useDescription } from "../inputs/use-description.ts";
import { JournalList } from "../journal/journal-list.tsx";
import { EarnedRules } from "../rules/earned.tsx";
import { withSize } from "../size/size-acts.tsx";
import { VariantsRow } from "../variants/variants-row.tsx";
import { BenchAside } from "./bench-aside.tsx";
import { type BenchDialog, BenchDialogs } from "./bench-dialogs.tsx";
import { BenchLayout } from "./bench-layout.tsx";
import { ConflictDialog } from "./conflict-dialog.tsx";
import { HistoryRibbon } from "./history-ribbon.tsx";
import { HistoryUse } from "./history-use.tsx";
import { OlderEvidence } from "./older-evidence.tsx";
import { useMovingPeriod } from "./period-form.tsx";
import { PlanText } from "./plan-text.tsx";
import { RunButton } from "./run-button.tsx";
import { SettingsSentence } from "./settings-sentence.tsx";
import { FIRST_TEST_POSITION } from "./test-position-form.tsx";
import { useAutoRun } from "./use-auto-run.ts";
import { useBatch } from "./use-batch.ts";
import { useLineMarks } from "./use-line-marks.ts";
import { useReveal } from "./use-reveal.ts";
import { withLevels } from "./with-levels.ts";

export function BenchPage() {
  const { planId = "" } = useParams();
  const plan = useQuery(queries.plan(planId));
  const plans = useQuery(queries.plans());
  const lastDraft = useQuery(queries.lastDraft(planId));
  if (plan.error) return <Failure error={plan.error} />;
  if (!plan.data || !plans.data || lastDraft.isPending) return <Loading what="the plan" />;
  const lastRun = lastDraft.data?.runId ?? plans.data.find((candidate) => candidate.id === planId)?.lastRun?.id ?? null;
  return <Bench key={planId} plan={plan.data} lastRun={lastRun} />;
}

function saveWords(state: SaveState): string {
  switch (state.kind) {
    case "saved":
      return "draft saved";
    case "saving":
      return "saving …";
    case "failed":
      return `kept in this browser, not saved yet: ${state.message}`;
    case "conflict":
      return "kept in this browser, not saved: the plan was saved elsewhere";
  }
}

function Bench({ plan, lastRun }: { readonly plan: PlanDetail; readonly lastRun: string | null }) {
  const { draft, edition, latest, change, type, saveState, settle } = useDraft(plan);
  const conflict = saveState.kind === "conflict" ? saveState.theirs : null;
  const [settled, setSettled] = useState<typeof conflict>(null);
  const { description, problem } = useDescription(draft.source);
  const { running, failure, run, stop } = useRunner();
  const markets = useMarkets();
  const client = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const [runId, setRunId] = useState(lastRun);
  const shown = useQuery({ ...queries.run(runId ?? ""), enabled: runId !== null, placeholderData: keepPreviousData });
  const [dialog, setDialog] = useState<BenchDialog | null>(null);
  const { reveal, showLine, peekLine, wanted, wantLine } = useReveal();
  const setTab = useCallback(
    (next: string) => setSearch((params) => ({ ...Object.fromEntries(params), tab: next }), { replace: true }),
    [setSearch],
  );
  const title = description?.title ?? plan.title;

  const start = useCallback(
    async (part: Partial<typeof draft> = {}): Promise<void> => {
      const evidence = await run({ planId: plan.id, ...latest(), ...part });
      if (evidence) setRunId(evidence.id);
    },
    [run, plan.id, latest],
  );
  const autoRun = useAutoRun(draft, problem === null, running !== null, start);
  const batch = useBatch(plan.id, title, draft);

  // Bars and history are asked for ahead, so that a run has only its own result to wait for.
  useEffect(() => {
    const { symbol, timeframe, from, to } = draft.settings;
    void client.prefetchQuery(queries.bars(symbol, timeframe, from, to));
  }, [client, draft.settings]);

  const evidence = shown.data ?? null;
  const trials = useQuery(queries.trials(plan.id, runId ?? "")).data;
  const market = marketOf(markets, draft.settings.symbol);
  useMovingPeriod(draft.settings, market, trials?.reservedFrom, change);
  const lineEvidence = useLineMarks(evidence, draft.source);
  useCommands([
    { id: "run", label: "Run this plan", keys: "Ctrl+Enter", act: () => void start() },
    { id: "auto", label: autoRun.isOn ? "Stop running on each pause in typing" : "Run on each pause in typing", act: autoRun.toggle },
    { id: "background", label: "Run in the background and keep", keys: "Ctrl+Shift+Enter", act: batch.one },
    { id: "keep", label: "Keep this run", keys: "Ctrl+S", act: () => evidence && setDialog("keep") },
    { id: "versions", label: "Versions of this plan", keys: "Alt+v", act: () => setDialog("versions") },
    { id: "basket", label: "Run this plan on a basket", act: () => setDialog("basket") },
    { id: "sweep", label: "Sweep this plan's inputs", act: () => setDialog("sweep") },
    { id: "lines", label: "Show or hide line evidence", keys: "Ctrl+L", act: lineEvidence.toggle },
    {
      id: "test-position",
      label: draft.settings.testPosition ? "Remove the test position" : "Add a test position to this run",
      act: () => change({ settings: { ...draft.settings, testPosition: draft.settings.testPosition ? null : FIRST_TEST_POSITION } }),
    },
    { id: "watch", label: "Set this plan to watch", act: () => setDialog("watch") },
    ...(running ? [{ id: "stop", label: "Stop the run", keys: "Escape", act: stop }] : []),
  ]);

  const runProblem = failure && failure.code !== "unavailable" ? problemOf(failure) : null;
  const specs = description?.inputs ?? [];
  const values = Object.fromEntries(Object.entries(draft.inputs).filter(([name]) => specs.some((spec) => spec.name === name)));
  const tab = search.get("tab") ?? "summary";

  const tryKit = (kit: ExitKit): void => {
    const settings = { ...draft.settings, kit };
    change({ settings });
    void start({ settings });
  };
  return (
    <>
      <TabTitle text={title} />
      <BenchLayout
        head={
          <>
            <h1 className="font-semibold text-[15px]">{title}</h1>
            {trials ? (
              <HistoryUse planId={plan.id} context={trials} symbol={draft.settings.symbol} lastDate={market?.lastDate ?? ""} />
            ) : null}
            <span className={`font-mono text-[12px] ${saveState.kind === "failed" || conflict ? "text-loss" : "text-soft"}`} role="status">
              {saveWords(saveState)}
            </span>
            {conflict ? (
              <Button variant="quiet" className="h-6 px-1.5 text-accent" onClick={() => setSettled(null)}>
                Compare and choose
              </Button>
            ) : null}
          </>
        }
        sentence={<SettingsSentence settings={draft.settings} markets={markets} onChange={(settings) => change({ settings })} />}
        action={<RunButton running={running} autoRun={autoRun} onRun={() => void start()} onStop={stop} />}
        ribbon={
          <HistoryRibbon
            symbol={draft.settings.symbol}
            from={draft.settings.from}
            to={draft.settings.to}
            context={trials}
            onChange={(from, to) => change({ settings: { ...draft.settings, from, to, period: null } })}
          />
        }
        editor={
          <EarnedRules run={evidence} source={draft.source}>
            <PlanText
              planId={plan.id}
              {...{ draft, edition, markets, reveal, change, type }}
              problem={problem ?? runProblem}
              marks={lineEvidence.marks}
              onRun={() => void start()}
              onLineTrades={wantLine}
              onLine={showLine}
            />
          </EarnedRules>
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
            <VariantsRow
              planId={plan.id}
              draft={draft}
              onChoose={change}
              onCompare={() => void batch.variants()}
              onStudy={(kits) => void batch.study(kits)}
            />
            <InputsForm specs={specs} values={values} onChange={(inputs) => change({ inputs })} />
          </>
        }
        evidence={
          <div className="flex h-full min-h-0 flex-col">
            {failure && !problem ? <Failure error={failure} /> : null}
            {evidence && !running ? <OlderEvidence {...{ evidence, draft }} onRun={() => void start()} onTake={change} /> : null}
            {evidence ? (
              <Evidence
                run={evidence}
                {...{ markets, tab, wanted, running }}
                onTab={setTab}
                onLine={showLine}
                onPeek={peekLine}
                onTry={(levels) => tryKit(withLevels(draft.settings.kit, levels))}
                onSize={(size) => tryKit(withSize(draft.settings.kit, size))}
                tried={<JournalList planId={plan.id} runId={evidence.id} />}
                aside={
                  <BenchAside
                    {...{ evidence, markets }}
                    lines={lineEvidence}
                    onDialog={setDialog}
                    onBackground={batch.one}
                    onLine={showLine}
                  />
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
      {conflict && settled !== conflict ? (
        <ConflictDialog draft={draft} theirs={conflict} onSettle={settle} onClose={() => setSettled(conflict)} />
      ) : null}
      <BenchDialogs
        dialog={dialog}
        {...{ plan, title, draft, specs, evidence, markets, change }}
        onClose={() => setDialog(null)}
        onBasket={(symbols) => void batch.basket(symbols)}
        onKept={(kept) => {
          if (evidence) client.setQueryData<RunEvidence>(queries.run(evidence.id).queryKey, { ...evidence, kept });
        }}
      />
    </>
  );
}
