/** Instruments and their bars: loaded once, resampled once, cut to periods by sharing memory. */

import type { HistoryThumbnail, Market, RunSettings, Stretch } from "@plan-tester/contract";
import {
  type BarColumns,
  type BarFile,
  type BarSeries,
  DAY_MS,
  type Expressed,
  type Instrument,
  lowerBound,
  MINUTE_MS,
  PlanTesterError,
  type Repair,
  type Resampled,
  type SessionCalendar,
  sliceByTime,
  sliceColumns,
  sliceSeries,
  wallToUtc,
} from "@plan-tester/core";
import { type DataSet, type FeedData, hashText } from "@plan-tester/runner";
import { In } from "typeorm";
import type { Background } from "../../background.ts";
import type { Database } from "../../db/database.ts";
import { type BarSetRow, InstrumentEntity, type InstrumentRow, InstrumentVersionEntity, RepairEntity } from "../../db/entities.ts";
import type { ExaminedBars } from "../../work/tasks.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { BarRepository } from "./bar-repository.ts";
import { changesOf, factsAt } from "./facts.ts";
import { repairsAt } from "./repairs.ts";

/** Base series kept in memory. Three hold what a working session touches. */
const KEPT_SERIES = 4;
const KEPT_RESAMPLED = 12;
const KEPT_EXAMINED = 16;
/** As many as a full chart has: each is as long as the bars. */
const KEPT_STUDIES = 12;
/** Bars ahead of a period that warm its studies up (R2.7): all that most studies need, and no more than is quickly computed. */
const MAX_LEAD_BARS = 40_000;
/** A sweep over two stretches holds twice as many series, which is what a plan process keeps. */
const MOST_INSTRUMENTS = 7;

/** Minutes behind the end of the history, as a venue said them: those that open at or after a time. */
export type Continuation = (symbol: string, fromMs: number) => Promise<BarColumns>;

/** Bars in the timeframe they were stored in. */
interface Base {
  readonly series: BarSeries;
  readonly hash: string;
  readonly instrument: Instrument;
}

/** Which bars of a series are meant: those of sessions by their dates, or those of a stretch. */
type Wanted = { readonly from: string; readonly to: string } | Stretch;

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

  drop(key: string): void {
    this.#entries.delete(key);
  }

  clear(): void {
    this.#entries.clear();
  }
}

export class MarketService {
  readonly #database: Database;
  readonly #bars: BarRepository;
  readonly #base = new Kept<{ readonly series: BarSeries; readonly hash: string }>(KEPT_SERIES);
  readonly #resampled = new Kept<Resampled>(KEPT_RESAMPLED);
  readonly #thumbnails = new Kept<HistoryThumbnail>(64);
  readonly #examined = new Kept<ExaminedBars>(KEPT_EXAMINED);
  readonly #studies = new Kept<Expressed>(KEPT_STUDIES);

  readonly #thread: WorkThread;
  readonly #background: Background;
  /** Where bars come from that lie behind the history; null where there is no venue. */
  continuation: Continuation | null = null;

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
    this.#examined.clear();
    this.#studies.clear();
  }

  /** Bars or facts of an instrument are others now: what is kept of them is known by what they were, but for how a list shows it. */
  changed(symbol: string): void {
    this.#thumbnails.drop(symbol);
  }

  async list(): Promise<Market[]> {
    const rows = await this.#database.read.find(InstrumentEntity, { where: { deletedMs: 0 }, order: { createdMs: "ASC" } });
    const versions = await this.#database.read.find(InstrumentVersionEntity);
    const sets = new Map((await this.#bars.allSets()).map((set) => [set.symbol, set]));
    const markets: Market[] = [];
    for (const row of rows) {
      const set = sets.get(row.symbol);
      if (!set) continue;
      const thumbnail = await this.thumbnail(row.symbol);
      markets.push({
        instrument: row.facts,
        factsChanges: changesOf(
          row.facts,
          versions.filter(({ symbol }) => symbol === row.symbol),
        ),
        isArchived: row.archivedMs > 0,
        origin: row.origin,
        timeframe: set.timeframe,
        bars: set.count,
        firstMs: set.firstMs,
        lastMs: set.lastMs,
        firstDate: thumbnail.dates[0]!,
        lastDate: thumbnail.dates.at(-1)!,
        sessions: thumbnail.dates.length,
        dataHash: set.repairedHash || set.hash,
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

  /** @param atMs with the facts that it had then */
  async instrument(symbol: string, atMs = Number.POSITIVE_INFINITY): Promise<Instrument> {
    const { facts } = await this.#row(symbol);
    if (atMs === Number.POSITIVE_INFINITY) return facts;
    return factsAt(facts, await this.#database.read.findBy(InstrumentVersionEntity, { symbol }), atMs);
  }

  /** Calendars of all instruments of which it is known when they trade, the first ones first. */
  async calendars(): Promise<{ readonly symbol: string; readonly calendar: SessionCalendar }[]> {
    const rows = await this.#database.read.find(InstrumentEntity, { where: { deletedMs: 0 }, order: { createdMs: "ASC" } });
    return rows.flatMap(({ symbol, facts: { calendar } }) => (calendar.isAssumed ? [] : { symbol, calendar }));
  }

  /** All bars of an instrument in the timeframe they were stored in, with their hash. @param atMs as of `instrument` */
  async base(symbol: string, atMs?: number): Promise<Base> {
    const instrument = await this.instrument(symbol, atMs);
    const set = await this.#bars.setOf(symbol);
    if (!set) throw new PlanTesterError("not-found", `${symbol} has no bars yet. Import some in Markets.`, { symbol });
    const rows = await this.#database.read.findBy(RepairEntity, { symbol });
    return { ...(await this.#loaded(set, instrument, repairsAt(rows, atMs))), instrument };
  }

  /** Bars that have just been written: what asks for them next need not read them. */
  async adopt(symbol: string, columns: BarColumns): Promise<void> {
    const set = await this.#bars.setOf(symbol);
    const rows = await this.#database.read.findBy(RepairEntity, { symbol });
    if (!set || repairsAt(rows).length > 0) return;
    const instrument = await this.instrument(symbol);
    const { timeframe, hash } = set;
    const { calendar } = instrument;
    await this.#loaded(set, instrument, [], async () => ({ series: await this.#thread.series({ columns, timeframe, calendar }), hash }));
  }

  #loaded(
    set: BarSetRow,
    instrument: Instrument,
    repairs: readonly Repair[],
    load = () => this.#bars.load(set, instrument, repairs),
  ): Promise<{ readonly series: BarSeries; readonly hash: string }> {
    const layers = repairs.length > 0 ? hashText(JSON.stringify(repairs)) : "";
    const key = `${set.symbol}:${set.hash}:${calendarKey(instrument)}:${layers}`;
    return this.#base.get(key, load);
  }

  /** The hash that an instrument's bars have with repairs. @throws PlanTesterError bad-bars where they leave no valid ones */
  async hashWith(symbol: string, repairs: readonly Repair[]): Promise<string> {
    const set = await this.#bars.setOf(symbol);
    if (!set) throw new PlanTesterError("not-found", `${symbol} has no bars yet. Import some in Markets.`, { symbol });
    return (await this.#loaded(set, await this.instrument(symbol), repairs)).hash;
  }

  /** The same, and behind it the venue's minutes that are over by a time. */
  async #baseUntil(symbol: string, toMs: number, atMs?: number): Promise<Base> {
    const base = await this.base(symbol, atMs);
    const { series, hash, instrument } = base;
    const endMs = series.closeTime[series.length - 1] ?? 0;
    if (toMs <= endMs || series.timeframe !== "1m" || !this.continuation) return base;
    const said = await this.continuation(symbol, endMs);
    const columns = sliceColumns(said, 0, lowerBound(said.time, toMs - MINUTE_MS + 1));
    if (columns.time.length === 0) return base;
    const whole = `${hash}~${await this.#thread.hash(columns)}`;
    const { calendar } = instrument;
    const joined = await this.#base.get(`${symbol}:${whole}:${calendarKey(instrument)}`, async () => ({
      series: await this.#thread.continue({ series, columns, calendar }),
      hash: whole,
    }));
    return { ...joined, instrument };
  }

  async #inTimeframe(symbol: string, timeframe: string, toMs = 0, atMs?: number): Promise<Base & { readonly resampled: Resampled }> {
    const base = await this.#baseUntil(symbol, toMs, atMs);
    const { series, hash, instrument } = base;
    const resampled = await this.#resampled.get(`${symbol}:${hash}:${timeframe}:${calendarKey(instrument)}`, () =>
      this.#thread.resample({ series, timeframe }),
    );
    return { ...base, resampled };
  }

  /**
   * The last bars of an instrument in a timeframe, copied, to warm a plan up that goes to work (R2.7).
   * @param most how many; no more than a backtest takes
   * @param untilMs by when they are over: what was imported since may go further than a venue has come
   */
  async recent(
    symbol: string,
    timeframe: string,
    most: number,
    untilMs: number,
  ): Promise<{ history: BarSeries; hasMore: boolean; instrument: Instrument }> {
    const { resampled, instrument } = await this.#inTimeframe(symbol, timeframe);
    const { series } = resampled;
    const end = lowerBound(series.closeTime, untilMs + 1);
    const from = Math.max(0, end - Math.min(most, MAX_LEAD_BARS));
    return { history: copied(sliceSeries(series, from, end)), hasMore: from > 0 && most < MAX_LEAD_BARS, instrument };
  }

  /** The last bars that open before a time, no more than so many: a part of what is kept, not a copy. */
  async before(symbol: string, timeframe: string, timeMs: number, most: number): Promise<BarSeries> {
    const { series } = (await this.#inTimeframe(symbol, timeframe)).resampled;
    const end = lowerBound(series.time, timeMs);
    return sliceSeries(series, Math.max(0, end - most), end);
  }

  /** Bars of the sessions from one date to another, both included, or of a stretch. */
  async period(symbol: string, timeframe: string, wanted: Wanted): Promise<BarSeries> {
    const { resampled, instrument } = await this.#inTimeframe(symbol, timeframe, endOf(wanted));
    return cutTo(wanted, resampled.series, instrument);
  }

  /**
   * The same for a run: with the finer bars inside when its paths need them.
   * @param surrogate seed of a market without memory that is to be made of these bars where they are run on; inside its bars paths are assumed
   * @param atMs as of `instrument`
   */
  async dataSet(
    symbol: string,
    timeframe: string,
    wanted: Wanted,
    withFiner: boolean,
    surrogate: number | null = null,
    atMs?: number,
  ): Promise<{ data: DataSet; hash: string; instrument: Instrument }> {
    const { resampled, series: base, hash, instrument } = await this.#inTimeframe(symbol, timeframe, endOf(wanted), atMs);
    const { series, firstSource } = resampled;
    const cut = cutTo(wanted, series, instrument);
    const shortHash = hash.replace(/[^~]+/g, (part) => part.slice(0, 16));
    const span = "from" in wanted ? [wanted.from, wanted.to] : [wanted.fromMs, wanted.toMs];
    const keyOf = (inside: string): string => [symbol, shortHash, calendarKey(instrument), timeframe, ...span, inside].join(":");
    const key = keyOf(withFiner ? "finer" : "plain");
    if (cut.length === 0) return { data: { key, series: cut, finer: null }, hash, instrument };
    const start = cut.time === series.time ? 0 : cut.time.byteOffset / 8 - series.time.byteOffset / 8;
    const whole = sliceSeries(series, Math.max(0, start - MAX_LEAD_BARS), start + cut.length);
    if (surrogate !== null) {
      const made = { of: keyOf("plain"), tickSize: instrument.tickSize, seed: surrogate };
      return { data: { key: `${made.of}:${surrogate}`, series: cut, whole, finer: null, surrogate: made }, hash, instrument };
    }
    if (!withFiner || series.length === base.length) return { data: { key, series: cut, whole, finer: null }, hash, instrument };
    const firstFine = firstSource[start]!;
    const first = firstSource.slice(start, start + cut.length + 1).map((index) => index - firstFine);
    const fine = sliceByTime(base, base.time[firstFine]!, base.time[firstSource[start + cut.length]! - 1]! + 1);
    return { data: { key, series: cut, whole, finer: { series: fine, first } }, hash, instrument };
  }

  /** All instruments of a run, the plan's own first, with the hash of all their bars. @param surrogate and atMs as of `dataSet` */
  async feeds(
    { symbol, alsoOn, timeframe, path }: RunSettings,
    wanted: Wanted,
    further: readonly string[],
    surrogate: number | null = null,
    atMs?: number,
  ): Promise<{ feeds: FeedData[]; hash: string }> {
    const symbols = [...new Set([symbol, ...alsoOn, ...further])];
    if (symbols.length > MOST_INSTRUMENTS)
      throw new PlanTesterError(
        "bad-input",
        `A run takes at most ${MOST_INSTRUMENTS} instruments; this one names ${symbols.length}: ${symbols.join(", ")}. Leave some out.`,
        { symbols },
      );
    const sets = await Promise.all(symbols.map((one) => this.dataSet(one, timeframe, wanted, path === "finer", surrogate, atMs)));
    return { feeds: sets.map(({ instrument, data }) => ({ instrument, data })), hash: sets.map(({ hash }) => hash).join("+") };
  }

  /** Those of some symbols that there are, each once. */
  async instruments(symbols: readonly string[]): Promise<Instrument[]> {
    const rows = await this.#database.read.findBy(InstrumentEntity, { symbol: In([...symbols]), deletedMs: 0 });
    return rows.map(({ facts }) => facts);
  }

  /**
   * Bars of the sessions from one date to another as a file, in pieces.
   * @param studies expressions, whose columns stand beside them
   * @throws PlanTesterError bad-study for one that can't be read
   */
  async file(symbol: string, timeframe: string, wanted: Wanted, form: BarFile, studies: readonly string[]): Promise<Uint8Array[]> {
    const { resampled, series: source, instrument } = await this.#inTimeframe(symbol, timeframe, endOf(wanted));
    const { series } = resampled;
    return this.#thread.barFile({ series, source, ...spanOf(cutTo(wanted, series, instrument), series), form, studies });
  }

  /** The column of a study beside the bars of a period, warmed up on those ahead of it. Errors as `studyColumn`. */
  async study(symbol: string, timeframe: string, wanted: Wanted, study: string): Promise<Expressed> {
    const { resampled, series: source, hash, instrument } = await this.#inTimeframe(symbol, timeframe, endOf(wanted));
    const { series } = resampled;
    const key = [symbol, hash, calendarKey(instrument), timeframe, study].join(":");
    const { kind, first, values } = await this.#studies.get(key, () => this.#thread.study({ series, source, study }));
    const { from, to } = spanOf(cutTo(wanted, series, instrument), series);
    return { kind, first, values: values.subarray(from, to) };
  }

  /** What is doubtful about the bars of an instrument, in the timeframe that they were stored in. */
  async quality(symbol: string): Promise<ExaminedBars & { readonly series: BarSeries }> {
    const { series, hash, instrument } = await this.base(symbol);
    const examined = await this.#examined.get(`${symbol}:${hash}:${hashText(JSON.stringify(instrument))}`, () =>
      this.#thread.examine({ series, instrument }),
    );
    return { ...examined, series };
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

/** Bars have the sessions of a calendar: where it was changed they are others. */
const calendarKey = ({ calendar }: Instrument): string => hashText(JSON.stringify(calendar)).slice(0, 8);

/** Which bars of a series a part of it is. */
function spanOf(cut: BarSeries, series: BarSeries): { from: number; to: number } {
  const from = cut.length === 0 ? 0 : lowerBound(series.time, cut.time[0]!);
  return { from, to: from + cut.length };
}

const endOf = (wanted: Wanted): number => ("toMs" in wanted ? wanted.toMs : 0);

function cutTo(wanted: Wanted, series: BarSeries, instrument: Instrument): BarSeries {
  if ("from" in wanted) {
    const [fromMs, toMs] = boundsOf(instrument, series, wanted.from, wanted.to);
    return sliceByTime(series, fromMs, toMs);
  }
  // Bars that are over after the first moment and by the last: one that forms is none yet.
  const first = lowerBound(series.closeTime, wanted.fromMs + 1);
  return sliceSeries(series, first, Math.max(first, lowerBound(series.closeTime, wanted.toMs + 1)));
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
