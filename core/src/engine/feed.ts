/**
 * One instrument of a run: its bars, its book, and the bars that need looking at. Stretches in which nothing can happen
 * are crossed in one tight loop: without open lots or working orders it jumps to the next bar that a handler waits for;
 * with them it compares each bar with the two nearest trigger levels.
 */
import type { BarSeries } from "../market/bars.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { firstAfter, firstAtOrAfter } from "./ascending.ts";
import { type BarBlocks, BLOCK_BARS, BLOCK_SHIFT, blocksOf } from "./bar-blocks.ts";
import type { Book } from "./book.ts";
import type { EquityRecord } from "./equity.ts";
import { walkPath } from "./walk-path.ts";

/** The plan's side of the clock. `next...` return the first bar at or after `from` at which a handler is due, or `length`. */
export interface BarHandlers {
  nextOpen(from: number): number;
  nextClose(from: number): number;
  /** @param openMs when it opens: later than its own time where its first finer bars are missing */
  atOpen(barIndex: number, openMs: number): void;
  atClose(barIndex: number): void;
  /** What is due at the open of a finer bar inside a bar, past its first one; none where it is left out. */
  readonly fine?: FineHandlers;
}

/** `next` returns the first finer bar at or after `from` at whose open a handler is due, or the number of finer bars. */
export interface FineHandlers {
  next(from: number): number;
  act(fineIndex: number): void;
}

/** Finer bars inside each bar: bar i holds `series` bars [first[i], first[i + 1]). */
export interface FinerBars {
  readonly series: BarSeries;
  readonly first: Int32Array;
}

/** What a position was exposed to, counted as bars go by. */
export interface HeldCounts {
  exposedBars: number;
  positionValueSum: number;
  positionValuePeak: number;
  /** Most units held at a bar close, long and short added up. */
  unitsPeak: number;
}

/** How far past the wanted stretch quiet bars are looked for. */
const LOOK_ON_BARS = 256;

export class Feed {
  readonly bars: BarSeries;
  readonly book: Book;
  readonly handlers: BarHandlers;
  readonly finer: FinerBars | null;
  /** Bars without finer bars, where R4.1 was used instead (R4.2). */
  readonly finerMissing: number;
  next = 0;
  /** The next bar at whose open, or inside which, a handler is due. */
  nextOpen: number;
  nextClose: number;
  /** The next finer bar at whose open one is due, and the bar that it lies in. */
  #nextFine = Number.POSITIVE_INFINITY;
  #barOfFine = Number.POSITIVE_INFINITY;
  /** Counts quiet bars of an open position; null where exposure is counted otherwise. */
  counts: HeldCounts | null = null;
  readonly chargesNights: boolean;
  readonly #blocks: BarBlocks;
  /** Told of every bar, none is crossed quietly: a margin or limits to watch, a spread of its own, or a plan that acts on every price. */
  readonly #isRestless: boolean;

  /** @param lead bars ahead of the period, which need no finer ones. */
  constructor(bars: BarSeries, book: Book, handlers: BarHandlers, finer: FinerBars | null, lead = 0) {
    this.bars = bars;
    this.#blocks = blocksOf(bars);
    this.book = book;
    this.handlers = handlers;
    this.finer = finer;
    const { costs } = book;
    this.chargesNights = costs.financingLong !== 0 || costs.financingShort !== 0;
    this.#isRestless = book.settings.margin !== null || book.account.limits !== null || bars.spread !== undefined || book.onPrice !== null;
    let missing = 0;
    if (finer) for (let i = lead; i < bars.length; i++) if (finer.first[i] === finer.first[i + 1]) missing++;
    this.finerMissing = missing;
    book.state.settleQuiet = () => this.settle(this.#leftTo);
    book.state.dropQuiet = () => {
      if (this.counts) this.counts.exposedBars += this.#leftTo - this.#leftFrom;
      this.#leftFrom = this.#leftTo = 0;
    };
    this.#seekFine(0);
    this.nextOpen = Math.min(handlers.nextOpen(0), this.#barOfFine);
    this.nextClose = handlers.nextClose(0);
  }

  /**
   * Crosses bars from `next` up to `end` (exclusive) in which nothing happens, and stops at the first in which something
   * may. `equity`, where given, takes note of cash plus open profit.
   */
  cross(end: number, equity: EquityRecord | null): void {
    const { book } = this;
    if (end <= this.next) return;
    if (book.idle) {
      if (book.onPrice) return;
      if (equity !== null) equity.flat(book.account.cash, this.next, end);
      this.next = end;
    } else if (!this.#isRestless && book.waiting.length === 0 && book.closing.length === 0)
      this.#crossWatching(this.#untilDue(end), equity);
    if (this.next > 0) book.mark = this.bars.close[this.next - 1]!;
  }

  /** The first bar from `next` up to `end` in which something may happen before its close; `end` when all are quiet. */
  firstRestless(end: number): number {
    const { book } = this;
    const limit = Math.min(end, this.nextOpen);
    if (limit <= this.next) return this.next;
    if (book.onPrice || book.waiting.length > 0 || book.closing.length > 0) return this.next;
    if (book.idle) return limit;
    if (this.#isRestless) return this.next;
    return this.#quietUntil(this.next, this.#untilDue(limit));
  }

  /** Bars known to be quiet for the levels of this version, and whether the one after them is known not to be. */
  #knownQuiet = 0;
  #knownLevels = -1;
  #isKnownToReach = false;

  /**
   * The first bar from `from` up to `end` that reaches a trigger level; `end` when none does. It looks on past `end`, so
   * that a stretch which handlers cut into pieces is looked through once, in whole blocks.
   */
  #quietUntil(from: number, end: number): number {
    const { version } = this.book.triggers;
    if (this.#knownLevels !== version || this.#knownQuiet < from) {
      this.#knownLevels = version;
      this.#knownQuiet = from;
      this.#isKnownToReach = false;
    }
    if (this.#knownQuiet < end && !this.#isKnownToReach) {
      const limit = Math.min(this.bars.length, Math.max(end, this.#knownQuiet + LOOK_ON_BARS));
      this.#knownQuiet = this.#firstReaching(this.#knownQuiet, limit);
      this.#isKnownToReach = this.#knownQuiet < limit;
    }
    return Math.min(end, this.#knownQuiet);
  }

  /** Index of the first bar from `from` up to `end` that reaches a trigger level; `end` when none does. Whole blocks at a time. */
  #firstReaching(from: number, end: number): number {
    const { high, low } = this.bars;
    const { high: tops, low: bottoms } = this.#blocks;
    const { upLevel, downLevel } = this.book.triggers;
    let i = from;
    while (i < end) {
      const block = i >> BLOCK_SHIFT;
      const blockEnd = (block + 1) << BLOCK_SHIFT;
      if (blockEnd <= end && tops[block]! < upLevel && bottoms[block]! > downLevel) i = blockEnd;
      else {
        const stop = Math.min(blockEnd, end);
        while (i < stop && high[i]! < upLevel && low[i]! > downLevel) i++;
        if (i < stop) return i;
      }
    }
    return end;
  }

  /** Bars that stay between the two nearest trigger levels: only marks and extremes move. */
  #crossWatching(end: number, equity: EquityRecord | null): void {
    const { book } = this;
    const start = this.next;
    const stop = this.#quietUntil(start, end);
    if (stop <= start) return;
    this.next = stop;
    if (equity !== null) {
      const { pointMoney } = book;
      equity.held(book.account.cash - book.basisMoney * pointMoney, book.units * pointMoney, start, stop);
    }
    if (book.lots.length > 0) this.#leave(start, stop);
  }

  /** Bars [from, to) of one position, crossed but not yet looked at for extremes and sums. */
  #leftFrom = 0;
  #leftTo = 0;

  #leave(from: number, to: number): void {
    if (from !== this.#leftTo) this.settle(this.#leftTo);
    if (this.#leftTo === this.#leftFrom) this.#leftFrom = from;
    this.#leftTo = to;
  }

  /** Looks at what was left, up to bar `end` (exclusive): the extremes of the open lots, and what the position was worth. */
  settle(end: number): void {
    const start = this.#leftFrom;
    const stop = Math.min(this.#leftTo, end);
    if (stop <= start) return;
    if (stop === this.#leftTo) this.#leftFrom = this.#leftTo = 0;
    else this.#leftFrom = stop;
    const { high, low, close } = this.bars;
    const blocks = this.#blocks;
    const { book, counts } = this;
    let highest = Number.NEGATIVE_INFINITY;
    let lowest = Number.POSITIVE_INFINITY;
    let closeSum = 0;
    let closePeak = 0;
    let i = start;
    while (i < stop) {
      const block = i >> BLOCK_SHIFT;
      if ((i & (BLOCK_BARS - 1)) === 0 && i + BLOCK_BARS <= stop) {
        if (blocks.high[block]! > highest) highest = blocks.high[block]!;
        if (blocks.low[block]! < lowest) lowest = blocks.low[block]!;
        if (blocks.closePeak[block]! > closePeak) closePeak = blocks.closePeak[block]!;
        closeSum += blocks.closeSum[block]!;
        i += BLOCK_BARS;
      } else {
        if (high[i]! > highest) highest = high[i]!;
        if (low[i]! < lowest) lowest = low[i]!;
        if (close[i]! > closePeak) closePeak = close[i]!;
        closeSum += close[i]!;
        i++;
      }
    }
    book.touch(lowest, highest);
    if (!counts) return;
    const perPrice = book.grossUnits * book.pointMoney;
    counts.exposedBars += stop - start;
    counts.positionValueSum += perPrice * closeSum;
    counts.positionValuePeak = Math.max(counts.positionValuePeak, perPrice * closePeak);
    counts.unitsPeak = Math.max(counts.unitsPeak, book.grossUnits);
  }

  /** No further than the bar on which an order expires, a time limit is over or a night is charged. */
  #untilDue(end: number): number {
    const { book, bars } = this;
    const { dueBar, dueTime } = book.triggers;
    let until = Math.min(end, dueBar);
    // With finer bars a time may be due inside a bar: that one is not crossed.
    if (dueTime !== Number.POSITIVE_INFINITY) {
      const first = this.finer
        ? firstAfter(bars.closeTime, dueTime, this.next, bars.length)
        : firstAtOrAfter(bars.time, dueTime, bars.length);
      until = Math.min(until, Math.max(this.next, first));
    }
    if (this.chargesNights && book.lots.length > 0)
      for (let i = this.next; i < until; i++)
        if (this.#isNewSession(i)) {
          until = i;
          break;
        }
    return until;
  }

  /** Calendar nights between the session of bar i and that of the bar before: three over a weekend (R5.4). */
  #nightsBefore(i: number): number {
    const { session, sessions } = this.bars;
    const dayOf = (bar: number): number => Date.parse(`${sessions.dates[session[bar]!]}T00:00:00Z`);
    return Math.max(1, Math.round((dayOf(i) - dayOf(i - 1)) / DAY_MS));
  }

  #isNewSession(i: number): boolean {
    return i > 0 && this.bars.session[i] !== this.bars.session[i - 1];
  }

  /** Bar i opens: nights are charged, orders expire, handlers run, and what can fills at the open (R2.1). */
  open(i: number): void {
    this.openEvents(i);
    this.openFills(i);
  }

  /** When bar i opens: at its own time, or with the first finer bar that there is in it. */
  openMs(i: number): number {
    const { finer, bars } = this;
    const first = finer ? finer.first[i]! : 0;
    return finer && first < finer.first[i + 1]! ? finer.series.time[first]! : bars.time[i]!;
  }

  /** Whether anything is to be done ahead of the open of bar i: by handlers, to orders, or to the cost of positions. */
  hasEventsAt(i: number): boolean {
    const { book } = this;
    if (this.nextOpen <= i || book.waiting.length + book.closing.length > 0 || i >= book.triggers.dueBar) return true;
    if (this.bars.spread !== undefined || (this.chargesNights && book.lots.length > 0)) return true;
    return this.openMs(i) >= book.triggers.dueTime;
  }

  /** Bar i is about to open: the nights before it are charged, once. */
  charge(i: number): void {
    const { book } = this;
    if (!this.chargesNights || book.lots.length === 0 || i === this.#chargedAt || !this.#isNewSession(i)) return;
    this.#chargedAt = i;
    book.chargeNights(this.#nightsBefore(i));
  }

  #chargedAt = -1;

  openEvents(i: number): void {
    const { book } = this;
    const { spread } = this.bars;
    const openMs = this.openMs(i);
    book.barIndex = i;
    book.timeMs = openMs;
    if (spread) book.setSpread(spread[i]!);
    this.charge(i);
    // Market orders that wait, for the open or for the close, have a time too (R3.4).
    if (book.waiting.length + book.closing.length > 0 || i >= book.triggers.dueBar || openMs >= book.triggers.dueTime)
      book.expire(i, openMs);
    if (this.nextOpen !== i || book.account.isOver) return;
    this.handlers.atOpen(i, openMs);
    this.nextOpen = Math.min(this.handlers.nextOpen(i + 1), this.#barOfFine);
  }

  /** The next finer bar from j on at whose open a handler is due. */
  #seekFine(j: number): void {
    const { finer, handlers } = this;
    if (!finer || !handlers.fine) return;
    this.#nextFine = handlers.fine.next(j);
    if (this.#nextFine >= finer.series.length) {
      this.#barOfFine = Number.POSITIVE_INFINITY;
      return;
    }
    if (j === 0) this.#barOfFine = 0;
    while (finer.first[this.#barOfFine + 1]! <= this.#nextFine) this.#barOfFine++;
  }

  /** Whether a handler is due at the open of finer bar j, or an order expires there. */
  isFineDue(j: number): boolean {
    return this.#nextFine === j || (this.#expiredAt !== j && this.finer!.series.time[j]! >= this.book.expiryTime);
  }

  /** The finer bar at whose open orders have expired; a lot whose time limit is over waits for the open itself. */
  #expiredAt = -1;

  /** Finer bar j, inside bar i, is about to open: what handlers send works from its open. */
  fineEvents(i: number, j: number): void {
    const { book, handlers } = this;
    book.endBar();
    book.barIndex = i;
    book.timeMs = this.finer!.series.time[j]!;
    this.#expiredAt = j;
    this.#expireInside();
    if (this.#nextFine !== j) return;
    if (!book.account.isOver) handlers.fine!.act(j);
    this.#seekFine(j + 1);
    this.nextOpen = Math.min(handlers.nextOpen(i + 1), this.#barOfFine);
  }

  openFills(i: number): void {
    const { book, finer } = this;
    const { time, open, high, low } = this.bars;
    book.barIndex = i;
    const start = finer ? finer.first[i]! : 0;
    if (finer && start < finer.first[i + 1]!) this.openFine(start);
    else {
      book.timeMs = time[i]!;
      book.fillAtOpen(open[i]!, high[i]! - low[i]!);
    }
  }

  /** Finer bar j opens. */
  openFine(j: number): void {
    const { time, open, high, low, spread } = this.finer!.series;
    const { book } = this;
    book.timeMs = time[j]!;
    if (spread) book.setSpread(spread[j]!);
    book.fillAtOpen(open[j]!, high[j]! - low[j]!);
  }

  /** Orders whose time is over by the open of a finer bar. */
  #expireInside(): void {
    const { book } = this;
    if (book.timeMs >= book.expiryTime) book.expire(book.barIndex, book.timeMs);
  }

  /** The rest of bar i: along its path, or those of the finer bars in it (R2.2). */
  path(i: number): void {
    const { finer } = this;
    const start = finer ? finer.first[i]! : 0;
    const end = finer ? finer.first[i + 1]! : 0;
    if (start === end) this.walkWhole(i);
    else
      for (let j = start; j < end; j++) {
        if (j > start) {
          if (this.isFineDue(j)) this.fineEvents(i, j);
          this.openFine(j);
        }
        this.walkFine(j);
      }
    this.endPath(i);
    this.next = i + 1;
  }

  /** The path of bar i is over: where the session closes with it, orders at the close fill. */
  endPath(i: number): void {
    const { book } = this;
    const { closeTime, close, session, sessions } = this.bars;
    if (book.closing.length > 0 && closeTime[i]! >= sessions.closeMs[session[i]!]!) book.fillAtSessionClose(close[i]!);
    book.endBar();
  }

  /** The rest of bar i along the path that is assumed for it. */
  walkWhole(i: number): void {
    const { open, high, low, close } = this.bars;
    walkPath(this.book, open[i]!, high[i]!, low[i]!, close[i]!);
  }

  /** The rest of finer bar j. */
  walkFine(j: number): void {
    const { open, high, low, close } = this.finer!.series;
    walkPath(this.book, open[j]!, high[j]!, low[j]!, close[j]!);
  }
}
