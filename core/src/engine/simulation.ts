/**
 * The clock of a backtest on one instrument (R2): walks its bars through its book and calls the plan's handlers.
 * `JointSimulation` does the same for several instruments; the two share `Feed`.
 */
import type { EquityRecord } from "./equity.ts";
import type { Feed, HeldCounts } from "./feed.ts";

/** Exposed are bars at whose close a position was open, or during which one was. */
export interface SimulationCounts extends HeldCounts {
  /** Bars without finer bars, where R4.1 was used instead (R4.2). */
  finerMissing: number;
}

/** What a backtest drives. */
export interface Clock {
  readonly counts: SimulationCounts;
  /** Bars of the first instrument done so far. */
  readonly done: number;
  /** Runs bars of the first instrument up to `until` (exclusive). May be called again to go on. */
  run(until: number): void;
  /** Whether the account was wiped out and the run has ended with it (R5.6). */
  readonly isOver: boolean;
  /** Marks out what is open at the last closes (R5.6). Equity there is already marked at those prices. */
  finish(): void;
}

export class Simulation implements Clock {
  readonly counts: SimulationCounts = { exposedBars: 0, positionValueSum: 0, positionValuePeak: 0, unitsPeak: 0, finerMissing: 0 };
  readonly #feed: Feed;
  readonly #equity: EquityRecord;

  constructor(feed: Feed, equity: EquityRecord) {
    this.#feed = feed;
    this.#equity = equity;
    this.counts.finerMissing = feed.finerMissing;
    feed.counts = this.counts;
  }

  /** A bar whose handler threw counts as not done. */
  done = 0;

  get isOver(): boolean {
    const { book } = this.#feed;
    return book.account.isOver && book.lots.length === 0;
  }

  run(until: number): void {
    const feed = this.#feed;
    const { bars } = feed;
    const end = Math.min(until, bars.length);
    while (feed.next < end && !this.isOver) {
      // A bar at whose close a handler waits may be quiet itself: it is crossed with the others.
      const due = feed.nextClose;
      feed.cross(Math.min(end, feed.nextOpen, due + 1), this.#equity);
      const { next } = feed;
      if (next > due) {
        this.done = due;
        this.#closeAt(due);
      } else if (next < end) {
        this.done = next;
        this.#step(next);
      }
      this.done = feed.next;
    }
  }

  /** Handlers that wait for the close of bar i. */
  #closeAt(i: number): void {
    const feed = this.#feed;
    feed.book.standAtClose(i, feed.bars.closeTime);
    feed.handlers.atClose(i);
    feed.nextClose = feed.handlers.nextClose(i + 1);
  }

  #step(i: number): void {
    const feed = this.#feed;
    const { book } = feed;
    const { close, closeTime } = feed.bars;
    const { counts } = this;
    const wasHeld = book.lots.length > 0;
    const tradesBefore = book.counts.trades;
    feed.open(i);
    feed.path(i);
    const c = close[i]!;
    book.mark = c;
    if (book.lots.length > 0) {
      const value = book.grossUnits * c * book.pointMoney;
      counts.positionValueSum += value;
      if (value > counts.positionValuePeak) counts.positionValuePeak = value;
      if (book.grossUnits > counts.unitsPeak) counts.unitsPeak = book.grossUnits;
    }
    if (wasHeld || book.lots.length > 0 || book.counts.trades > tradesBefore) counts.exposedBars++;
    const equity = book.aloneAt(c);
    this.#equity.at(i, equity);
    if (equity <= 0 || book.account.limits) {
      book.barIndex = i;
      book.timeMs = closeTime[i]!;
      book.account.noteClose(equity, closeTime[i]!);
      if (book.account.isOver) feed.nextClose = feed.nextOpen = Number.POSITIVE_INFINITY;
    }
    if (book.settings.margin) {
      book.timeMs = closeTime[i]!;
      if (book.account.mustClose) book.callMargin();
    }
    if (feed.nextClose === i) this.#closeAt(i);
  }

  finish(): void {
    const { book, bars, next } = this.#feed;
    if (next === 0) return;
    book.barIndex = next - 1;
    book.timeMs = bars.closeTime[next - 1]!;
    book.markOut(bars.close[next - 1]!);
  }
}
