/** The minutes a watch has seen, history first, and the plan's bars made from them. */
import { type BarColumns, type BarSeries, type Instrument, MINUTE_MS, makeSeries, resample, sliceSeries } from "@plan-tester/core";
import type { VenueBar } from "@plan-tester/venue";

const NAMES = ["time", "open", "high", "low", "close", "volume"] as const;

export class LiveBars {
  readonly #instrument: Instrument;
  readonly #timeframe: string;
  readonly #minutes: Record<(typeof NAMES)[number], number[]>;
  #count = 0;
  #series: BarSeries;

  /** `history` is a stretch of minutes that ends where the live ones begin. */
  constructor(instrument: Instrument, timeframe: string, history: BarColumns, live: BarColumns) {
    this.#instrument = instrument;
    this.#timeframe = timeframe;
    this.#minutes = { time: [], open: [], high: [], low: [], close: [], volume: [] };
    for (const columns of [history, live]) for (const name of NAMES) for (const value of columns[name]) this.#minutes[name].push(value);
    this.#series = this.#completed();
    this.#count = this.#series.length;
  }

  get series(): BarSeries {
    return this.#series;
  }

  /** Adds a finished minute; returns the series when a bar of the plan's timeframe has completed with it. */
  add(bar: VenueBar): BarSeries | null {
    const last = this.#minutes.time.at(-1);
    if (last !== undefined && bar.time <= last) return null;
    for (const name of NAMES) this.#minutes[name].push(bar[name]);
    const series = this.#completed();
    if (series.length === this.#count) return null;
    this.#count = series.length;
    this.#series = series;
    return series;
  }

  /** Bars whose close time has been reached. */
  #completed(): BarSeries {
    const columns = Object.fromEntries(NAMES.map((name) => [name, Float64Array.from(this.#minutes[name])])) as unknown as BarColumns;
    const minutes = makeSeries(columns, "1m", this.#instrument.calendar);
    const { series } = resample(minutes, this.#timeframe);
    const now = (columns.time.at(-1) ?? 0) + MINUTE_MS;
    const last = series.length - 1;
    return last >= 0 && series.closeTime[last]! > now ? sliceSeries(series, 0, last) : series;
  }
}
