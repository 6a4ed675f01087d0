/** How the members move together: over all days, on the worst ones, and through time; twins said with their reason. */
import type { Correlations, Twins } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { LineLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { PaneChartView } from "../../charts/pane-chart-view.tsx";
import { dayAt, number, percent } from "../../lib/format.ts";
import { td } from "../../ui/page.tsx";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";

export interface CorrelationPartProps {
  readonly labels: readonly string[];
  readonly quick: QuickAnswer;
  readonly slow: SlowAnswer | null;
  readonly onLeaveOut: (k: number) => void;
}

export function CorrelationPart({ labels, quick, slow, onLeaveOut }: CorrelationPartProps) {
  const [isWorst, setWorst] = useState(false);
  const shown = isWorst ? slow?.worst : quick.correlations;
  return (
    <section className="flex min-w-80 flex-1 flex-col gap-2">
      <h2 className="font-semibold text-[14px]">How they move together</h2>
      {quick.twins.map((twins) => (
        <TwinWarning key={`${twins.a} ${twins.b}`} {...{ twins, labels, onLeaveOut }} />
      ))}
      <div className="flex items-center gap-3 text-[13px]">
        <label className="flex items-center gap-1">
          <input type="radio" name="days" checked={!isWorst} className="accent-(--accent)" onChange={() => setWorst(false)} /> all days
        </label>
        <label className="flex items-center gap-1">
          <input type="radio" name="days" checked={isWorst} className="accent-(--accent)" onChange={() => setWorst(true)} /> the{" "}
          {slow ? number(slow.worstDays) : ""} worst days of the blend
        </label>
      </div>
      {shown ? <Matrix labels={labels} of={shown} /> : <p className="text-soft">…</p>}
      {slow ? <Rolling {...slow} /> : null}
    </section>
  );
}

function TwinWarning({
  twins: { a, b, correlation, shared },
  labels,
  onLeaveOut,
}: { readonly twins: Twins } & Omit<CorrelationPartProps, "quick" | "slow">) {
  const reasons = [
    correlation === null ? "" : `their daily results correlate ${number(correlation, 2)}`,
    shared > 0 ? `${percent(shared, 0)} of entries lie inside a trade of the other` : "",
  ].filter(Boolean);
  return (
    <p role="alert" className="flex flex-wrap items-center gap-x-2 border-loss border-l-3 bg-loss-wash px-2.5 py-1.5 text-[13px]">
      <span>
        <strong>Twins:</strong> {labels[a]} and {labels[b]}: {reasons.join(", and ")}. Together they are one bet of twice the size.
      </span>
      <button type="button" className="underline" onClick={() => onLeaveOut(b)}>
        Leave out {b + 1}
      </button>
    </p>
  );
}

/** Darker the more two go together, hatched below 0: told by the number as well. */
function Matrix({ labels, of }: { readonly labels: readonly string[]; readonly of: Correlations }) {
  return (
    <div className="overflow-x-auto">
      <table className="text-[13px] tabular-nums">
        <caption className="sr-only">Correlation of daily results</caption>
        <thead>
          <tr>
            <th className="px-2 py-1 text-left font-normal text-soft">Correlation of daily results</th>
            {labels.map((label, k) => (
              <th key={label} scope="col" className="px-2 py-1 text-right font-normal text-soft" title={label}>
                {k + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {of.map((row, a) => (
            <tr key={labels[a]}>
              <th scope="row" className={`${td} max-w-64 truncate text-left font-normal`} title={labels[a]}>
                {labels[a]}
              </th>
              {row.map((value, b) => (
                <td
                  key={labels[b]}
                  className="border-rule/60 border-b px-2 py-1 text-right"
                  style={
                    a === b || value === null
                      ? {}
                      : {
                          background: `color-mix(in oklab, var(--${value < 0 ? "accent" : "loss"}) ${Math.round(Math.abs(value) * 40)}%, transparent)`,
                        }
                  }
                >
                  {a === b ? <span className="text-soft">–</span> : number(value, 2)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Rolling({ rolling, days }: Pick<SlowAnswer, "rolling" | "days">) {
  const [view, setView] = useState<View | null>(null);
  const panes = useMemo<Pane[]>(
    () => [
      { id: "rolling", weight: 1, format: (value) => number(value, 1), layers: [new LineLayer(rolling, { color: "accent", fillTo: 0 })] },
    ],
    [rolling],
  );
  if (rolling.every(Number.isNaN)) return null;
  return (
    <div className="flex h-32 flex-col">
      <p className="text-[12px] text-soft">Mean correlation of all pairs over the last 60 days</p>
      <PaneChartView
        label="Mean correlation over the last 60 days"
        panes={panes}
        time={days}
        zone="UTC"
        view={view ?? { from: 0, to: days.length - 1 }}
        onView={setView}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {dayAt(days[i]!, "UTC")} · <strong>{number(rolling[i], 2)}</strong>
          </>
        )}
      />
    </div>
  );
}
