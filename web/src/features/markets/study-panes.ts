/** Where the columns of studies are drawn: over the prices those that move among them, conditions as rows, the others below. */
import { STRIP } from "@plan-tester/core";
import type { Layer } from "../../charts/layers.ts";
import type { Pane } from "../../charts/pane-chart.ts";
import { type Plot, plotPanes, stripPanes } from "../../charts/plot-panes.ts";
import { number, rangeDecimals } from "../../lib/format.ts";
import type { StudyColumn } from "./use-study-columns.ts";

type Prices = Readonly<Record<"high" | "low", Float64Array>>;

/** Values looked at to tell where a column moves. */
const LOOKED_AT = 2000;

/** Whether most values of a column lie where prices do: between the lowest low and the highest high. */
export function isAmongPrices(values: Float64Array, { high, low }: Prices): boolean {
  const stride = Math.max(1, Math.floor(values.length / LOOKED_AT));
  let [known, among, bottom, top] = [0, 0, Number.POSITIVE_INFINITY, 0];
  for (let i = 0; i < values.length; i += stride) {
    bottom = Math.min(bottom, low[i]!);
    top = Math.max(top, high[i]!);
  }
  for (let i = 0; i < values.length; i += stride) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    known++;
    if (value >= bottom * 0.9 && value <= top * 1.1) among++;
  }
  return known > 0 && among > known / 2;
}

const asStrip = (values: Float64Array): Uint8Array =>
  Uint8Array.from(values, (value) => (Number.isNaN(value) ? STRIP.unknown : value === 1 ? STRIP.yes : STRIP.no));

export function studyPanes(
  columns: readonly StudyColumn[],
  prices: Prices,
  decimals: number,
): { readonly over: readonly Layer[]; readonly below: readonly Pane[] } {
  const plots: Plot[] = [];
  const strips: { label: string; values: Uint8Array }[] = [];
  for (const { study, kind, values } of columns) {
    if (!values) continue;
    if (kind !== "number") strips.push({ label: study, values: asStrip(values) });
    else {
      const isOver = isAmongPrices(values, prices);
      const digits = isOver ? decimals : rangeDecimals(values);
      plots.push({ pane: isOver ? "price" : "own", shift: 0, values, format: (value) => number(value, digits) });
    }
  }
  const { over, below } = plotPanes(plots);
  return { over, below: [...below, ...stripPanes(strips)] };
}
