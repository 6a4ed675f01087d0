/**
 * The same bars with another future: up to a moment everything is as it was, after it price goes the other way. Whoever
 * acts before that moment by what comes after it acts differently on them.
 */
import type { FinerBars } from "../engine/feed.ts";
import { StudyStore } from "../language/study-store.ts";
import { type BarSeries, lowerBound, sliceSeries } from "../market/bars.ts";
import { toGrid } from "../market/price-grid.ts";
import type { RunFeed } from "./backtest.ts";

/** Prices mirrored about a pivot in logs: what rose by a tenth falls by as much; always above 0, order reversed. */
class Mirror {
  readonly #pivot: number;
  readonly #tickSize: number;

  constructor(pivot: number, tickSize: number) {
    this.#pivot = pivot;
    this.#tickSize = tickSize;
  }

  at(price: number): number {
    return Math.max(this.#tickSize, toGrid(this.#pivot ** 2 / price, this.#tickSize, "nearest"));
  }
}

type Columns = Pick<BarSeries, "open" | "high" | "low" | "close" | "volume" | "spread">;

function copyOf({ open, high, low, close, volume, spread }: BarSeries): Columns {
  return {
    open: open.slice(),
    high: high.slice(),
    low: low.slice(),
    close: close.slice(),
    volume: volume.slice(),
    spread: spread?.slice(),
  };
}

/** Bars [from, end of the series) go the other way. */
function mirrorFrom(columns: Columns, from: number, mirror: Mirror): void {
  const { open, high, low, close, volume, spread } = columns;
  for (let i = from; i < open.length; i++) {
    const [top, bottom] = [high[i]!, low[i]!];
    open[i] = mirror.at(open[i]!);
    close[i] = mirror.at(close[i]!);
    high[i] = mirror.at(bottom);
    low[i] = mirror.at(top);
    volume[i] = volume[i]! * 2 + 1;
    if (spread) spread[i] = spread[i]! * 2;
  }
}

/** A bar that is open at the moment: its open stands, the rest goes the other way with the same range. */
function turnRest({ open, high, low, close, volume }: Columns, i: number): void {
  const twice = 2 * open[i]!;
  if (twice - high[i]! <= 0) return;
  const [top, bottom] = [high[i]!, low[i]!];
  high[i] = twice - bottom;
  low[i] = twice - top;
  close[i] = twice - close[i]!;
  volume[i] = volume[i]! * 2 + 1;
}

/** How many bars are over by a time, and how many have opened before it. */
const placesOf = ({ time, closeTime }: BarSeries, ms: number): { over: number; opened: number } => ({
  over: lowerBound(closeTime, ms + 1),
  opened: lowerBound(time, ms),
});

function alteredSeries(series: BarSeries, ms: number, tickSize: number): BarSeries {
  const { over, opened } = placesOf(series, ms);
  const columns = copyOf(series);
  for (let i = over; i < opened; i++) turnRest(columns, i);
  mirrorFrom(columns, opened, new Mirror(series.close[Math.max(0, over - 1)]!, tickSize));
  return { ...series, ...columns };
}

/** Bars with finer ones inside are built from those again, where they are not over. */
function rebuild(series: BarSeries, { series: fine, first }: FinerBars, from: number): void {
  const { open, high, low, close } = series;
  for (let i = from; i < series.length; i++) {
    const [start, end] = [first[i]!, first[i + 1]!];
    if (start === end) continue;
    let [top, bottom] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
    for (let j = start; j < end; j++) {
      top = Math.max(top, fine.high[j]!);
      bottom = Math.min(bottom, fine.low[j]!);
    }
    open[i] = fine.open[start]!;
    high[i] = top;
    low[i] = bottom;
    close[i] = fine.close[end - 1]!;
  }
}

/** @param ms the moment, UTC milliseconds: closes at it belong to the past, opens at it to the future. */
export function withAlteredFuture({ instrument, store, finer, lead = 0 }: RunFeed, ms: number): RunFeed {
  const { tickSize } = instrument;
  const bars = alteredSeries(store.bars, ms, tickSize);
  const other = finer && { series: alteredSeries(finer.series, ms, tickSize), first: finer.first };
  if (other) rebuild(bars, other, placesOf(store.bars, ms).over);
  const period = lead > 0 ? sliceSeries(bars, lead, bars.length) : bars;
  return { instrument, store: new StudyStore(bars), finer: other, lead, period };
}
