/** One run with everything that made it, as it was; it can be made current again. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { toast } from "sonner";
import { useCommands } from "../../app/commands.ts";
import { api, messageOf } from "../../lib/api.ts";
import { duration } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { BenchLayout } from "../bench/bench-layout.tsx";
import { Editor } from "../bench/editor.tsx";
import { HistoryRibbon } from "../bench/history-ribbon.tsx";
import { InputsForm } from "../bench/inputs-form.tsx";
import { KeepDialog } from "../bench/keep-dialog.tsx";
import { SettingsSentence } from "../bench/settings-sentence.tsx";
import { Evidence } from "../evidence/evidence.tsx";

export function RunPage() {
  const { runId = "" } = useParams();
  const run = useQuery(queries.run(runId));
  if (run.error) return <Failure error={run.error} />;
  if (!run.data) return <Loading what="the run" />;
  return <OpenRun key={runId} run={run.data} />;
}

const nothing = (): void => undefined;

function OpenRun({ run }: { readonly run: RunEvidence }) {
  const markets = useQuery(queries.markets());
  const client = useQueryClient();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const [keeping, setKeeping] = useState(false);
  const [reveal, setReveal] = useState<{ line: number; turn: number } | null>(null);
  const setTab = useCallback((tab: string) => setSearch({ tab }, { replace: true }), [setSearch]);
  const showLine = useCallback((line: number) => setReveal((last) => ({ line, turn: (last?.turn ?? 0) + 1 })), []);
  const market = markets.data?.find(({ instrument }) => instrument.symbol === run.settings.symbol);
  const makeCurrent = async (): Promise<void> => {
    try {
      const { source, inputs, settings } = run;
      const saved = await api.put(`/plans/${run.planId}`, { source, inputs, settings });
      client.setQueryData(queries.plan(run.planId).queryKey, saved as never);
      navigate(`/plans/${run.planId}`);
    } catch (error) {
      toast.error(messageOf(error));
    }
  };
  useCommands([
    { id: "keep", label: run.kept ? "Rename this run" : "Keep this run", keys: "Ctrl+S", act: () => setKeeping(true) },
    { id: "current", label: "Make this run's source and settings current", act: () => void makeCurrent() },
  ]);
  return (
    <>
      <BenchLayout
        head={
          <>
            <h1 className="font-semibold text-[15px]">{run.kept?.name ?? `${run.title}, draft run`}</h1>
            <Link to={`/plans/${run.planId}`} className="text-[13px] text-soft hover:underline">
              {run.title}
            </Link>
          </>
        }
        sentence={<SettingsSentence settings={run.settings} markets={markets.data ?? []} readOnly onChange={nothing} />}
        action={
          <Button variant="primary" onClick={() => void makeCurrent()}>
            Make current
          </Button>
        }
        ribbon={<HistoryRibbon symbol={run.settings.symbol} from={run.settings.from} to={run.settings.to} readOnly onChange={nothing} />}
        editor={<Editor value={run.source} readOnly problem={null} reveal={reveal} />}
        inputs={
          <>
            <InputsForm specs={run.inputSpecs} values={run.inputs} readOnly onChange={nothing} />
            <p className="px-3 pb-2 font-mono text-[12px] text-soft">
              fingerprint {run.fingerprint} · data {run.dataHash.slice(0, 12)}
            </p>
            {run.kept?.note ? <p className="whitespace-pre-wrap px-3 pb-3">{run.kept.note}</p> : null}
          </>
        }
        evidence={
          <Evidence
            run={run}
            market={market}
            tab={search.get("tab") ?? "summary"}
            onTab={setTab}
            onLine={showLine}
            aside={
              <div className="flex items-center gap-1">
                <span className="text-[13px] text-soft">
                  {run.kept ? "kept" : "draft run"} · {duration(run.elapsedMs)}
                </span>
                <Button variant="quiet" onClick={() => setKeeping(true)}>
                  {run.kept ? "Rename" : "Keep"}
                </Button>
              </div>
            }
          />
        }
      />
      {keeping ? (
        <KeepDialog
          run={run}
          onClose={() => setKeeping(false)}
          onKept={(name, note) => client.setQueryData<RunEvidence>(queries.run(run.id).queryKey, { ...run, kept: { name, note } })}
        />
      ) : null}
    </>
  );
}
