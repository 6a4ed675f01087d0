/** One sweep: live while it runs, then a ranked table and a surface; a row opens as a full run. */

import { type SweepDetail, valuesOf, variantsOf } from "@plan-tester/contract";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Square } from "lucide-react";
import { Tabs } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { useCommands } from "../../app/commands.ts";
import { api, messageOf } from "../../lib/api.ts";
import { useServerEvents } from "../../lib/events.ts";
import { duration, number } from "../../lib/format.ts";
import { instrumentOf, useMarkets } from "../../lib/markets.ts";
import { queries } from "../../lib/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Page } from "../../ui/page.tsx";
import { Progress } from "../../ui/progress.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import { useRunner } from "../bench/use-runner.ts";
import { columnOf, SWEEP_DEFINITIONS } from "./aims.ts";
import { Effects } from "./effects.tsx";
import { InOut } from "./in-out.tsx";
import { Overfit } from "./overfit.tsx";
import { Parallel } from "./parallel.tsx";
import { Plateau } from "./plateau.tsx";
import { Surface } from "./surface.tsx";
import { SweepTable } from "./sweep-table.tsx";
import type { SweepViewProps } from "./sweep-view.ts";
import { useCandidates } from "./use-candidates.ts";

const VIEWS = [
  ["surface", "Surface"],
  ["effects", "Effects"],
  ["parallel", "Parallel"],
  ["in-out", "In against out"],
  ["plateau", "Plateau"],
  ["overfit", "Overfitting"],
] as const;

export function SweepPage() {
  const { sweepId = "" } = useParams();
  const sweep = useQuery(queries.sweep(sweepId));
  const figures = useQuery(queries.sweepFigures(sweepId));
  const client = useQueryClient();
  const [live, setLive] = useState<{ done: number; perSecond: number; secondsLeft: number } | null>(null);
  useServerEvents((event) => {
    if (event.type === "sweep-progress" && event.id === sweepId) {
      setLive(event);
      void client.invalidateQueries(queries.sweepFigures(sweepId));
    }
    if (event.type === "sweep-done" && event.id === sweepId) {
      setLive(null);
      void client.invalidateQueries({ queryKey: ["sweeps"] });
    }
  });
  const status = sweep.data?.status;
  useEffect(() => {
    if (status && status !== "running") void client.invalidateQueries(queries.sweepFigures(sweepId));
  }, [client, status, sweepId]);
  if (sweep.error) return <Failure error={sweep.error} />;
  if (!sweep.data || !figures.data) return <Loading what="the sweep" />;
  return <OpenSweep sweep={sweep.data} figures={figures.data.columns.figures!} live={live} />;
}

interface OpenSweepProps {
  readonly sweep: SweepDetail;
  readonly figures: Float64Array;
  readonly live: { readonly done: number; readonly perSecond: number; readonly secondsLeft: number } | null;
}

function OpenSweep({ sweep, figures, live }: OpenSweepProps) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { run } = useRunner();
  const [selected, setSelected] = useState<number | null>(null);
  const { request, inputSpecs } = sweep;
  const stretches = request.outOfSample ? 2 : 1;
  const variants = useMemo(() => variantsOf(inputSpecs, request.inputs, request), [inputSpecs, request]);
  const inputs = useMemo(
    () =>
      request.ranges.map((range) => ({
        name: range.input,
        label: inputSpecs.find(({ name }) => name === range.input)?.label ?? range.input,
        values: valuesOf(range),
      })),
    [request.ranges, inputSpecs],
  );

  const open = async (variant: number, stretch: 0 | 1): Promise<void> => {
    const period = stretch === 1 && request.outOfSample ? request.outOfSample : {};
    const evidence = await run({
      planId: sweep.planId,
      source: sweep.source,
      inputs: variants[variant]!,
      settings: { ...request.settings, ...period },
    });
    if (evidence) navigate(`/runs/${evidence.id}`);
    else toast.error("The variant could not be run again.");
  };
  const sessionsPerYear = instrumentOf(useMarkets(), request.settings.symbol)?.calendar.sessionsPerYear ?? 252;
  const candidates = useCandidates(sweep, inputs, variants);
  const stop = (): void => void api.post(`/sweeps/${sweep.id}/stop`).catch((error) => toast.error(messageOf(error)));
  const act = (what: "pause" | "resume"): void =>
    void api
      .post(`/sweeps/${sweep.id}/${what}`)
      .then(() => client.invalidateQueries({ queryKey: ["sweeps"] }))
      .catch((error) => toast.error(messageOf(error)));
  const running = sweep.status === "running";
  useCommands([
    ...(running
      ? [
          { id: "stop-sweep", label: "Stop the sweep", act: stop },
          { id: "pause-sweep", label: "Pause the sweep", act: () => act("pause") },
        ]
      : []),
    ...(sweep.status === "paused" ? [{ id: "resume-sweep", label: "Go on with the sweep", act: () => act("resume") }] : []),
  ]);

  const view: SweepViewProps = { inputs, variants, figures, stretches, aim: columnOf(request.aim), selected, onSelect: setSelected };
  const done = live?.done ?? sweep.done;
  const rowWidth = SWEEP_DEFINITIONS.length * stretches;
  const figureOf = (stretch: 0 | 1, key: "netProfit" | "returnToDrawdown"): string => {
    const at = SWEEP_DEFINITIONS.findIndex((definition) => definition.key === key);
    return SWEEP_DEFINITIONS[at]!.text(figures[selected! * rowWidth + stretch * SWEEP_DEFINITIONS.length + at]!);
  };
  return (
    <Page
      title={
        <>
          Sweep of {sweep.planTitle} <span className="font-normal text-soft">on {request.settings.symbol}</span>
        </>
      }
      aside={
        running ? (
          <>
            <div className="w-64 text-[13px] text-soft" role="status">
              {number(done)} of {number(sweep.variants)}
              {live ? ` · ${number(live.perSecond)} a second · ${duration(live.secondsLeft * 1000)} left` : ""}
              <Progress done={done} total={sweep.variants} label="Sweep" />
            </div>
            <Button onClick={() => act("pause")}>Pause</Button>
            <Button variant="danger" onClick={stop}>
              <Square size={11} aria-hidden /> Stop
            </Button>
          </>
        ) : (
          <span className="text-[13px] text-soft" data-testid="sweep-state">
            {sweep.status} · {number(sweep.done)} of {number(sweep.variants)} variants in {duration(sweep.elapsedMs)}
            {sweep.failed > 0 ? ` · ${number(sweep.failed)} failed` : ""}{" "}
            {sweep.status === "paused" ? (
              <Button variant="primary" onClick={() => act("resume")}>
                Go on
              </Button>
            ) : null}
          </span>
        )
      }
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
                Failures {number(sweep.failures.length)}
              </Tabs.Trigger>
            ) : null}
          </Tabs.List>
          {candidates.picked.length > 1 ? (
            <Button variant="primary" onClick={() => void candidates.compare()}>
              Compare {number(candidates.picked.length)} picked{stretches === 2 ? ", out-of-sample" : ""}
            </Button>
          ) : null}
          {selected === null ? (
            <span className="text-[13px] text-soft">Choose a variant to open it as a run.</span>
          ) : (
            <div className="flex flex-wrap items-center gap-x-3">
              <span>
                {inputs.map(({ name, label }) => (
                  <span key={name} className="mr-2">
                    {label} <strong>{String(variants[selected]![name])}</strong>
                  </span>
                ))}
                <span className="text-soft">
                  in {figureOf(0, "netProfit")}, {figureOf(0, "returnToDrawdown")}
                  {stretches === 2 ? ` · out ${figureOf(1, "netProfit")}, ${figureOf(1, "returnToDrawdown")}` : ""}
                </span>
              </span>
              <Button onClick={() => void open(selected, 0)}>Open in-sample run</Button>
              {stretches === 2 ? <Button onClick={() => void open(selected, 1)}>Open out-of-sample run</Button> : null}
              <Button onClick={() => void candidates.keepVariant(selected)}>Keep as variant</Button>
              <Button aria-pressed={candidates.picked.includes(selected)} onClick={() => candidates.toggle(selected)}>
                {candidates.picked.includes(selected) ? "Unpick" : "Pick to compare"}
              </Button>
            </div>
          )}
        </div>
        {sweep.error ? <p className="px-4 py-2 text-loss">{sweep.error}</p> : null}
        <Tabs.Content value="table" className="min-h-0 flex-1">
          {done === 0 ? (
            <Empty title="The first variants are under way">They appear here as they are done.</Empty>
          ) : (
            <SweepTable {...view} onOpen={(variant, stretch) => void open(variant, stretch)} />
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
        <Tabs.Content value="overfit" className="min-h-0 flex-1">
          <Overfit
            sweepId={sweep.id}
            variants={variants.length}
            isDone={!running && sweep.status !== "paused"}
            sessionsPerYear={sessionsPerYear}
          />
        </Tabs.Content>
        <Tabs.Content value="failures" className="min-h-0 flex-1 overflow-auto p-3">
          <ul className="flex flex-col gap-1">
            {sweep.failures.map(({ variant, message }) => (
              <li key={variant}>
                <strong>{inputs.map(({ name, label }) => `${label} ${String(variants[variant]?.[name])}`).join(", ")}</strong>: {message}
              </li>
            ))}
          </ul>
        </Tabs.Content>
      </Tabs.Root>
    </Page>
  );
}
