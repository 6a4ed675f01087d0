/** What a watch trades and on which bars: history of the server, minutes of the venue. */
import { engineSettings } from "@plan-tester/contract";
import {
  type BarColumns,
  type BarSeries,
  type Instrument,
  lowerBound,
  MINUTE_MS,
  minuteOf,
  PlanTesterError,
  sliceColumns,
} from "@plan-tester/core";
import { instrumentsOf, type LiveFeedData, type ProcessPool } from "@plan-tester/runner";
import type { MarketService } from "../markets/market-service.ts";
import type { VenueClient } from "./venue-client.ts";
import type { WatchFacts } from "./watch-types.ts";

export class WatchFeeds {
  readonly #markets: MarketService;
  readonly #pool: ProcessPool;
  readonly #venue: VenueClient;

  constructor(markets: MarketService, pool: ProcessPool, venue: VenueClient) {
    this.#markets = markets;
    this.#pool = pool;
    this.#venue = venue;
  }

  async instrumentsOf({ settings, source, inputs }: WatchFacts): Promise<Instrument[]> {
    const wanted = await this.#pool.use((process) => instrumentsOf(process, source, inputs));
    const symbols = [...new Set([settings.symbol, ...settings.alsoOn, ...wanted])];
    return Promise.all(symbols.map((symbol) => this.#minuteMarket(symbol)));
  }

  engineOf({ settings }: WatchFacts, instruments: readonly Instrument[]) {
    return { ...engineSettings(settings, instruments), path: "finer" as const };
  }

  async #minuteMarket(symbol: string): Promise<Instrument> {
    const { series, instrument } = await this.#markets.base(symbol);
    if (series.timeframe !== "1m")
      throw new PlanTesterError("bad-input", `${symbol} has bars of ${series.timeframe}; a watch needs minutes.`, {});
    return instrument;
  }

  /** History up to its end, or that of a time, and the venue's minutes since that are over by a time. */
  async feed(instrument: Instrument, timeframe: string, bars: number, nowMs: number, historyToMs = nowMs): Promise<LiveFeedData> {
    const { history, hasMore } = await this.#markets.recent(instrument.symbol, timeframe, bars, historyToMs);
    const fromMs = history.length > 0 ? history.closeTime[history.length - 1]! : 0;
    return { instrument, history, hasMore, minutes: until(await this.#venue.bars(instrument.symbol, fromMs), nowMs) };
  }

  /** The last bars of the history that open before a time, no more than so many. */
  before(symbol: string, timeframe: string, timeMs: number, most: number): Promise<BarSeries> {
    return this.#markets.before(symbol, timeframe, timeMs, most);
  }

  /** Minutes that are over, from one time to another, as the venue would have said them. */
  async minutes(instruments: readonly Instrument[], fromMs: number, toMs: number) {
    const byClose = new Map<number, { symbol: string; bar: ReturnType<typeof minuteOf> }[]>();
    for (const { symbol } of instruments) {
      const columns = until(await this.#venue.bars(symbol, fromMs), toMs);
      for (let i = 0; i < columns.time.length; i++) {
        const closeMs = columns.time[i]! + MINUTE_MS;
        byClose.set(closeMs, [...(byClose.get(closeMs) ?? []), { symbol, bar: minuteOf(columns, i) }]);
      }
    }
    return [...byClose]
      .sort(([a], [b]) => a - b)
      .map(([timeMs, minutes]) => ({ type: "closing" as const, timeMs, minutes, account: null }));
  }
}

/** Minutes that are over by a time. */
const until = (columns: BarColumns, nowMs: number): BarColumns => sliceColumns(columns, 0, lowerBound(columns.time, nowMs - MINUTE_MS + 1));
