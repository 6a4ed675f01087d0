/**
 * The clock of a backtest (R2): walks bars through a book and calls the plan's handlers. Stretches in which nothing can
 * happen are crossed in one tight loop: without open lots or working orders it jumps to the next bar that a handler
 * waits for; with them it compares each bar with the two nearest trigger levels.
 */
import type { BarSeries } from "../market/bars.ts";
import type { Book } from "./book.ts";
import type { Outcome } from "./lots.ts";
import { firstExtreme } from "./path.ts";

/** The plan's side of the clock. `next...` return the first bar at or after `from` at which a handler is due, or `length`. */
export interface BarHandlers {
  nextOpen(from: number): number;
  nextClose(from: number): number;
  atOpen(barIndex: number): void;
  atClose(barIndex: number): void;
}

/** Finer bars inside each bar: bar i holds `series` bars [first[i], first[i + 1]). */
export interface FinerBars {
  readonly series: BarSeries;
  readonly first: Int32Array;
}

export interface SimulationCounts {
  /** Bars at whose close a position was open, or during which one was. */
  exposedBars: number;
  positionValueSum: number;
  positionValuePeak: number;
  /** Bars without finer bars, where R4.1 was used instead (R4.2). */
  finerMissing: number;
}

export class Simulation {
  readonly equity: Float64Array;
  readonly counts: SimulationCounts = { exposedBars: 0, positionValueSum: 0, positionValuePeak: 0, finerMissing: 0 };
  readonly #bars: BarSeries;
  readonly #book: Book;
  readonly #handlers: BarHandlers;
  readonly #finer: FinerBars | null;
  #next = 0;
  #nextOpen = 0;
  #nextClose = 0;

  constructor(
    bars: BarSeries,
    book: Book,
    handlers: BarHandlers,
    finer: FinerBars | null,
    equity: Float64Array = new Float64Array(bars.length),
  ) {
    this.#bars = bars;
    this.#book = book;
    this.#handlers = handlers;
    this.#finer = finer;
    this.equity = equity;
    if (finer) for (let i = 0; i < bars.length; i++) if (finer.first[i] === finer.first[i + 1]) this.counts.finerMissing++;
    this.#nextOpen = handlers.nextOpen(0);
    this.#nextClose = handlers.nextClose(0);
  }

  /** Bars done so far. */
  get done(): number {
    return this.#next;
  }

  /** Runs bars up to `until` (exclusive). May be called again to go on. */
  run(until: number): void {
    const bars = this.#bars;
    const { high, low, close, spread } = bars;
    const book = this.#book;
    const { counts } = this;
    const pointValue = book.instrument.pointValue;
    const end = Math.min(until, bars.length);
    while (this.#next < end) {
      const handlerBar = Math.min(end, this.#nextOpen, this.#nextClose);
      if (book.idle) this.#skipFlat(handlerBar);
      else if (!spread && book.waiting.length === 0 && !book.hasExpiry) this.#crossQuiet(handlerBar);
      const i = this.#next;
      if (i >= end) break;
      if (spread) book.setSpread(spread[i]!);
      book.barIndex = i;
      const heldBefore = book.units !== 0;
      const tradesBefore = book.counts.trades;
      const opening = this.#nextOpen === i;
      if (opening || book.waiting.length > 0 || high[i]! >= book.upLevel || low[i]! <= book.downLevel || book.hasExpiry)
        this.#eventful(i, opening);
      else book.touch(low[i]!, high[i]!);
      const held = book.units !== 0;
      if (held) {
        const value = Math.abs(book.units) * close[i]! * pointValue;
        counts.positionValueSum += value;
        if (value > counts.positionValuePeak) counts.positionValuePeak = value;
      }
      if (held || heldBefore || book.counts.trades > tradesBefore) counts.exposedBars++;
      this.equity[i] = book.equityAt(close[i]!);
      if (this.#nextClose === i) {
        book.timeMs = bars.closeTime[i]!;
        this.#handlers.atClose(i);
        this.#nextClose = this.#handlers.nextClose(i + 1);
      }
      this.#next = i + 1;
    }
  }

  /** Marks out what is open at the last close (R5.6). Equity there is already marked at that price. */
  finish(): void {
    const last = this.#next - 1;
    if (last < 0) return;
    this.#book.barIndex = last;
    this.#book.timeMs = this.#bars.closeTime[last]!;
    this.#book.markOut(this.#bars.close[last]!);
  }

  #skipFlat(to: number): void {
    if (to <= this.#next) return;
    this.equity.fill(this.#book.cash, this.#next, to);
    this.#next = to;
  }

  /** Bars that stay between the two nearest trigger levels: only marks and extremes move. */
  #crossQuiet(to: number): void {
    const { high, low, close } = this.#bars;
    const { equity, counts } = this;
    const book = this.#book;
    const { upLevel, downLevel, cash, units } = book;
    const pointValue = book.instrument.pointValue;
    const base = cash - book.basisMoney * pointValue;
    const perPrice = units * pointValue;
    const start = this.#next;
    let i = start;
    let highest = Number.NEGATIVE_INFINITY;
    let lowest = Number.POSITIVE_INFINITY;
    let closeSum = 0;
    let closePeak = 0;
    while (i < to && high[i]! < upLevel && low[i]! > downLevel) {
      if (high[i]! > highest) highest = high[i]!;
      if (low[i]! < lowest) lowest = low[i]!;
      const c = close[i]!;
      equity[i] = base + perPrice * c;
      closeSum += c;
      if (c > closePeak) closePeak = c;
      i++;
    }
    if (i === start) return;
    this.#next = i;
    if (units === 0) return;
    book.touch(lowest, highest);
    counts.exposedBars += i - start;
    counts.positionValueSum += Math.abs(perPrice) * closeSum;
    counts.positionValuePeak = Math.max(counts.positionValuePeak, Math.abs(perPrice) * closePeak);
  }

  #eventful(i: number, opening: boolean): void {
    const { time, open, high, low, close } = this.#bars;
    const book = this.#book;
    book.timeMs = time[i]!;
    if (book.hasExpiry) book.expire(i, time[i]!);
    if (opening) {
      this.#handlers.atOpen(i);
      this.#nextOpen = this.#handlers.nextOpen(i + 1);
    }
    const finer = this.#finer;
    const start = finer ? finer.first[i]! : 0;
    const end = finer ? finer.first[i + 1]! : 0;
    if (!finer || start === end) walkBar(book, open[i]!, high[i]!, low[i]!, close[i]!);
    else
      for (let j = start; j < end; j++) {
        const fine = finer.series;
        book.timeMs = fine.time[j]!;
        if (fine.spread) book.setSpread(fine.spread[j]!);
        walkBar(book, fine.open[j]!, fine.high[j]!, fine.low[j]!, fine.close[j]!);
      }
    book.endBar();
  }
}

/** One bar through a book: the open point, then the assumed path, with the path-dependent mark (R4.1, R4.4). */
export function walkBar(book: Book, open: number, high: number, low: number, close: number): void {
  book.fillAtOpen(open);
  if (high < book.upLevel && low > book.downLevel) {
    book.touch(low, high);
    book.pathPrice = close;
    return;
  }
  if (book.eventsWithin(low, high) >= 2) {
    const upFirst = book.outcomeOf(open, high, low, close, "high");
    book.dependent = differences(upFirst, book.outcomeOf(open, high, low, close, "low"));
  }
  book.alongPath(open, high, low, close, firstExtreme(open, high, low, close));
  if (!book.dependent) return;
  for (const lot of book.lots) {
    const stake = book.dependent.get(lot.order.id);
    if (stake === undefined) continue;
    lot.pathDependent = true;
    lot.atStake = Math.max(lot.atStake, stake);
  }
  book.dependent = null;
}

function differences(a: Outcome, b: Outcome): Map<number, number> | null {
  let found: Map<number, number> | null = null;
  for (const root of new Set([...a.keys(), ...b.keys()])) {
    const [one, other] = [a.get(root), b.get(root)];
    if (one?.trail === other?.trail) continue;
    found ??= new Map();
    found.set(root, Math.abs((one?.money ?? 0) - (other?.money ?? 0)));
  }
  return found;
}
