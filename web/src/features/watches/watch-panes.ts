/** What the chart of a watch shows: bars to the one that forms, what the plan draws and waits for, its trades, and what stands at the venue. */
import type { Packed, WatchChartMeta, WatchDetail } from "@plan-tester/contract";
import { lowerBound, type Trade } from "@plan-tester/core";
import { CandleLayer, NoteLayer, TradeLayer } from "../../charts/layers.ts";
import { type Level, LevelLayer } from "../../charts/level-layer.ts";
import type { Pane } from "../../charts/pane-chart.ts";
import { plotPanes, stripPanes } from "../../charts/plot-panes.ts";
import { SessionLayer } from "../../charts/strip-layers.ts";
import { decimalsOf, number, priceText, units } from "../../lib/format.ts";

/** The chart has half of the page: rows must hold their words all the same. */
const STRIP_WEIGHT = 0.4;

export type WatchChartData = Packed<WatchChartMeta>;

/** Position and orders of the watch's own instrument, as lines. */
export function levelsOf({ positions, workingOrders, settings }: WatchDetail, decimals: number): Level[] {
  const levels: Level[] = [];
  const add = (price: number | null, words: string, color: Level["color"], dash: readonly number[], isSeen: boolean): void => {
    if (price !== null) levels.push({ price, words: `${words} ${priceText(price, decimals)}`, color, dash, isSeen });
  };
  for (const { symbol, units: held, entryPrice, stop, target } of positions) {
    if (symbol !== settings.symbol) continue;
    add(entryPrice, `${held > 0 ? "long" : "short"} ${units(Math.abs(held))}`, "ink", [], true);
    add(stop, "stop", "loss", [2, 3], true);
    add(target, "target", "gain", [2, 3], true);
  }
  for (const { symbol, side, quantity, kind, price } of workingOrders)
    if (symbol === settings.symbol)
      add(
        price,
        `${side > 0 ? "buy" : "sell"} ${quantity === null ? "all" : units(quantity)} ${kind}`,
        "soft",
        kind === "limit" ? [7, 3] : [3, 3],
        false,
      );
  return levels;
}

/** Trades at the bars that hold their times; those before the first bar are left out. */
export function tradesOn(
  trades: readonly Trade[],
  symbol: string,
  { time, closeTime }: { readonly time: Float64Array; readonly closeTime: Float64Array },
): Trade[] {
  const at = (ms: number): number => Math.min(time.length - 1, lowerBound(closeTime, ms + 1));
  return trades
    .filter((trade) => trade.symbol === symbol && trade.exitTime >= (time[0] ?? 0))
    .map((trade) => ({ ...trade, entryBar: at(trade.entryTime), exitBar: at(trade.exitTime), rails: [] }));
}

export interface WatchPaneParts {
  readonly chart: WatchChartData;
  readonly trades: readonly Trade[];
  readonly symbol: string;
  readonly levels: readonly Level[];
  readonly withStrips: boolean;
  readonly decimals: number;
  readonly tickSize: number;
}

export function watchPanes({ chart, trades, symbol, levels, withStrips, decimals, tickSize }: WatchPaneParts): readonly Pane[] {
  const { meta, columns, bytes } = chart;
  const { open, high, low, close, time, closeTime, session } = columns as Record<
    "open" | "high" | "low" | "close" | "time" | "closeTime" | "session",
    Float64Array
  >;
  const plots = meta.plots.map(({ pane, shift }, k) => {
    const values = columns[`plot${k}`]!;
    const places = pane === "price" ? decimals : decimalsOf(values);
    return { pane, shift, values, format: (value: number) => number(value, places) };
  });
  const { over, below } = plotPanes(plots);
  const notes = meta.notes.map((note) => ({ ...note, barIndex: Math.min(time.length - 1, lowerBound(closeTime, note.timeMs)) }));
  const strips = withStrips ? meta.strips.map((label, k) => ({ label, values: bytes[`strip${k}`]! })) : [];
  return [
    {
      ...{ id: "price", weight: 3, grid: tickSize, format: (value: number) => priceText(value, decimals) },
      layers: [
        new SessionLayer(Int32Array.from(session)),
        ...over,
        new TradeLayer(tradesOn(trades, symbol, { time, closeTime }), null),
        new CandleLayer({ open, high, low, close }),
        new NoteLayer(notes, high),
        new LevelLayer(levels),
      ],
    },
    ...below,
    ...stripPanes(strips, STRIP_WEIGHT),
  ];
}
