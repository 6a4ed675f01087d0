/** Two to eight runs side by side: figures, curves, what differs in what made them, and for two of one plan their trades. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useMarkets, zoneOf } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { saveFile } from "../../lib/files.ts";
import { useShownZone } from "../../lib/shown-zone.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { Page, td, th } from "../../ui/page.tsx";
import { Empty, Failure } from "../../ui/states.tsx";
import { useNewBlend } from "../run-view/new-blend.ts";
import { DiffView } from "../versions/diff-view.tsx";
import { compareReportHtml } from "./compare-report.ts";
import { CurvesCompared } from "./curves-compared.tsx";
import { differencesOf } from "./differences.ts";
import { ExitsCompared } from "./exits-compared.tsx";
import { FiguresCompared } from "./figures-compared.tsx";
import { nameOf } from "./names.ts";
import { ToDrawdown } from "./to-drawdown.tsx";
import { TradesCompared } from "./trades-compared.tsx";
import { MOST_COMPARED, useCompared } from "./use-compared.ts";

export function ComparePage() {
  const [search, setSearch] = useSearchParams();
  const ids = (search.get("runs") ?? "").split(",").filter(Boolean);
  const { runs, errors, waiting, ids: shown } = useCompared(ids, search.get("batch") ?? "");
  const blend = useNewBlend();
  const set = (next: readonly string[]): void => setSearch({ runs: next.join(",") }, { replace: true });
  return (
    <Page
      title="Compare"
      aside={
        <>
          {shown.length < MOST_COMPARED ? <AddRun known={shown} onAdd={(id) => set([...shown, id])} /> : null}
          <Button
            disabled={runs.length === 0 || runs.length < shown.length}
            onClick={() => void blend(runs.map(({ id }) => id))}
            title="Set these runs on one account, with sizes"
          >
            Blend them
          </Button>
          <Button
            disabled={runs.length < 2}
            onClick={() => saveFile("Comparison.html", compareReportHtml(runs), "text/html")}
            title="An HTML file that prints well"
          >
            Report
          </Button>
        </>
      }
    >
      <div className="flex flex-col gap-5 p-4">
        {errors.map((error) => (
          <Failure key={String(error)} error={error} />
        ))}
        {waiting > 0 ? (
          <p role="status" className="text-soft">
            {waiting} more to come …
          </p>
        ) : null}
        {runs.length === 0 && waiting === 0 ? (
          <Empty title="Nothing to compare yet">Choose two to eight runs in Runs, or add one here.</Empty>
        ) : null}
        {runs.length > 0 ? <Chosen runs={runs} onRemove={(id) => set(shown.filter((other) => other !== id))} /> : null}
        {runs.length > 1 ? <Compared runs={runs} /> : null}
      </div>
    </Page>
  );
}

function Chosen({ runs, onRemove }: { readonly runs: readonly RunEvidence[]; readonly onRemove: (id: string) => void }) {
  return (
    <ul className="flex flex-wrap gap-1.5 text-[13px]" aria-label="Runs that are compared">
      {runs.map((run, k) => (
        <li key={run.id} className="flex items-center gap-1 rounded bg-sunk px-2 py-0.5">
          {k + 1} · {nameOf(run)}
          <button
            type="button"
            aria-label={`Leave out ${nameOf(run)}`}
            className="rounded p-0.5 text-soft hover:text-ink"
            onClick={() => onRemove(run.id)}
          >
            <X size={12} aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}

function AddRun({ known, onAdd }: { readonly known: readonly string[]; readonly onAdd: (id: string) => void }) {
  const recent = useQuery(queries.batch("", 0)).data?.runs ?? [];
  return (
    <Select aria-label="Add a run" className="w-64" value="" onChange={(event) => event.target.value && onAdd(event.target.value)}>
      <option value="">add a kept run …</option>
      {recent
        .filter(({ id }) => !known.includes(id))
        .map(({ id, name, planTitle }) => (
          <option key={id} value={id}>
            {name} · {planTitle}
          </option>
        ))}
    </Select>
  );
}

function Compared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const shownZone = useShownZone();
  const markets = useMarkets();
  const [first, second] = runs as readonly [RunEvidence, RunEvidence];
  const isPair = runs.length === 2 && first.planId === second.planId && first.settings.symbol === second.settings.symbol;
  return (
    <>
      <div className="flex flex-wrap gap-x-6 gap-y-4">
        <FiguresCompared runs={runs} />
        <CurvesCompared runs={runs} />
      </div>
      <ToDrawdown runs={runs} />
      <ExitsCompared runs={runs} />
      <DifferencesTable runs={runs} />
      {isPair ? <TradesCompared a={first} b={second} zone={shownZone(zoneOf(markets, first.settings.symbol))} /> : null}
      <SourcesCompared runs={runs} />
    </>
  );
}

function DifferencesTable({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const rows = differencesOf(runs);
  if (rows.length === 0) return <p className="text-soft">Nothing differs in what made them: the same text, inputs, settings and data.</p>;
  return (
    <section className="overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[13px]">What differs in what made them</h2>
      <table className="text-[13px]">
        <thead>
          <tr>
            <th className={th}>What</th>
            {runs.map((run, k) => (
              <th key={run.id} className={th} scope="col">
                {k + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, values }) => (
            <tr key={name}>
              <th scope="row" className={`${td} text-left font-normal`}>
                {name}
              </th>
              {values.map((value, k) => (
                <td
                  key={runs[k]!.id}
                  className={`${td} max-w-60 truncate ${value === values[0] ? "text-soft" : "font-semibold"}`}
                  title={value}
                >
                  {value}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function SourcesCompared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const first = runs[0]!;
  const others = runs.slice(1).filter(({ source }) => source !== first.source);
  const [chosen, setChosen] = useState<string | null>(null);
  const [isOpen, setOpen] = useState(false);
  const other = others.find(({ id }) => id === chosen) ?? others[0];
  if (!other) return <p className="text-[13px] text-soft">All ran the same text.</p>;
  return (
    <section className="flex flex-col gap-2">
      <div className="flex items-center gap-2">
        <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Hide the texts" : "Texts side by side"}
        </Button>
        {others.length > 1 ? (
          <Select
            aria-label="Text to set beside the first"
            className="w-auto"
            value={other.id}
            onChange={(event) => setChosen(event.target.value)}
          >
            {others.map((run) => (
              <option key={run.id} value={run.id}>
                1 beside {runs.indexOf(run) + 1} · {nameOf(run)}
              </option>
            ))}
          </Select>
        ) : null}
      </div>
      {isOpen ? <DiffView before={first.source} after={other.source} className="h-96 border border-rule" /> : null}
    </section>
  );
}
