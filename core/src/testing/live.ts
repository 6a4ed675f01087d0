/**
 * A plan at work on a simulated venue, and its backtest over the same minutes: both as what happened, to be compared.
 * The venue waits for each answer; both are in one process.
 */
import type { FinerBars } from "../engine/feed.ts";
import type { Fill, LogLine, Order, Trade } from "../engine/orders.ts";
import { LEGS } from "../engine/path-walker.ts";
import type { EngineSettings } from "../engine/settings.ts";
import type { InputValue } from "../language/inputs.ts";
import { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import { LiveRun } from "../live/live-run.ts";
import { viewOf } from "../live/live-view.ts";
import type { PlanCommand, VenueWord } from "../live/messages.ts";
import { type Hindrance, MinuteAccount, type MinuteAccountSnapshot } from "../live/minute-account.ts";
import { replay } from "../live/replay.ts";
import type { RetryLimits } from "../live/retries.ts";
import { minuteOf } from "../market/bar-frame.ts";
import { type BarSeries, lowerBound, sliceColumns, sliceSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { resample } from "../market/resample.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import { Backtest } from "../run/backtest.ts";
import { STRIP } from "../run/trace.ts";

export interface MinuteFeed {
  readonly instrument: Instrument;
  /** Whole minutes, history first. */
  readonly minutes: BarSeries;
}

export interface Watched {
  /** Declares the plan again, with nothing remembered. */
  readonly plan: () => DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly feeds: readonly MinuteFeed[];
  readonly timeframe: string;
  readonly settings: EngineSettings;
  /** Open time of the first bar of the period. */
  readonly fromMs: number;
}

/** What a run did. */
export interface Deeds {
  readonly orders: readonly Order[];
  readonly fills: readonly Fill[];
  readonly trades: readonly Trade[];
  readonly equity: readonly number[];
  readonly log: readonly LogLine[];
  /** What a chart shows of its bars: the plan's columns, then the conditions that it waits for. */
  readonly shown: readonly (readonly [label: string, values: readonly number[]])[];
}

function laidOut({ feeds, timeframe, fromMs }: Watched) {
  return feeds.map(({ instrument, minutes }) => {
    const { series, firstSource } = resample(minutes, timeframe);
    const lead = lowerBound(series.time, fromMs);
    // Bars ahead of the period have none inside, as in a run.
    const finer: FinerBars = { series: minutes, first: firstSource.map((at, i) => (i < lead ? firstSource[lead]! : at)) };
    return { instrument, minutes, series, finer, lead };
  });
}

export function backtested(watched: Watched): Deeds {
  const { plan, inputs, settings } = watched;
  const feeds = laidOut(watched);
  const backtest = new Backtest({
    plan: plan(),
    freshPlan: plan,
    inputs,
    feeds: feeds.map(({ instrument, series, finer, lead }) => ({
      ...{ instrument, store: new StudyStore(series), finer, lead },
      period: sliceSeries(series, lead, series.length),
    })),
    settings,
  });
  const { host } = backtest;
  // What is marked out when the data are over ends orders and is told to handlers too; a watch has no such end.
  const told = { orders: host.orders as readonly Order[], lines: host.lines as readonly LogLine[] };
  const runEvent = host.runEvent.bind(host);
  host.runEvent = (name) => {
    runEvent(name);
    if (name === "end") Object.assign(told, structuredClone({ orders: host.orders, lines: host.lines }));
  };
  backtest.advance(backtest.closeTime.length);
  const { fills, trades } = host;
  const { orders, lines } = told;
  return {
    orders,
    fills: fills.filter(({ source }) => source !== "end of data"),
    trades: trades.filter(({ reason }) => reason !== "end of data"),
    equity: [...backtest.equity.subarray(0, backtest.barsDone)],
    log: lines,
    shown: [
      ...host.shownColumns().map(({ label, values }) => [label, [...values.subarray(backtest.lead)]] as const),
      ...host.awaited().map(({ label, bits }) => [unnumbered(label), [...bits.subarray(backtest.lead)]] as const),
    ],
  };
}

/** The trades of the same, by what a server has at hand: history, and minutes since. */
export function replayed(watched: Watched): readonly Trade[] {
  const { plan, inputs, settings, fromMs } = watched;
  const feeds = laidOut(watched);
  // The last bar is over with its time, though its last minutes may be missing.
  const endMs = Math.max(...feeds.map(({ series }) => series.closeTime[series.length - 1]!));
  return replay({
    ...{ plan, inputs, settings, startMs: fromMs, endMs },
    feeds: feeds.map(({ instrument, minutes, series, lead }) => {
      const history = sliceSeries(series, 0, lead);
      return {
        instrument,
        history,
        minutes: sliceColumns(minutes, lowerBound(minutes.time, history.closeTime[lead - 1] ?? 0), minutes.length),
      };
    }),
  }).closed;
}

/** What a watch meets that a backtest does not. */
export interface Venue {
  readonly hindrance?: Hindrance;
  readonly retries?: RetryLimits;
  /** Paths are walked leg by leg, each at a moment of its own. */
  readonly inSteps?: boolean;
  /** The account is written down and read back after so many of these moments. */
  readonly restartsEvery?: number;
  /** The plan's process starts anew after so many minutes, with what its kit had counted. */
  readonly planRestartsEvery?: number;
}

/** @param through what each word goes through on its way, such as a copy, as between processes */
export function watched(given: Watched, through: <T>(word: T) => T = (word) => word, venue: Venue = {}): Deeds {
  const { plan, inputs, settings, timeframe, fromMs } = given;
  const feeds = laidOut(given);
  const instruments = feeds.map(({ instrument }) => instrument);
  let sent = 0;
  const priceBefore = (symbol: string, timeMs: number): number => {
    const { minutes } = feeds.find(({ instrument }) => instrument.symbol === symbol)!;
    return minutes.close[lowerBound(minutes.time, timeMs) - 1] ?? Number.NaN;
  };
  const open = (nowMs: number, snapshot?: MinuteAccountSnapshot): MinuteAccount => {
    const made = new MinuteAccount(
      { instruments, settings, timeframe, nowMs, priceBefore },
      (_owner, report, timeMs) => hear({ type: "report", timeMs, ...report }),
      snapshot,
    );
    made.hindrance = venue.hindrance ?? null;
    return made;
  };
  let account = open(fromMs);
  const equity: number[] = [];
  const start = (nowMs: number, kitMemory: LiveRun["host"]["kitMemory"]): LiveRun =>
    new LiveRun({
      plan: plan(),
      freshPlan: plan,
      inputs,
      feeds: feeds.map(({ instrument, series, minutes, lead }) => ({
        instrument,
        history: sliceSeries(series, 0, lead),
        minutes: sliceColumns(minutes, lowerBound(minutes.time, fromMs), lowerBound(minutes.closeTime, nowMs + 1)),
      })),
      settings,
      nowMs,
      account: account.report("plan"),
      lastReport: account.lastReport("plan"),
      kitMemory,
      ...(venue.retries && { retries: venue.retries }),
      onEquity: (_timeMs, value) => equity.push(value),
    });
  let run = start(fromMs, null);
  const deeds = { orders: [] as Order[], fills: [] as Fill[], trades: [] as Trade[], log: [] as LogLine[] };
  function collect(): boolean {
    const { orders, fills, trades, lines } = run.host.drain();
    deeds.orders.push(...orders);
    deeds.fills.push(...fills);
    deeds.trades.push(...trades);
    deeds.log.push(...lines);
    return orders.length + fills.length + trades.length + lines.length > 0;
  }
  function hear(word: VenueWord): void {
    const isQuiet = (word.type === "opening" || word.type === "closing") && word.timeMs < run.quietUntilMs;
    if (isQuiet) collect();
    const commands: readonly PlanCommand[] = run.hear(through(word));
    if (isQuiet && (collect() || commands.length > 0))
      throw new Error(`It was to be quiet, and the ${word.type} at ${new Date(word.timeMs).toISOString()} brought something about.`);
    for (const command of commands) account.command("plan", ++sent, through(command));
  }
  function listen(): void {
    if (!run.host.wantsPrice) return;
    account.listenToPrices((symbol, timeMs, price) => hear({ type: "price", symbol, timeMs, price, account: account.report("plan") }));
  }
  listen();
  let legs = 0;
  let minutes = 0;
  function walkInSteps(timeMs: number): void {
    for (let leg = 0; leg < LEGS; leg++) {
      if (leg > 0) account.walk(timeMs + MINUTE_MS, leg);
      if (!venue.restartsEvery || ++legs % venue.restartsEvery > 0) continue;
      account = open(timeMs, structuredClone(account.snapshot()));
      listen();
    }
  }
  // A venue tells the time where a bar ends without a minute, too.
  const ends = new Set(feeds.flatMap(({ series, lead }) => [...series.closeTime.subarray(lead)]));
  for (const { timeMs, opens, closes } of momentsOf(
    feeds.map(({ minutes }) => minutes),
    fromMs,
    ends,
  )) {
    account.walk(timeMs);
    account.close(timeMs);
    if (closes.length > 0 || ends.has(timeMs)) {
      const minutes = closes.map(({ feed, i }) => ({ symbol: instruments[feed]!.symbol, bar: minuteOf(feeds[feed]!.minutes, i) }));
      hear({ type: "closing", timeMs, minutes, account: account.report("plan") });
    }
    if (opens.length === 0) continue;
    const opening = new Map(opens.map(({ feed, i }) => [instruments[feed]!.symbol, minuteOf(feeds[feed]!.minutes, i)]));
    account.opening(timeMs, opening);
    hear({ type: "opening", timeMs, symbols: [...opening.keys()], account: account.report("plan") });
    account.fillOpens(timeMs);
    if (venue.inSteps) walkInSteps(timeMs);
    collect();
    if (!venue.planRestartsEvery || ++minutes % venue.planRestartsEvery > 0) continue;
    run = start(timeMs, structuredClone(run.host.kitMemory));
    run.begin();
  }
  run.end();
  collect();
  return {
    ...deeds,
    equity,
    shown: shownOf(run, lowerBound(feeds[0]!.series.time, fromMs)),
  };
}

/** A stepwise study is numbered by how many there have been in the process. */
const unnumbered = (label: string): string => label.replaceAll(/#\d+/g, "");

/** Of the chart's bars, those that are completed since the watch began. */
function shownOf(run: LiveRun, lead: number): Deeds["shown"] {
  const { completed } = run.markets[0]!.bars;
  const { isForming, plots, strips } = viewOf(run, { count: Number.POSITIVE_INFINITY, untilMs: null, minute: null });
  const since = (values: Float64Array | Uint8Array): number[] => [...values.subarray(lead, completed)];
  if (isForming && plots.some(({ values }) => !Number.isNaN(values.at(-1)!))) throw new Error("A bar that forms has a value already.");
  return [
    ...plots.map(({ label, values }) => [label, since(values)] as const),
    ...strips.map(({ label, values }) => [unnumbered(label), since(values).map((state) => (state === STRIP.yes ? 1 : 0))] as const),
  ];
}

interface Moment {
  readonly timeMs: number;
  readonly opens: { readonly feed: number; readonly i: number }[];
  readonly closes: { readonly feed: number; readonly i: number }[];
}

/** @param ends further times */
function momentsOf(series: readonly BarSeries[], fromMs: number, ends: ReadonlySet<number>): Moment[] {
  const moments = new Map<number, Moment>();
  const at = (timeMs: number): Moment => {
    const known = moments.get(timeMs);
    if (known) return known;
    const made: Moment = { timeMs, opens: [], closes: [] };
    moments.set(timeMs, made);
    return made;
  };
  series.forEach(({ time, closeTime, length }, feed) => {
    for (let i = lowerBound(time, fromMs); i < length; i++) {
      at(time[i]!).opens.push({ feed, i });
      at(closeTime[i]!).closes.push({ feed, i });
    }
  });
  for (const timeMs of ends) at(timeMs);
  return [...moments.values()].sort((a, b) => a.timeMs - b.timeMs);
}
