/** A watch opened as a run: what it did, kept as evidence beside the backtest of the same bars. */
import type { OpenedWatch, RunHead, RunSettings, WatchedRun } from "@plan-tester/contract";
import {
  type BarSeries,
  type EngineSettings,
  type Instrument,
  lowerBound,
  PlanTesterError,
  pointMoneyAt,
  type Trade,
} from "@plan-tester/core";
import { assemblePlan, type FeedData, hashText, type PlanReport, type ProcessPool, reportPlan } from "@plan-tester/runner";
import type { MarketService } from "../markets/market-service.ts";
import { fingerprintOfRun, headOf, type RunService } from "../runs/run-service.ts";
import { type Drifting, openLegs } from "./watch-drift.ts";
import type { WatchFeeds } from "./watch-feeds.ts";
import type { WatchRepository } from "./watch-repository.ts";
import type { WatchFacts } from "./watch-types.ts";

interface Parts {
  readonly repository: WatchRepository;
  readonly pool: ProcessPool;
  readonly feeds: WatchFeeds;
  readonly markets: MarketService;
  readonly runs: Pick<RunService, "adopt" | "isKept">;
}

export interface Opening extends Drifting {
  readonly name: string;
}

export class WatchRuns {
  readonly #parts: Parts;

  constructor(parts: Parts) {
    this.#parts = parts;
  }

  /**
   * Keeps both runs; of a watch that has ended, once.
   * @throws PlanTesterError conflict before a first bar is over
   */
  async open({ facts, account, nowMs, name }: Opening): Promise<OpenedWatch> {
    const { repository, pool, feeds: watchFeeds, markets, runs } = this.#parts;
    const span = await repository.span(facts.id);
    const fromMs = span?.firstMs ?? nowMs ?? 0;
    const toMs = nowMs ?? span?.lastMs ?? fromMs;
    const [runId, backtestId] = (["did", "backtest"] as const).map((kind) => idOf(facts.id, kind, toMs)) as [string, string];
    if ((await runs.isKept(runId)) && (await runs.isKept(backtestId))) return { runId, backtestId };
    const instruments = await watchFeeds.instrumentsOf(facts);
    const symbols = instruments.map(({ symbol }) => symbol);
    const { feeds, hash } = await markets.feeds({ ...facts.settings, path: "finer" }, { fromMs, toMs }, symbols);
    const { series } = feeds[0]!.data;
    if (series.length === 0)
      throw new PlanTesterError(
        "conflict",
        `No bar of ${facts.settings.timeframe} is over since the watch began: there is nothing to open yet.`,
        {},
      );
    const settings = settingsOf(facts, series);
    const engine = watchFeeds.engineOf(facts, instruments);
    const { source, inputs } = facts;
    const request = { source, inputs, settings: engine, feeds };
    const backtest = await pool.use((process) => reportPlan(process, request));
    const trades = tradesOn(feeds, [...(await repository.trades(facts.id)), ...stillOpen(account, instruments, engine, feeds)]);
    const piece = { text: Buffer.from(JSON.stringify(trades)), barOffset: 0 };
    const did = await pool.use((process) =>
      assemblePlan(process, request, { message: "", done: series.length, trades: [piece], equity: null }),
    );
    const keep = async (id: string, report: PlanReport, isBacktest: boolean, called: string): Promise<void> => {
      const fingerprint = isBacktest
        ? fingerprintOfRun({ ...request, inputs: report.inputs }, settings, hash)
        : hashText(`${facts.id} ${toMs} ${source}`).slice(0, 16);
      const { description } = backtest;
      const told = { ...report, description, inputs: backtest.inputs };
      const watched: WatchedRun = { watchId: facts.id, fromMs, toMs, isBacktest, besideId: isBacktest ? runId : backtestId };
      const head: RunHead = { ...headOf({ id, planId: facts.planId, source, settings }, told, fingerprint, hash, series), watched };
      if (!(await runs.isKept(id))) await runs.adopt({ ...report, head }, { name: called, tags: ["watch"] });
    };
    await keep(runId, did, false, `${name}, as it went`);
    await keep(backtestId, backtest, true, `${name}, backtest of the same bars`);
    return { runId, backtestId };
  }
}

/** The same for the same moment. */
const idOf = (watchId: string, kind: string, toMs: number): string =>
  hashText(`${watchId} ${kind} ${toMs}`).replace(/^(.{8})(.{4}).*$/, "$1-$2");

function settingsOf({ settings }: WatchFacts, { session, sessions, length }: BarSeries): RunSettings {
  const dateOf = (bar: number): string => sessions.dates[session[bar]!]!;
  return { ...settings, path: "finer", from: dateOf(0), to: dateOf(length - 1) };
}

/** What is open is marked out at the last close, as at the end of a backtest's data. */
function stillOpen(
  account: Drifting["account"],
  instruments: readonly Instrument[],
  settings: EngineSettings,
  feeds: readonly FeedData[],
): Trade[] {
  const seriesOf = new Map(feeds.map(({ instrument, data }) => [instrument.symbol, data.series]));
  const lastOf = (symbol: string): number | undefined => seriesOf.get(symbol)?.close.at(-1);
  const lots = (account?.books ?? []).flatMap(({ lots }) => lots);
  return openLegs(account, instruments, settings, lastOf).map((leg, k) => {
    const { orderId, line, high, low, riskPerUnit } = lots[k]!;
    const { side, quantity, entryPrice, exitPrice, net } = leg;
    const move = quantity * pointMoneyAt(leg.symbol, instruments, settings, lastOf);
    const risk = riskPerUnit === null ? null : riskPerUnit * move;
    const [worst, best] = side > 0 ? [entryPrice - low, high - entryPrice] : [high - entryPrice, entryPrice - low];
    return {
      ...{
        id: 0,
        orderId,
        symbol: leg.symbol,
        side,
        quantity,
        entryTime: leg.entryTime,
        entryPrice,
        entryTag: leg.entryTag,
        entryLine: line,
      },
      ...{ entryBar: 0, exitBar: 0, barsHeld: 0, exitTime: seriesOf.get(leg.symbol)?.closeTime.at(-1) ?? leg.entryTime, exitPrice },
      ...{ exitTag: "", exitLine: 0, reason: "end of data" as const, gross: net, net },
      ...{ commission: 0, spread: 0, slippage: 0, financing: 0, mae: Math.max(0, worst * move), mfe: Math.max(0, best * move) },
      ...{ risk, r: risk ? net / risk : null, pathDependent: false, atStake: 0, rails: [] },
    };
  });
}

/** Trades at the bars of these series: a watch counts bars from its own start. */
function tradesOn(feeds: readonly FeedData[], trades: readonly Trade[]): Trade[] {
  const seriesOf = new Map(feeds.map(({ instrument, data }) => [instrument.symbol, data.series]));
  return trades.flatMap((trade) => {
    const series = seriesOf.get(trade.symbol);
    if (!series || trade.entryTime >= series.closeTime[series.length - 1]!) return [];
    const barAt = (timeMs: number): number => Math.max(0, lowerBound(series.time, timeMs + 1) - 1);
    const [entryBar, exitBar] = [barAt(trade.entryTime), barAt(trade.exitTime)];
    // Where its levels moved is known by bars of the watch: from its entry on, as far as the trade goes.
    const rails = trade.rails.map((rail) => ({
      ...rail,
      barIndex: Math.min(exitBar, Math.max(entryBar, rail.barIndex - trade.entryBar + entryBar)),
    }));
    return [{ ...trade, entryBar, exitBar, barsHeld: exitBar - entryBar, rails }];
  });
}
