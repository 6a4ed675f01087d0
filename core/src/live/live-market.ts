/** One instrument of a plan at work: its bars and those of longer timeframes, grown minute by minute, and where they stand. */
import { firstAfter } from "../engine/ascending.ts";
import { type MinuteBar, minuteOf } from "../market/bar-frame.ts";
import type { BarColumns, BarSeries } from "../market/bars.ts";
import { GrowingBars, type SourceBar } from "../market/growing-bars.ts";
import type { Instrument } from "../market/instrument.ts";

export class LiveMarket {
  readonly instrument: Instrument;
  readonly bars: GrowingBars;
  readonly #higher = new Map<string, GrowingBars>();
  /** The last minute that has opened, and the last that is over: one that is told again is no second one. */
  #opened = Number.NEGATIVE_INFINITY;
  #over = Number.NEGATIVE_INFINITY;

  /** @param history completed bars of the run's timeframe @param minutes those since */
  constructor(instrument: Instrument, history: BarSeries, minutes: BarColumns | undefined, nowMs: number) {
    this.instrument = instrument;
    const { time } = minutes ?? EMPTY;
    this.bars = new GrowingBars(history, instrument.calendar, time[0] ?? nowMs);
    for (let i = 0; i < time.length; i++) {
      this.bars.completeBy(time[i]!);
      this.add(minuteOf(minutes!, i));
    }
    this.bars.completeBy(nowMs);
  }

  get symbol(): string {
    return this.instrument.symbol;
  }

  /** Longer timeframes that the plan looks at, made from the bars so far. */
  follow(timeframes: readonly string[], nowMs: number): void {
    const { series, completed } = this.bars;
    for (const timeframe of timeframes) {
      const none: BarSeries = { ...series, ...EMPTY, timeframe, spread: series.spread && EMPTY.time };
      const grown = new GrowingBars(none, this.instrument.calendar, series.time[0] ?? nowMs);
      for (let i = 0; i < completed; i++) takeIn(grown, this.bars.bar(i));
      this.#higher.set(timeframe, grown);
    }
  }

  /** A minute opens. @returns whether a bar begins with it; null where it has opened before */
  open(minute: number): boolean | null {
    if (minute <= this.#opened || minute <= this.#over) return null;
    this.#opened = minute;
    return this.bars.open(minute);
  }

  /** A minute is over. */
  add(minute: MinuteBar): void {
    if (minute.time <= this.#over) return;
    this.#over = minute.time;
    const { frame } = this.bars;
    this.bars.add({ ...minute, closeTime: frame.minuteClose(minute.time), session: frame.sessionOf(minute.time) });
  }

  /** It is this time: true when a bar is completed by it; those of longer timeframes with it. */
  completeBy(timeMs: number): boolean {
    const { bars } = this;
    if (!bars.completeBy(timeMs)) return false;
    for (const grown of this.#higher.values()) takeIn(grown, bars.bar(bars.completed - 1));
    return true;
  }

  get higher(): ReadonlyMap<string, BarSeries> {
    return new Map([...this.#higher].map(([timeframe, { series }]) => [timeframe, series]));
  }

  /** The bar in which a time lies: the last that opens at or before it. */
  barOf(timeMs: number): number {
    const { time, length } = this.bars.series;
    return Math.max(0, firstAfter(time, timeMs, 0, length) - 1);
  }
}

/** A bar becomes part of a longer one. Where its last ones are missing, that was over before this one. */
function takeIn(longer: GrowingBars, bar: SourceBar): void {
  longer.completeBy(bar.time);
  longer.add(bar);
  longer.completeBy(bar.closeTime);
}

const none = new Float64Array(0);
const EMPTY = {
  ...{ length: 0, time: none, open: none, high: none, low: none, close: none, volume: none, closeTime: none },
  session: new Int32Array(0),
};
