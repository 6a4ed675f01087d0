/** Price with the plan's own columns, its trades as ribbons, and whatever the pointer stands on in figures. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { CandleLayer, type Layer, LineLayer, NoteLayer, type TokenName, TradeLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { clampView, PaneChartView } from "../../charts/pane-chart-view.tsx";
import { number, signed, timeAt } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Button } from "../../ui/button.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { columnsCsv } from "./exports.ts";
import { fileName, SaveButton } from "./save-button.tsx";

export interface PricePanelProps {
  readonly run: RunEvidence;
  readonly decimals: number;
  readonly tickSize: number;
  readonly selected: number | null;
  readonly onSelect: (trade: number | null) => void;
}

const FIRST_BARS = 160;
const PLOT_COLORS: readonly TokenName[] = ["accent", "soft", "accent", "faint"];

export function PricePanel(props: PricePanelProps) {
  const { settings, id } = props.run;
  const columns = useQuery(queries.runColumns(id));
  const bars = useQuery(queries.bars(settings.symbol, settings.timeframe, settings.from, settings.to));
  if (columns.error || bars.error) return <Failure error={columns.error ?? bars.error} />;
  if (!columns.data || !bars.data) return <Loading what="bars" />;
  return <PriceChart {...props} bars={bars.data.columns} plots={columns.data.columns} zone={bars.data.meta.zone} />;
}

type Columns = Readonly<Record<string, Float64Array>>;

/** View positions by plan, so that a new run keeps the place. */
const places = new Map<string, View>();

function PriceChart({
  run,
  decimals,
  tickSize,
  selected,
  onSelect,
  bars,
  plots,
  zone,
}: PricePanelProps & { readonly bars: Columns; readonly plots: Columns; readonly zone: string }) {
  const { time, open, high, low, close } = bars as Required<Record<"time" | "open" | "high" | "low" | "close", Float64Array>>;
  const { length } = time;
  const place = `${run.planId}:${run.settings.symbol}:${run.settings.timeframe}:${run.settings.from}:${run.settings.to}`;
  const [view, setView] = useState<View>(() => places.get(place) ?? clampView({ from: length - FIRST_BARS, to: length - 1 }, length));
  useEffect(() => void places.set(place, view), [place, view]);

  // Bars of the run's other instruments have numbers of their own.
  const own = useMemo(() => run.trades.filter((trade) => (trade.symbol ?? run.settings.symbol) === run.settings.symbol), [run]);
  const trades = useMemo(() => new TradeLayer(own, selected), [own, selected]);
  const panes = useMemo<Pane[]>(() => {
    const over: Layer[] = [new CandleLayer({ open, high, low, close }), trades, new NoteLayer(run.notes, high)];
    const below: Pane[] = [];
    run.plots.forEach((plot, i) => {
      const layer = new LineLayer(plots[`plot${i}`] ?? new Float64Array(0), {
        color: PLOT_COLORS[i % PLOT_COLORS.length]!,
        dash: i % 4 === 1 ? [4, 3] : [],
        width: 1.2,
        shift: plot.shift ?? 0,
      });
      if (plot.pane === "price") over.push(layer);
      else below.push({ id: `own${i}`, weight: 1, layers: [layer], format: (value) => number(value, 2) });
    });
    return [{ id: "price", weight: 3, layers: over, format: (value) => number(value, decimals), grid: tickSize }, ...below];
  }, [open, high, low, close, trades, run.plots, run.notes, plots, decimals, tickSize]);

  useEffect(() => {
    const trade = own.find((candidate) => candidate.id === selected);
    if (!trade) return;
    const middle = (trade.entryBar + trade.exitBar) / 2;
    const half = Math.max(50, (trade.exitBar - trade.entryBar) * 1.1);
    setView((current) =>
      trade.entryBar >= current.from && trade.exitBar <= current.to && current.to - current.from < half * 6
        ? current
        : clampView({ from: middle - half, to: middle + half }, length),
    );
  }, [selected, own, length]);

  const step = (direction: 1 | -1): void => {
    const at = own.findIndex((trade) => trade.id === selected);
    const next = at < 0 ? own.findIndex((trade) => trade.entryBar >= view.from) : at + direction;
    const trade = own[Math.max(0, Math.min(own.length - 1, next))];
    if (trade) onSelect(trade.id);
  };

  const chosen = run.trades.find((trade) => trade.id === selected);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex min-h-9 flex-wrap items-center gap-x-2 px-3 text-[13px]">
        <Button variant="quiet" onClick={() => step(-1)} disabled={run.trades.length === 0}>
          ‹ Trade
        </Button>
        <Button variant="quiet" onClick={() => step(1)} disabled={run.trades.length === 0}>
          Trade ›
        </Button>
        <Button variant="quiet" onClick={() => setView({ from: 0, to: length - 1 })}>
          All bars
        </Button>
        <SaveButton
          label="Save bars and studies"
          name={fileName(run.title, "bars")}
          make={() =>
            columnsCsv(time, {
              ...{ open, high, low, close, volume: bars.volume ?? new Float64Array(0) },
              ...Object.fromEntries(run.plots.map((plot, p) => [plot.label, plots[`plot${p}`] ?? new Float64Array(0)])),
              equity: plots.equity ?? new Float64Array(0),
            })
          }
        />
        {chosen ? (
          <span>
            {chosen.side > 0 ? "Long" : "Short"} {chosen.quantity} {chosen.entryTag ? `“${chosen.entryTag}” ` : ""}
            {number(chosen.entryPrice, decimals)} → {number(chosen.exitPrice, decimals)} by {chosen.reason},{" "}
            <strong>{signed(chosen.net)}</strong>
          </span>
        ) : (
          <span className="text-soft">Wheel zooms, dragging moves, a click on a ribbon picks the trade.</span>
        )}
      </div>
      <PaneChartView
        label={`Price of ${run.settings.symbol}`}
        panes={panes}
        time={time}
        zone={zone}
        view={view}
        onView={setView}
        className="min-h-0 flex-1"
        onPick={(_index, px, x) => onSelect(trades.at(px, { x, from: Math.floor(view.from), to: Math.ceil(view.to) })?.id ?? null)}
        readout={(i) => (
          <>
            {timeAt(time[i], zone)} · O {number(open[i], decimals)} H {number(high[i], decimals)} L {number(low[i], decimals)} C{" "}
            <strong>{number(close[i], decimals)}</strong>
            {run.plots.map((plot, p) => (
              <span key={plot.label}>
                {" "}
                · {plot.label} {number(plots[`plot${p}`]?.[i], plot.pane === "price" ? decimals : 2)}
              </span>
            ))}
          </>
        )}
      />
    </div>
  );
}
