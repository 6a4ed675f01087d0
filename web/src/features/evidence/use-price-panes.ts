/** The panes of the price chart: bars with what the plan drew and traded, its own panes below, and its condition strips. */
import type { RunEvidence, RunOrders } from "@plan-tester/contract";
import { isTradeIn, type Mark, type Trade } from "@plan-tester/core";
import { useMemo } from "react";
import { CandleLayer, type Layer, NoteLayer, TradeLayer } from "../../charts/layers.ts";
import { MarkLayer } from "../../charts/mark-layer.ts";
import type { Pane } from "../../charts/pane-chart.ts";
import { plotPanes, stripPanes } from "../../charts/plot-panes.ts";
import { type NamedStrip, OrderLayer, SessionLayer } from "../../charts/strip-layers.ts";
import { decimalsOf, number, priceText } from "../../lib/format.ts";
import type { EvidenceData } from "../run-view/view.ts";
import { sameBars, type ViewBars, viewBars, viewColumn, viewNotes, viewOrders, viewStrip, viewTrades } from "./view-bars.ts";

export interface PriceParts {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  /** Bars to show instead of the run's own. */
  readonly shown: EvidenceData["bars"] | null;
  readonly orders: RunOrders | null;
  readonly strips: readonly NamedStrip[];
  readonly marks: readonly Mark[];
  readonly selected: number | null;
  readonly decimals: number;
  readonly tickSize: number;
}

export interface PricePanes {
  readonly place: ViewBars;
  readonly panes: readonly Pane[];
  readonly trades: TradeLayer;
  /** Trades of the run's own instrument. */
  readonly own: readonly Trade[];
  readonly plots: readonly Float64Array[];
  /** Of each plot's values: the price's over the price, elsewhere by their size. */
  readonly plotDecimals: readonly number[];
}

export function usePricePanes({ run, data, shown, orders, strips, marks, selected, decimals, tickSize }: PriceParts): PricePanes {
  const place = useMemo(() => (shown ? viewBars(data.bars, shown) : sameBars(data.bars)), [data.bars, shown]);
  const isOwn = shown === null;
  // Bars of the run's other instruments have numbers of their own.
  const own = useMemo(() => run.trades.filter((trade) => isTradeIn(trade, run.settings)), [run]);
  const trades = useMemo(() => new TradeLayer(isOwn ? own : viewTrades(own, place), selected), [own, isOwn, place, selected]);
  const plots = useMemo(
    () =>
      run.plots
        .map((_plot, i) => data.plots[`plot${i}`] ?? new Float64Array(0))
        .map((values) => (isOwn ? values : viewColumn(values, place))),
    [run.plots, data.plots, isOwn, place],
  );
  const plotDecimals = useMemo(
    () => run.plots.map(({ pane }, i) => (pane === "price" ? decimals : decimalsOf(plots[i]))),
    [run.plots, plots, decimals],
  );
  const panes = useMemo<Pane[]>(() => {
    const { open, high, low, close, session } = place.bars;
    const working = orders?.orders.filter(({ state }) => state !== "refused") ?? [];
    const { over: drawn, below } = plotPanes(
      run.plots.map(({ pane, shift }, i) => ({
        ...{ pane, shift: isOwn ? shift : 0, values: plots[i]! },
        format: (value) => number(value, plotDecimals[i]),
      })),
    );
    const over: Layer[] = [
      new SessionLayer(session),
      ...drawn,
      trades,
      new OrderLayer(isOwn ? working : viewOrders(working, place), place.toView(run.barsDone - 1)),
      new CandleLayer({ open, high, low, close }),
      ...(marks.length > 0 ? [new MarkLayer(marks, place.bars.time, null)] : []),
      new NoteLayer(isOwn ? run.notes : viewNotes(run.notes, place), high),
    ];
    const rows = strips.map(({ label, values }) => ({ label, values: isOwn ? values : viewStrip(values, place) }));
    return [
      { id: "price", weight: 3, layers: over, format: (value) => priceText(value, decimals), grid: tickSize },
      ...below,
      ...stripPanes(rows),
    ];
  }, [run, place, isOwn, orders, trades, plots, plotDecimals, strips, marks, decimals, tickSize]);
  return { place, panes, trades, own, plots, plotDecimals };
}
