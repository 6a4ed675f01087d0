/** One sweep: live while it runs, then a ranked table and a surface; a row opens as a full run. */

import { aimOf, marketsOf, runOfVariant, type SweepDetail } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { useServerEvents } from "../../data/events.ts";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { aimWords } from "../../lib/aims.ts";
import { useCommands } from "../../lib/commands.ts";
import { number, periodWords } from "../../lib/format.ts";
import { Page } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import { useRunner } from "../drafts/use-runner.ts";
import { Effects } from "./effects.tsx";
import { InOut } from "./in-out.tsx";
import { LaterPeriod } from "./later-period.tsx";
import { RatioToExpect } from "./luck-part.tsx";
import { Overfit } from "./overfit.tsx";
import { Parallel } from "./parallel.tsx";
import { Plateau } from "./plateau.tsx";
import { SelectedVariant } from "./selected-variant.tsx";
import { Surface } from "./surface.tsx";
import { type LiveProgress, SweepProgress } from "./sweep-progress.tsx";
import { SweepTable } from "./sweep-table.tsx";
import { SweepTrust } from "./sweep-trust.tsx";
import { type SweepViewProps, valueText } from "./sweep-view.ts";
import { useCandidates } from "./use-candidates.ts";
import { useVariants } from "./use-variants.ts";

const VIEWS = [
  ["trust", "Trust"],
  ["surface", "Surface"],
  ["effects", "Effects"],
  ["parallel", "Parallel"],
  ["in-out", "In against out"],
  ["plateau", "Plateau"],
  ["overfit", "Overfitting"],
] as const;

/** Figures of many variants are long: they are asked for again the more seldom, the more there are. */
const refreshMs = (variants: number): number => 250 + variants / 40;

export function SweepPage() {
  const { sweepId = "" } = useParams();
  const sweep = useQuery(queries.sweep(sweepId));
  const figures = useQuery(queries.sweepFigures(sweepId));
  const client = useQueryClient();
  const [live, setLive] = useState<LiveProgress | null>(null);
  const asked = useRef(0);
  useServerEvents((event) => {
    if (event.type === "sweep-progress" && event.id === sweepId) {
      setLive(event);
      if (performance.now() - asked.current < refreshMs(event.variants)) return;
      asked.current = performance.now();
      void client.invalidateQueries(queries.sweepFigures(sweepId));
    }
    if (event.type === "sweep-done" && event.id === sweepId) setLive(null);
  });
  const status = sweep.data?.status;
  useEffect(() => {
    if (status && status !== "running") void client.invalidateQueries(queries.sweepFigures(sweepId));
  }, [client, status, sweepId]);
  if (sweep.error) return <Failure error={sweep.error} />;
  if (!sweep.data || !figures.data) return <Loading what="the sweep" />;
  const { points, figures: values } = figures.data.columns;
  return <OpenSweep sweep={sweep.data} points={points!} figures={values!} live={live} />;
}

interface OpenSweepProps {
  readonly sweep: SweepDetail;
  readonly points: Float64Array;
  readonly figures: Float64Array;
  readonly live: LiveProgress | null;
}

function OpenSweep({ sweep, points, figures, live }: OpenSweepProps) {
  const navigate = useNavigate();
  const { run } = useRunner();
  const [selected, setSelected] = useState<number | null>(null);
  const { request } = sweep;
  const data = useVariants(sweep, points, figures);
  const { inputs, variants, stretches } = data;
  const open = async (variant: number, stretch: 0 | 1): Promise<void> => {
    const period = stretch === 1 && request.outOfSample ? request.outOfSample : {};
    const evidence = await run({
      ...{ planId: sweep.planId, source: sweep.source },
      ...runOfVariant(variants[variant]!, { ...request.settings, ...period }),
    });
    if (evidence) navigate(`/runs/${evidence.id}`);
    else toast.error("The variant could not be run again.");
  };
  const sessionsPerYear = instrumentOf(useMarkets(), request.settings.symbol)?.calendar.sessionsPerYear ?? 252;
  const candidates = useCandidates(sweep, data);
  const { id } = sweep;
  const changes = { pause: useChange("pauseSweep"), resume: useChange("resumeSweep"), stop: useChange("stopSweep") };
  const act = (what: keyof typeof changes): void => void changes[what].run({ id });
  const running = sweep.status === "running";
  useCommands([
    ...(running
      ? [
          { id: "stop-sweep", label: "Stop the sweep", act: () => act("stop") },
          { id: "pause-sweep", label: "Pause the sweep", act: () => act("pause") },
        ]
      : []),
    ...(sweep.status === "paused" ? [{ id: "resume-sweep", label: "Go on with the sweep", act: () => act("resume") }] : []),
  ]);
  const { symbols, timeframes } = marketsOf(request.settings, request.ranges);
  const view: SweepViewProps = { ...data, selected, onSelect: setSelected };
  return (
    <Page
      name={`Sweep of ${sweep.planTitle}`}
      title={
        <>
          Sweep of {sweep.planTitle}{" "}
          <span className="font-normal text-soft">
            on {symbols.join(", ")} in {timeframes.map(timeframeLabel).join(", ")}, aiming at {aimWords(request.aim)}
          </span>
        </>
      }
      aside={<SweepProgress sweep={sweep} live={live} onAct={act} />}
    >
      <Tabs.Root defaultValue="table" className="flex h-full min-h-0 flex-col">
        <div className="flex flex-wrap items-center gap-x-4 border-rule border-b px-2 py-0.5">
          <Tabs.List aria-label="Views of the sweep" className="flex">
            <Tabs.Trigger value="table" className={tabClass}>
              Table
            </Tabs.Trigger>
            {VIEWS.map(([value, label]) => (
              <Tabs.Trigger key={value} value={value} className={tabClass}>
                {label}
              </Tabs.Trigger>
            ))}
            {sweep.failures.length > 0 ? (
              <Tabs.Trigger value="failures" className={tabClass}>
                Failures {number(sweep.failed)}
              </Tabs.Trigger>
            ) : null}
          </Tabs.List>
          {stretches === 2 ? <LaterPeriod sweep={sweep} /> : null}
          <RatioToExpect sweepId={sweep.id} isDone={!running && sweep.status !== "paused"} />
        </div>
        <SelectedVariant view={view} candidates={candidates} onOpen={(variant, stretch) => void open(variant, stretch)} />
        {sweep.error ? <p className="px-4 py-2 text-loss">{sweep.error}</p> : null}
        <Tabs.Content value="table" className="min-h-0 flex-1">
          {variants.length === 0 || (live?.done ?? sweep.done) === 0 ? (
            <Empty title="The first variants are running">They appear here as they are done.</Empty>
          ) : (
            <SweepTable
              {...view}
              isBlend={aimOf(request.aim).terms.length > 1}
              periods={[request.settings, request.outOfSample].flatMap((stretch) => (stretch ? [periodWords(stretch)] : []))}
              onOpen={(variant, stretch) => void open(variant, stretch)}
            />
          )}
        </Tabs.Content>
        <Tabs.Content value="surface" className="min-h-0 flex-1 overflow-auto">
          <Surface {...view} />
        </Tabs.Content>
        <Tabs.Content value="effects" className="min-h-0 flex-1">
          <Effects {...view} />
        </Tabs.Content>
        <Tabs.Content value="parallel" className="min-h-0 flex-1">
          <Parallel {...view} />
        </Tabs.Content>
        <Tabs.Content value="in-out" className="min-h-0 flex-1">
          <InOut {...view} />
        </Tabs.Content>
        <Tabs.Content value="plateau" className="min-h-0 flex-1">
          <Plateau {...view} />
        </Tabs.Content>
        <Tabs.Content value="trust" className="min-h-0 flex-1">
          <SweepTrust sweep={sweep} view={view} isDone={!running && sweep.status !== "paused"} sessionsPerYear={sessionsPerYear} />
        </Tabs.Content>
        <Tabs.Content value="overfit" className="min-h-0 flex-1">
          <Overfit sweepId={sweep.id} isDone={!running && sweep.status !== "paused"} sessionsPerYear={sessionsPerYear} />
        </Tabs.Content>
        <Tabs.Content value="failures" className="min-h-0 flex-1 overflow-auto p-3">
          <ul className="flex flex-col gap-1">
            {sweep.failures.map(({ variant, message }) => (
              <li key={variant}>
                <strong>{inputs.map(({ name, label }) => `${label} ${valueText(variants[variant]?.[name])}`).join(", ")}</strong>: {message}
              </li>
            ))}
          </ul>
          {sweep.failed > sweep.failures.length ? (
            <p className="pt-2 text-soft">And {number(sweep.failed - sweep.failures.length)} more, which failed after these.</p>
          ) : null}
        </Tabs.Content>
      </Tabs.Root>
    </Page>
  );
}
