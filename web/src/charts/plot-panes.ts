/** Panes for what a plan shows: lines over the price, panes of their own, and rows for its conditions. */
import { type Layer, LineLayer, type TokenName } from "./layers.ts";
import type { Pane } from "./pane-chart.ts";
import { type NamedStrip, StripLayer } from "./strip-layers.ts";

export interface Plot {
  readonly pane: "price" | "own";
  /** Bars to the right of where a value is known at which it is drawn. */
  readonly shift: number;
  readonly values: Float64Array;
  readonly format: (value: number) => string;
}

const PLOT_COLORS: readonly TokenName[] = ["accent", "soft", "accent", "faint"];
/** A row of a strip beside the weight 3 of the price pane, on a chart that has the whole page. */
const STRIP_WEIGHT = 0.17;

export function plotPanes(plots: readonly Plot[]): { readonly over: readonly Layer[]; readonly below: readonly Pane[] } {
  const over: Layer[] = [];
  const below: Pane[] = [];
  plots.forEach(({ pane, shift, values, format }, i) => {
    const color = PLOT_COLORS[i % PLOT_COLORS.length]!;
    const layer = new LineLayer(values, { color, dash: i % 4 === 1 ? [4, 3] : [], width: 1.2, shift });
    if (pane === "price") over.push(layer);
    else below.push({ id: `own${i}`, weight: 1, layers: [layer], format });
  });
  return { over, below };
}

/** One pane for all of them; none where there are none. */
export const stripPanes = (rows: readonly NamedStrip[], weight = STRIP_WEIGHT): readonly Pane[] =>
  rows.length > 0
    ? [{ id: "conditions", weight: rows.length * weight, rows: rows.length, layers: [new StripLayer(rows)], format: () => "" }]
    : [];
