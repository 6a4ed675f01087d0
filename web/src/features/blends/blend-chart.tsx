/** The joint curve over its members, its falls, and what was held. */
import { useMemo, useState } from "react";
import { CurveKey } from "../../charts/curve-key.tsx";
import { LineLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { PaneChartView } from "../../charts/pane-chart-view.tsx";
import { number, timeAt } from "../../lib/format.ts";
import { LOOKS } from "../compare/names.ts";
import type { BlendChart as Shown } from "./blend-work.ts";

/** The first look is the blend's own. */
export const lookOf = (k: number): (typeof LOOKS)[number] => LOOKS[1 + (k % (LOOKS.length - 1))]!;

export interface BlendChartProps {
  readonly chart: Shown;
  readonly labels: readonly string[];
  readonly zone: string;
  /** Whether weights were chosen on the first days. */
  readonly isChosen: boolean;
}

const percentText = (value: number): string => `${number(value, Math.abs(value) < 10 ? 1 : 0)} %`;

export function BlendChart({ chart, labels, zone, isChosen }: BlendChartProps) {
  const { time, joint, members, fall, value, margin, cut } = chart;
  const [view, setView] = useState<View | null>(null);
  const panes = useMemo<Pane[]>(() => {
    const hasMargin = margin.some((one) => one > 0);
    return [
      {
        ...{ id: "profit", weight: 3, format: (made: number) => number(made) },
        layers: [
          ...members.map((values, k) => new LineLayer(values, { ...lookOf(k), width: 1 })),
          new LineLayer(joint, { color: "ink", width: 2.2 }),
        ],
      },
      {
        ...{ id: "fall", weight: 1.1, format: percentText, max: 0 },
        layers: [new LineLayer(fall, { color: "loss", fillTo: 0, fill: "loss-wash", width: 1 })],
      },
      {
        ...{ id: "held", weight: 0.9, format: percentText },
        layers: [
          new LineLayer(value, { color: "soft", fillTo: 0, fill: "sunk", width: 1 }),
          ...(hasMargin ? [new LineLayer(margin, { color: "accent" })] : []),
        ],
      },
    ];
  }, [joint, members, fall, value, margin]);
  if (time.length < 2) return null;
  return (
    <section className="flex min-w-0 flex-1 flex-col" aria-label="The blend over time">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-0.5 text-[12px] text-soft">
        <CurveKey color="ink" dash={[]}>
          <strong className="text-ink">the blend</strong>
        </CurveKey>
        {labels.map((label, k) => (
          <CurveKey key={label} {...lookOf(k)}>
            {label}
          </CurveKey>
        ))}
      </div>
      <PaneChartView
        label="Profit of the blend and its members, its fall, and the value of what is held; the tables say the same in figures"
        panes={panes}
        time={time}
        zone={zone}
        view={view ?? { from: 0, to: time.length - 1 }}
        onView={setView}
        cursor={isChosen && cut > 0 ? cut : null}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {timeAt(time[i]!, zone)} · blend <strong>{number(joint[i])}</strong>, fallen {percentText(-fall[i]!)}
            {members.map((values, k) => (
              <span key={labels[k]}>
                {" "}
                · {k + 1} <strong>{number(values[i])}</strong>
              </span>
            ))}
            {" · held "}
            {percentText(value[i]!)}
          </>
        )}
      />
      <p className="text-[12px] text-soft">
        Profit at the closes of all bars; below, how far the blend is under its peak and the value of what it holds, both in percent of the
        account.
        {isChosen ? " The line marks the last day by which weights were chosen." : ""}
      </p>
    </section>
  );
}
