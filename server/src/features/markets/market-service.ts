/** Instruments and their bars: loaded once, resampled once, cut to periods by sharing memory. */

import type { HistoryThumbnail, Market, RunSettings } from "@plan-tester/contract";
import {
  type BarSeries,
  DAY_MS,
  type Instrument,
  lowerBound,
  PlanTesterError,
  type Resampled,
  sliceByTime,
  sliceSeries,
  wallToUtc,
} from "@plan-tester/core";
import type { DataSet, FeedData } from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { Database } from "../../db/database.ts";
import { InstrumentEntity, type InstrumentRow } from "../../db/entities.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { BarRepository } from "./bar-repository.ts";

/** Base series kept in memory. Three hold what a working session touches. */
const KEPT_SERIES = 4;
const KEPT_RESAMPLED = 12;
/** Bars ahead of a period that warm its studies up (R2.7): all that most studies need, and no more than is quickly computed. */
const MAX_LEAD_BARS = 40_000;
/** A sweep over two stretches holds twice as many series, which is what a plan process keeps. */
const MOST_INSTRUMENTS = 7;

/** A series in memory of its own: a cut one would be sent with all that it was cut from. */
function copied(series: BarSeries): BarSeries {
  const { time, open, high, low, close, volume, spread, closeTime, session } = series;
  return {
    ...series,
    ...{ time: time.slice(), open: open.slice(), high: high.slice(), low: low.slice(), close: close.slice(), volume: volume.slice() },
    ...{ spread: spread?.slice(), closeTime: closeTime.slice(), session: session.slice() },
  };
}

class Kept<T> {
  readonly #entries = new Map<string, Promise<T>>();
  readonly #most: number;

  constructor(most: number) {
    this.#most = most;
  }

  get(key: string, make: () => Promise<T>): Promise<T> {
    const known = this.#entries.get(key);
    if (known) {
      this.#entries.delete(key);
      this.#entries.set(key, known);
      return known;
    }
    const made = make();
    made.catch(() => this.#entries.delete(key));
    this.#entries.set(key, made);
    if (this.#entries.size > this.#most) this.#entries.delete(this.#entries.keys().next().value!);
    return made;
  }

  clear(): void {
    this.#entries.clear();
  }
}

export class MarketService {
  readonly #database: Database;
  readonly #bars: BarRepository;
  readonly #base = new Kept<BarSeries>(KEPT_SERIES);
  readonly #resampled = new Kept<Resampled>(KEPT_RESAMPLED);
  readonly #thumbnails = new Kept<HistoryThumbnail>(64);

  readonly #thread: WorkThread;
  readonly #background: Background;

  constructor(database: Database, bars: BarRepository, thread: WorkThread, background: Background) {
    this.#background = background;
    this.#thread = thread;
    this.#database = database;
    this.#bars = bars;
  }

  /** Bars have changed: nothing kept is good any more. */
  forget(): void {
    this.#base.clear();
    this.#resampled.clear();
    this.#thumbnails.clear();
  }

  async list(): Promise<Market[]> {
    const rows = await this.#database.read.find(InstrumentEntity, { where: { deletedMs: 0 }, order: { createdMs: "ASC" } });
    const sets = new Map((await this.#bars.allSets()).map((set) => [set.symbol, set]));
    const markets: Market[] = [];
    for (const row of rows) {
      const set = sets.get(row.symbol);
      if (!set) continue;
      const thumbnail = await this.thumbnail(row.symbol);
      markets.push({
        instrument: row.facts,
        origin: row.origin,
        timeframe: set.timeframe,
        bars: set.count,
        firstMs: set.firstMs,
        lastMs: set.lastMs,
        firstDate: thumbnail.dates[0]!,
        lastDate: thumbnail.dates.at(-1)!,
        sessions: thumbnail.dates.length,
        dataHash: set.hash,
        hasSpreadColumn: set.hasSpread,
      });
    }
    return markets;
  }

  async #row(symbol: string): Promise<InstrumentRow> {
    const row = await this.#database.read.findOneBy(InstrumentEntity, { symbol, deletedMs: 0 });
    if (!row) throw new PlanTesterError("not-found", `There is no instrument "${symbol}". Markets lists those there are.`, { symbol });
    return row;
  }

  async instrument(symbol: string): Promise<Instrument> {
    return (await this.#row(symbol)).facts;
  }

  /** All bars of an instrument in the timeframe they were stored in, with their hash. */
  async base(symbol: string): Promise<{ series: BarSeries; hash: string; instrument: Instrument }> {
    const instrument = await this.instrument(symbol);
    const set = await this.#bars.setOf(symbol);
    if (!set) throw new PlanTesterError("not-found", `${symbol} has no bars yet. Import some in Markets.`, { symbol });
    const series = await this.#base.get(`${symbol}:${set.hash}`, () => this.#bars.load(set, instrument));
    return { series, hash: set.hash, instrument };
  }

  async #inTimeframe(
    symbol: string,
    timeframe: string,
  ): Promise<{ resampled: Resampled; base: BarSeries; hash: string; instrument: Instrument }> {
    const { series, hash, instrument } = await this.base(symbol);
    const resampled = await this.#resampled.get(`${symbol}:${hash}:${timeframe}`, () => this.#thread.resample({ series, timeframe }));
    return { resampled, base: series, hash, instrument };
  }

  /**
   * The last bars of an instrument in a timeframe, copied, to warm a plan up that goes to work (R2.7).
   * @param most how many; no more than a backtest takes
   */
  async recent(symbol: string, timeframe: string, most: number): Promise<{ history: BarSeries; hasMore: boolean; instrument: Instrument }> {
    const { resampled, instrument } = await this.#inTimeframe(symbol, timeframe);
    const { series } = resampled;
    const from = Math.max(0, series.length - Math.min(most, MAX_LEAD_BARS));
    return { history: copied(sliceSeries(series, from, series.length)), hasMore: from > 0 && most < MAX_LEAD_BARS, instrument };
  }

  /** The last bars that open before a time, no more than so many: a part of what is kept, not a copy. */
  async before(symbol: string, timeframe: string, timeMs: number, most: number): Promise<BarSeries> {
    const { series } = (await this.#inTimeframe(symbol, timeframe)).resampled;
    const end = lowerBound(series.time, timeMs);
    return sliceSeries(series, Math.max(0, end - most), end);
  }

  /** Bars of the sessions from one date to another, both included. */
  async period(symbol: string, timeframe: string, from: string, to: string): Promise<BarSeries> {
    const { resampled, instrument } = await this.#inTimeframe(symbol, timeframe);
    const [fromMs, toMs] = boundsOf(instrument, resampled.series, from, to);
    return sliceByTime(resampled.series, fromMs, toMs);
  }

  /** The same for a run: with the finer bars inside when its paths need them. */
  async dataSet(
    symbol: string,
    timeframe: string,
    from: string,
    to: string,
    withFiner: boolean,
  ): Promise<{ data: DataSet; hash: string; instrument: Instrument }> {
    const { resampled, base, hash, instrument } = await this.#inTimeframe(symbol, timeframe);
    const { series, firstSource } = resampled;
    const [fromMs, toMs] = boundsOf(instrument, series, from, to);
    const cut = sliceByTime(series, fromMs, toMs);
    const key = `${symbol}:${hash.slice(0, 16)}:${timeframe}:${from}:${to}:${withFiner ? "finer" : "plain"}`;
    if (cut.length === 0) return { data: { key, series: cut, finer: null }, hash, instrument };
    const start = cut.time === series.time ? 0 : cut.time.byteOffset / 8 - series.time.byteOffset / 8;
    const whole = sliceSeries(series, Math.max(0, start - MAX_LEAD_BARS), start + cut.length);
    if (!withFiner || series.length === base.length) return { data: { key, series: cut, whole, finer: null }, hash, instrument };
    const firstFine = firstSource[start]!;
    const first = firstSource.slice(start, start + cut.length + 1).map((index) => index - firstFine);
    const fine = sliceByTime(base, base.time[firstFine]!, base.time[firstSource[start + cut.length]! - 1]! + 1);
    return { data: { key, series: cut, whole, finer: { series: fine, first } }, hash, instrument };
  }

  /** All instruments of a run, the plan's own first, with the hash of all their bars. */
  async feeds(settings: RunSettings, from: string, to: string, further: readonly string[]): Promise<{ feeds: FeedData[]; hash: string }> {
    const symbols = [...new Set([settings.symbol, ...settings.alsoOn, ...further])];
    if (symbols.length > MOST_INSTRUMENTS)
      throw new PlanTesterError(
        "bad-input",
        `A run takes at most ${MOST_INSTRUMENTS} instruments; this one names ${symbols.length}: ${symbols.join(", ")}. Leave some out.`,
        { symbols },
      );
    const sets = await Promise.all(symbols.map((symbol) => this.dataSet(symbol, settings.timeframe, from, to, settings.path === "finer")));
    return { feeds: sets.map(({ instrument, data }) => ({ instrument, data })), hash: sets.map(({ hash }) => hash).join("+") };
  }

  /** Worked out once for each set of bars, and kept with it. */
  thumbnail(symbol: string): Promise<HistoryThumbnail> {
    return this.#thumbnails.get(symbol, async () => {
      await this.#row(symbol);
      const set = await this.#bars.setOf(symbol);
      if (set?.thumbnail) return set.thumbnail;
      const { series } = await this.base(symbol);
      const dates: string[] = [];
      const closes: number[] = [];
      const bars: number[] = [];
      let count = 0;
      for (let i = 0; i < series.length; i++) {
        count++;
        if (i + 1 < series.length && series.session[i + 1] === series.session[i]) continue;
        dates.push(series.sessions.dates[series.session[i]!]!);
        closes.push(series.close[i]!);
        bars.push(count);
        count = 0;
      }
      const made = { dates, closes, bars };
      if (set)
        this.#background.run("what a list shows of an instrument's bars was not saved", { symbol }, () =>
          this.#bars.keepThumbnail(set.id, made),
        );
      return made;
    });
  }
}

/** UTC bounds of a stretch of session dates: the opening of its first session and the end of its last. */
function boundsOf(instrument: Instrument, series: BarSeries, from: string, to: string): [number, number] {
  if (to < from) throw new PlanTesterError("bad-input", `The period ends (${to}) before it begins (${from}).`, { from, to });
  const { dates, openMs } = series.sessions;
  const first = dates.findIndex((date) => date >= from);
  const after = dates.findIndex((date) => date > to);
  const dayAfter = Date.parse(`${to}T00:00:00Z`) + DAY_MS;
  const fromMs =
    first < 0
      ? Number.POSITIVE_INFINITY
      : Math.min(openMs[first]!, wallToUtc(instrument.calendar.zone, Date.parse(`${dates[first]}T00:00:00Z`), 0));
  const toMs =
    after < 0 ? Math.max(wallToUtc(instrument.calendar.zone, dayAfter, 0), (openMs[dates.length - 1] ?? 0) + 8 * DAY_MS) : openMs[after]!;
  return [fromMs, toMs];
}
