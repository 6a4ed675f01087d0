/** Equity curves of several runs over the sessions of all of them, each from its own start. */
import type { RunEvidence } from "@plan-tester/contract";
import { useMemo, useState } from "react";
import { CurveKey } from "../../charts/curve-key.tsx";
import { LineLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { PaneChartView } from "../../charts/pane-chart-view.tsx";
import { dateWords, number } from "../../lib/format.ts";
import { headsOf, LOOKS } from "./names.ts";

export function CurvesCompared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const [asReturn, setAsReturn] = useState(false);
  const dates = useMemo(() => [...new Set(runs.flatMap(({ daily }) => daily.dates))].sort(), [runs]);
  const curves = useMemo(
    () =>
      runs.map(({ daily, settings }) => {
        const byDate = new Map(daily.dates.map((date, d) => [date, daily.equity[d + 1]!]));
        return Float64Array.from(dates, (date) => {
          const value = byDate.get(date);
          return value === undefined ? Number.NaN : asReturn ? (value / settings.cash - 1) * 100 : value;
        });
      }),
    [runs, dates, asReturn],
  );
  const time = useMemo(() => Float64Array.from(dates, (date) => Date.parse(`${date}T12:00:00Z`)), [dates]);
  const [view, setView] = useState<View | null>(null);
  const panes = useMemo<Pane[]>(
    () => [
      {
        id: "equity",
        weight: 3,
        format: (value) => (asReturn ? `${number(value, 1)} %` : number(value)),
        layers: curves.map((values, k) => new LineLayer(values, { ...LOOKS[k % LOOKS.length]!, width: 1.5 })),
      },
    ],
    [curves, asReturn],
  );
  if (dates.length < 2) return null;
  const heads = headsOf(runs);
  return (
    <section className="flex h-[26rem] min-w-96 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-4 text-[12px] text-soft">
        {runs.map((run, k) => (
          <CurveKey key={run.id} {...LOOKS[k]!}>
            {k + 1} · {heads[k]}
          </CurveKey>
        ))}
        <label className="ml-auto flex items-center gap-1">
          <input type="checkbox" checked={asReturn} onChange={(event) => setAsReturn(event.target.checked)} /> as return
        </label>
      </div>
      <PaneChartView
        label="Equity of the runs; the table says the same in figures"
        panes={panes}
        time={time}
        zone="UTC"
        view={view ?? { from: 0, to: dates.length - 1 }}
        onView={setView}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {dateWords(dates[i]!)}
            {curves.map((values, k) => (
              <span key={runs[k]!.id}>
                {" "}
                · {k + 1} <strong>{number(values[i], asReturn ? 1 : 0)}</strong>
              </span>
            ))}
          </>
        )}
      />
    </section>
  );
}
