/** What a watch did against the backtest of the same bars, and when that is to be told. */
import type { WatchDrift } from "@plan-tester/contract";
import { type AccountReport, type DriftLeg, type EngineSettings, type Instrument, legOf, nominalMs, pointMoneyAt } from "@plan-tester/core";
import { type ProcessPool, replayPlan } from "@plan-tester/runner";
import type { Watch } from "./watch.ts";
import type { WatchFeeds } from "./watch-feeds.ts";
import type { WatchRepository } from "./watch-repository.ts";
import type { WatchFacts } from "./watch-types.ts";

/** Bars ahead of the start that a backtest of a watch warms its studies on. */
const MAX_HISTORY = 40_000;

/** A backtest of all that a watch has seen is made again after so many times the time that it took. */
const DRIFT_PAUSE = 20;

export interface Drifting {
  readonly facts: WatchFacts;
  readonly account: AccountReport | null;
  /** Of the venue's clock; null where it has ended: then the end of its journal counts. */
  readonly nowMs: number | null;
}

export class WatchDrifts {
  readonly #repository: WatchRepository;
  readonly #pool: ProcessPool;
  readonly #feeds: WatchFeeds;
  /** When the drift of each may be looked at again. */
  readonly #fromMs = new Map<string, number>();

  constructor(repository: WatchRepository, pool: ProcessPool, feeds: WatchFeeds) {
    this.#repository = repository;
    this.#pool = pool;
    this.#feeds = feeds;
  }

  async of({ facts, account, nowMs }: Drifting): Promise<WatchDrift> {
    const { id, settings, source, inputs } = facts;
    const span = await this.#repository.span(id);
    const startMs = span?.firstMs ?? nowMs ?? 0;
    const endMs = nowMs ?? span?.lastMs ?? startMs;
    const instruments = await this.#feeds.instrumentsOf(facts);
    // What is imported over its time since is not what it went by.
    const feeds = await Promise.all(instruments.map((one) => this.#feeds.feed(one, settings.timeframe, MAX_HISTORY, endMs, startMs)));
    const engine = this.#feeds.engineOf(facts, instruments);
    const lastPrices = new Map(feeds.map(({ instrument: { symbol }, minutes }) => [symbol, minutes.close.at(-1)]));
    const closed = (await this.#repository.trades(id)).map((trade) => legOf(trade));
    const open = openLegs(account, instruments, engine, (symbol) => lastPrices.get(symbol));
    const marks = await this.#repository.marks(id);
    const barMs = nominalMs(settings.timeframe);
    const compared = await this.#pool.use((process) =>
      replayPlan(process, { source, inputs, settings: engine, feeds, startMs, endMs, traded: [...closed, ...open], marks, barMs }),
    );
    return { ...compared, sinceMs: startMs };
  }

  /** Tells once when what a watch made differs from the backtest by more than its limit. */
  async check(watch: Watch, driftOfIt: () => Promise<WatchDrift>): Promise<void> {
    const { id } = watch.facts;
    const limit = watch.memory.options.driftLimit;
    const began = Date.now();
    if (limit === null || began < (this.#fromMs.get(id) ?? 0)) return;
    this.#fromMs.set(id, Number.POSITIVE_INFINITY);
    try {
      const { money, causes } = await driftOfIt();
      if (Math.abs(money) > limit) watch.drifted(money, causes.map(({ cause }) => cause).join(", "));
    } finally {
      this.#fromMs.set(id, Date.now() + DRIFT_PAUSE * (Date.now() - began));
    }
  }
}

/** @param priceOf the last price of an instrument; its entry stands for it before there is one */
export function openLegs(
  account: AccountReport | null,
  instruments: readonly Instrument[],
  settings: EngineSettings,
  priceOf: (symbol: string) => number | undefined,
): DriftLeg[] {
  return (account?.books ?? []).flatMap(({ symbol, lots }) => {
    const pointMoney = pointMoneyAt(symbol, instruments, settings, priceOf);
    return lots.map(({ side, quantity, entryPrice, entryTime, tag }) => {
      const exitPrice = priceOf(symbol) ?? entryPrice;
      const net = side * quantity * (exitPrice - entryPrice) * pointMoney;
      return { symbol, side, quantity, entryPrice, entryTime, entryTag: tag, exitPrice, net, exitTime: null, reason: "" };
    });
  });
}
