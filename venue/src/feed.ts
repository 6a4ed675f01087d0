/** The feed: carries the generator on past the end of the history, one finished minute at a time, at a chosen speed. */
import { type BarColumns, type Instrument, layOutSessions, lowerBound, MINUTE_MS } from "@plan-tester/core";
import {
  BarBuilder,
  type Carry,
  characterOf,
  generateHistory,
  generateSession,
  HISTORY_TO,
  INSTRUMENTS,
  sessionPlans,
} from "@plan-tester/demo";
import type { VenueBar } from "./protocol.ts";

/** Sessions made ahead whenever a market runs out of them. */
const AHEAD_MS = 5 * 86_400_000;

class LiveMarket {
  readonly instrument: Instrument;
  #carry: Carry;
  readonly #builder: BarBuilder;
  #madeTo = HISTORY_TO;
  #columns: BarColumns;
  #next = 0;

  constructor(instrument: Instrument, nowMs: number) {
    this.instrument = instrument;
    this.#carry = generateHistory(instrument.symbol, HISTORY_TO).carry;
    this.#builder = new BarBuilder(1 << 13, characterOf(instrument.symbol).spreadTicks !== undefined);
    this.#columns = this.#builder.finish();
    this.#make(nowMs + AHEAD_MS);
    this.#next = lowerBound(this.#columns.time, nowMs);
  }

  #make(toMs: number): void {
    if (toMs <= this.#madeTo) return;
    const sessions = sessionPlans(layOutSessions(this.instrument.calendar, this.#madeTo, toMs)).filter(
      (s) => s.openMs >= this.#madeTo && s.openMs < toMs,
    );
    for (const session of sessions) generateSession(this.instrument, session, this.#carry, this.#builder);
    this.#madeTo = toMs;
    this.#columns = this.#builder.finish();
  }

  /** Open time of the next bar to be finished. */
  nextOpen(): number {
    while (this.#next >= this.#columns.time.length) this.#make(this.#madeTo + AHEAD_MS);
    return this.#columns.time[this.#next]!;
  }

  take(): VenueBar {
    this.nextOpen();
    return this.#at(this.#next++);
  }

  #at(i: number): VenueBar {
    const { time, open, high, low, close, volume, spread } = this.#columns;
    return { time: time[i]!, open: open[i]!, high: high[i]!, low: low[i]!, close: close[i]!, volume: volume[i]!, spread: spread?.[i] ?? 0 };
  }

  /** Finished bars from the end of the history on. */
  finished(): BarColumns {
    const cut = (column: Float64Array): Float64Array => column.subarray(0, this.#next);
    const { time, open, high, low, close, volume, spread } = this.#columns;
    return {
      time: cut(time),
      open: cut(open),
      high: cut(high),
      low: cut(low),
      close: cut(close),
      volume: cut(volume),
      spread: spread ? cut(spread) : undefined,
    };
  }

  get lastClose(): number | null {
    return this.#next > 0 ? this.#columns.close[this.#next - 1]! : null;
  }
}

export class Feed {
  nowMs: number;
  speed: number;
  readonly #markets = new Map<string, LiveMarket>();
  readonly #onBar: (symbol: string, bar: VenueBar) => void;

  constructor(nowMs: number, speed: number, onBar: (symbol: string, bar: VenueBar) => void) {
    this.nowMs = nowMs;
    this.speed = speed;
    this.#onBar = onBar;
  }

  /** The market of a symbol, opened on first use. */
  market(symbol: string): LiveMarket | undefined {
    const known = this.#markets.get(symbol);
    if (known) return known;
    const instrument = INSTRUMENTS.find((candidate) => candidate.symbol === symbol);
    if (!instrument) return undefined;
    const market = new LiveMarket(instrument, this.nowMs);
    this.#markets.set(symbol, market);
    return market;
  }

  /** Lets `realMs` of wall clock pass. Time in which no open market trades is skipped. */
  advance(realMs: number): void {
    if (this.#markets.size === 0) return;
    const until = this.nowMs + realMs * this.speed;
    for (;;) {
      let soonest: LiveMarket | null = null;
      for (const market of this.#markets.values()) if (!soonest || market.nextOpen() < soonest.nextOpen()) soonest = market;
      const opens = soonest!.nextOpen();
      if (opens > until) {
        // Case: nobody trades now; jump to where trading goes on.
        if (opens > until + 10 * MINUTE_MS) this.nowMs = opens;
        else this.nowMs = until;
        return;
      }
      if (opens + MINUTE_MS > until) {
        this.nowMs = until;
        return;
      }
      this.nowMs = Math.max(this.nowMs, opens + MINUTE_MS);
      this.#onBar(soonest!.instrument.symbol, soonest!.take());
    }
  }
}
