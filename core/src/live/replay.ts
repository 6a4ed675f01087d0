/**
 * The backtest of the bars that a watch has seen since it began: with a venue that neither fails nor lags a watch does the
 * same (R8.2), so what differs has a cause.
 */
import type { FinerBars } from "../engine/feed.ts";
import type { Trade } from "../engine/orders.ts";
import type { EngineSettings } from "../engine/settings.ts";
import type { InputValue } from "../language/inputs.ts";
import { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import { type BarColumns, type BarSeries, lowerBound, sliceSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { Backtest } from "../run/backtest.ts";
import { LiveMarket } from "./live-market.ts";

export interface ReplayFeed {
  readonly instrument: Instrument;
  /** Completed bars of the watch's timeframe. */
  readonly history: BarSeries;
  /** All minutes since, to the end. */
  readonly minutes: BarColumns;
}

export interface ReplayOptions {
  /** Declares the plan again, with nothing remembered. */
  readonly plan: () => DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly feeds: readonly ReplayFeed[];
  readonly settings: EngineSettings;
  /** When the watch began, of the venue's clock. */
  readonly startMs: number;
  readonly endMs: number;
  /** Called now and then while it works. */
  readonly onWork?: () => void;
}

/** Bars at once. */
const STEP = 5000;

export interface Replayed {
  /** Trades that closed, oldest first. */
  readonly closed: readonly Trade[];
  /** What is open at the end, as if it closed there. */
  readonly open: readonly Trade[];
  /** Close of the last bar that is complete on every instrument: nothing later is in it. */
  readonly untilMs: number;
}

function laidOut({ instrument, history, minutes }: ReplayFeed, startMs: number, endMs: number) {
  const { bars } = new LiveMarket(instrument, history, minutes, endMs);
  const { series: grown, completed, frame } = bars;
  const series = sliceSeries(grown, 0, completed);
  const lead = Math.max(0, lowerBound(series.closeTime, startMs + 1));
  const { time } = minutes;
  const finer: BarSeries = {
    ...series,
    ...minutes,
    ...{ timeframe: "1m", length: time.length, closeTime: time.map((ms) => frame.minuteClose(ms)) },
    session: Int32Array.from(time, (ms) => frame.sessionOf(ms)),
  };
  // The bar that it began in has inside what came after that.
  const firstOf = (openMs: number): number => lowerBound(time, Math.max(openMs, startMs));
  const first = Int32Array.from({ length: completed + 1 }, (_none, i) =>
    i < completed ? firstOf(series.time[Math.max(i, lead)] ?? endMs) : lowerBound(time, series.closeTime[completed - 1] ?? endMs),
  );
  return { instrument, series, lead, finer: { series: finer, first } satisfies FinerBars };
}

/** @throws what the plan throws */
export function replay({ plan, inputs, settings, startMs, endMs, feeds: given, onWork = () => undefined }: ReplayOptions): Replayed {
  const feeds = given.map((feed) => laidOut(feed, startMs, endMs));
  if (feeds.some(({ series, lead }) => lead >= series.length)) return { closed: [], open: [], untilMs: startMs };
  const backtest = new Backtest({
    ...{ plan: plan(), freshPlan: plan, inputs, settings },
    feeds: feeds.map(({ instrument, series, lead, finer }) => ({
      ...{ instrument, store: new StudyStore(series, null, onWork), lead, finer },
      period: sliceSeries(series, lead, series.length),
    })),
  });
  const { length } = backtest.closeTime;
  while (backtest.barsDone < length) {
    onWork();
    backtest.advance(Math.min(length, backtest.barsDone + STEP));
  }
  const { trades } = backtest.host;
  return {
    closed: trades.filter(({ reason }) => reason !== "end of data"),
    open: trades.filter(({ reason }) => reason === "end of data"),
    untilMs: Math.min(...feeds.map(({ series }) => series.closeTime[series.length - 1]!)),
  };
}
