/** The venue's markets: each carries the generator on past the end of the history, one minute at a time. */
import {
  type BarColumns,
  type Instrument,
  layOutSessions,
  lowerBound,
  MINUTE_MS,
  type MinuteBar,
  minuteOf,
  sliceColumns,
  toGrid,
} from "@plan-tester/core";
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
import type { SymbolMinute } from "./protocol.ts";

/** Sessions made ahead whenever a market runs out of them. */
const AHEAD_MS = 5 * 86_400_000;

const carries = new Map<string, Carry>();

/** Where a market stands at the end of the history; made once, it takes the whole history to know. */
function carryOf(symbol: string): Carry {
  let carry = carries.get(symbol);
  if (!carry) {
    carry = generateHistory(symbol, HISTORY_TO).carry;
    carries.set(symbol, carry);
  }
  return structuredClone(carry);
}

/** From a time on the prices of an instrument are so many times those of the generator, on its grid. */
export interface Jump {
  readonly symbol: string;
  readonly fromMs: number;
  readonly factor: number;
}

export class VenueMarket {
  readonly instrument: Instrument;
  #carry: Carry;
  readonly #builder: BarBuilder;
  #madeTo = HISTORY_TO;
  #columns: BarColumns;
  #next = 0;
  isOpen = false;
  readonly #jumps: Jump[];

  /** @param isOpen whether a minute that opens at that time is open already */
  constructor(instrument: Instrument, nowMs: number, isOpen: boolean, jumps: readonly Jump[] = []) {
    this.instrument = instrument;
    this.#jumps = [...jumps];
    this.#carry = carryOf(instrument.symbol);
    this.#builder = new BarBuilder(1 << 13, characterOf(instrument.symbol).spreadTicks !== undefined);
    this.#columns = this.#builder.finish();
    this.#make(nowMs + AHEAD_MS);
    this.#next = lowerBound(this.#columns.time, nowMs);
    this.isOpen = isOpen && this.#columns.time[this.#next] === nowMs;
  }

  #make(toMs: number): void {
    if (toMs <= this.#madeTo) return;
    const sessions = sessionPlans(layOutSessions(this.instrument.calendar, this.#madeTo, toMs)).filter(
      (s) => s.openMs >= this.#madeTo && s.openMs < toMs,
    );
    for (const session of sessions) generateSession(this.instrument, session, this.#carry, this.#builder);
    this.#madeTo = toMs;
    this.#columns = this.#builder.finish();
    for (const jump of this.#jumps) this.#apply(jump);
  }

  get jumps(): readonly Jump[] {
    return this.#jumps;
  }

  /** With the next minute that opens prices are so many times what they would have been. */
  jump(factor: number): void {
    while (this.#next + 1 >= this.#columns.time.length) this.#make(this.#madeTo + AHEAD_MS);
    const jump = { symbol: this.instrument.symbol, fromMs: this.#columns.time[this.#next + (this.isOpen ? 1 : 0)]!, factor };
    this.#jumps.push(jump);
    this.#apply(jump);
  }

  #apply({ fromMs, factor }: Jump): void {
    const { tickSize } = this.instrument;
    const from = lowerBound(this.#columns.time, fromMs);
    for (const name of ["open", "high", "low", "close"] as const) {
      const prices = this.#columns[name];
      for (let i = from; i < prices.length; i++) prices[i] = Math.max(tickSize, toGrid(prices[i]! * factor, tickSize, "nearest"));
    }
  }

  /** When it opens or closes a minute next. */
  get nextMs(): number {
    while (this.#next >= this.#columns.time.length) this.#make(this.#madeTo + AHEAD_MS);
    return this.#columns.time[this.#next]! + (this.isOpen ? MINUTE_MS : 0);
  }

  /** The minute that is open, or next. */
  get minute(): MinuteBar {
    return minuteOf(this.#columns, this.#next);
  }

  close(): MinuteBar {
    const { minute } = this;
    this.isOpen = false;
    this.#next++;
    return minute;
  }

  /** Close of the last finished minute that opened before a time; NaN where there is none. */
  priceBefore(timeMs: number): number {
    const before = Math.min(this.#next, lowerBound(this.#columns.time, timeMs));
    return this.#columns.close[before - 1] ?? Number.NaN;
  }

  /** Finished minutes since the end of the history that open at or after a time. */
  finished(fromMs: number): BarColumns {
    const from = lowerBound(this.#columns.time, fromMs);
    return sliceColumns(this.#columns, Math.min(this.#next, from), this.#next);
  }
}

export class Markets {
  readonly #nowMs: number;
  readonly #isUnderWay: boolean;
  /** Of before the start. */
  readonly #jumps: readonly Jump[];
  readonly #markets = new Map<string, VenueMarket>();

  /**
   * @param nowMs where markets start that are opened before any minute has gone by
   * @param isUnderWay whether minutes that open then are open already
   */
  constructor(nowMs: number, isUnderWay: boolean, jumps: readonly Jump[] = []) {
    this.#jumps = jumps;
    this.#nowMs = nowMs;
    this.#isUnderWay = isUnderWay;
  }

  /** The market of a symbol, opened on first use; undefined where the venue does not trade it. */
  open(symbol: string): VenueMarket | undefined {
    const known = this.#markets.get(symbol);
    if (known) return known;
    const instrument = INSTRUMENTS.find((candidate) => candidate.symbol === symbol);
    if (!instrument) return undefined;
    const isUnderWay = this.#isUnderWay && this.#passedMs < this.#nowMs;
    const jumps = this.#jumps.filter((jump) => jump.symbol === symbol);
    // Once a moment has gone by its minutes are not begun again for one that comes later: others are on their way in theirs.
    const fromMs = this.#passedMs < this.#nowMs ? this.#nowMs : this.#passedMs + 1;
    const market = new VenueMarket(instrument, fromMs, isUnderWay, jumps);
    this.#markets.set(symbol, market);
    return market;
  }

  get jumps(): Jump[] {
    return [
      ...this.#jumps.filter(({ symbol }) => !this.#markets.has(symbol)),
      ...[...this.#markets.values()].flatMap(({ jumps }) => jumps),
    ];
  }

  /** The last moment that has gone by. */
  #passedMs = Number.NEGATIVE_INFINITY;

  /** When something happens next; Infinity while no market is open. */
  get nextMs(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const market of this.#markets.values()) next = Math.min(next, market.nextMs);
    return next;
  }

  get isAnyOpen(): boolean {
    for (const { isOpen } of this.#markets.values()) if (isOpen) return true;
    return false;
  }

  /** Minutes that are open, whole. */
  underWay(): SymbolMinute[] {
    return [...this.#markets].flatMap(([symbol, { isOpen, minute }]) => (isOpen ? { symbol, bar: minute } : []));
  }

  /** Ends the minutes that are over by a time. */
  closeBy(timeMs: number): SymbolMinute[] {
    this.#passedMs = timeMs;
    const closed: SymbolMinute[] = [];
    for (const [symbol, market] of this.#markets)
      if (market.isOpen && market.nextMs <= timeMs) closed.push({ symbol, bar: market.close() });
    return closed;
  }

  /** Begins the minutes that open at a time. */
  openAt(timeMs: number): Map<string, MinuteBar> {
    const opened = new Map<string, MinuteBar>();
    for (const [symbol, market] of this.#markets)
      if (!market.isOpen && market.nextMs <= timeMs) {
        market.isOpen = true;
        opened.set(symbol, market.minute);
      }
    return opened;
  }
}
