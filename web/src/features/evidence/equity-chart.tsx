/** Equity with drawdown below it and the benchmark behind it. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { LineLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { PaneChartView } from "../../charts/pane-chart-view.tsx";
import { number, timeAt } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Failure, Loading } from "../../ui/states.tsx";

function drawdownOf(equity: Float64Array, capital: number): Float64Array {
  const result = new Float64Array(equity.length);
  let peak = capital;
  for (let i = 0; i < equity.length; i++) {
    peak = Math.max(peak, equity[i]!);
    result[i] = equity[i]! - peak;
  }
  return result;
}

export function EquityChart({ run, className }: { readonly run: RunEvidence; readonly className?: string }) {
  const { settings } = run;
  const columns = useQuery(queries.runColumns(run.id));
  const bars = useQuery(queries.bars(settings.symbol, settings.timeframe, settings.from, settings.to));
  if (columns.error || bars.error) return <Failure error={columns.error ?? bars.error} />;
  if (!columns.data || !bars.data) return <Loading what="the curve" />;
  const { equity } = columns.data.columns;
  return (
    <EquityPanes
      key={run.id}
      equity={equity!}
      closes={bars.data.columns.close!}
      firstOpen={bars.data.columns.open![0]!}
      capital={settings.cash}
      time={bars.data.columns.closeTime!.subarray(0, equity!.length)}
      zone={bars.data.meta.zone}
      {...(className ? { className } : {})}
    />
  );
}

interface EquityPanesProps {
  readonly equity: Float64Array;
  readonly closes: Float64Array;
  readonly firstOpen: number;
  readonly capital: number;
  readonly time: Float64Array;
  readonly zone: string;
  readonly className?: string;
}

function EquityPanes({ equity, closes, firstOpen, capital, time, zone, className }: EquityPanesProps) {
  const [view, setView] = useState<View>({ from: 0, to: equity.length - 1 });
  const benchmark = useMemo(() => closes.map((close) => (close / firstOpen) * capital), [closes, firstOpen, capital]);
  const drawdown = useMemo(() => drawdownOf(equity, capital), [equity, capital]);
  const panes = useMemo<Pane[]>(
    () => [
      {
        id: "equity",
        weight: 3,
        format: (value) => number(value),
        layers: [new LineLayer(benchmark, { color: "faint", width: 1 }), new LineLayer(equity, { color: "ink", width: 1.6 })],
      },
      {
        id: "drawdown",
        weight: 1,
        max: 0,
        format: (value) => number(value),
        layers: [new LineLayer(drawdown, { color: "loss", width: 1, fillTo: 0, fill: "loss-wash" })],
      },
    ],
    [equity, benchmark, drawdown],
  );
  return (
    <div className={`relative flex flex-col ${className ?? ""}`}>
      <p className="flex gap-4 text-[12px] text-soft" aria-hidden>
        <span className="before:mr-1.5 before:inline-block before:h-0.5 before:w-4 before:bg-ink before:align-middle">equity</span>
        <span className="before:mr-1.5 before:inline-block before:h-px before:w-4 before:bg-faint before:align-middle">buy and hold</span>
        <span className="before:mr-1.5 before:inline-block before:size-2 before:border before:border-loss before:bg-loss-wash">
          drawdown
        </span>
      </p>
      <PaneChartView
        label="Equity, drawdown and buy and hold"
        panes={panes}
        time={time}
        zone={zone}
        view={view}
        onView={setView}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {timeAt(time[i], zone)} · equity <strong>{number(equity[i])}</strong> · drawdown {number(drawdown[i])} · held{" "}
            {number(benchmark[i])}
          </>
        )}
      />
    </div>
  );
}
