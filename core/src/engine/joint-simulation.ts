/**
 * The clock of a backtest on several instruments of one account (R2). At each moment bars that close are handled before
 * bars that open; bars that open together open, walk and close in phases, in declared order. Stretches in which no
 * instrument has anything to do are crossed one instrument at a time.
 *
 * Equity is not marked on the way: cash and positions are noted whenever they change, and the curve is drawn from these
 * notes and the closes afterwards, so that a quiet instrument costs nothing while another acts.
 */
import type { Account } from "./account.ts";
import { type Feed, firstAtOrAfter } from "./feed.ts";
import type { Clock, SimulationCounts } from "./simulation.ts";

/** What is told to the plan's side: the moment, and which instrument it is about. */
export interface JointListener {
  /** The last completed bar of each instrument now lies at or before this time. */
  place(timeMs: number): void;
}

const NO_BAR = -1;

/** How a currency becomes account money. */
export interface RateSource {
  /** Feed whose closes give the rate. */
  readonly feed: number;
  readonly inverse: boolean;
}

export class JointSimulation implements Clock {
  readonly equity: Float64Array;
  readonly counts: SimulationCounts = { exposedBars: 0, positionValueSum: 0, positionValuePeak: 0, finerMissing: 0 };
  readonly #feeds: readonly Feed[];
  readonly #account: Account;
  readonly #listener: JointListener;
  readonly #rates: readonly (RateSource | null)[];
  /** The bar of each feed whose path is walked and whose close is still to come. */
  readonly #open: Int32Array;
  /** Bars of the first instrument during which anything was held. */
  readonly #exposed: Uint8Array;
  // Notes: time, cash, then units and basis of each feed.
  #notes = new Float64Array(1024);
  #noted = 0;
  readonly #width: number;
  #marked = 0;

  constructor(
    feeds: readonly Feed[],
    account: Account,
    listener: JointListener,
    rates: readonly (RateSource | null)[],
    equity: Float64Array = new Float64Array(feeds[0]!.bars.length),
  ) {
    this.#feeds = feeds;
    this.#account = account;
    this.#listener = listener;
    this.#rates = rates;
    this.#open = new Int32Array(feeds.length).fill(NO_BAR);
    this.#exposed = new Uint8Array(feeds[0]!.bars.length);
    this.#width = 2 + 2 * feeds.length;
    this.equity = equity;
    for (const feed of feeds) this.counts.finerMissing += feed.finerMissing;
    this.#note(Number.NEGATIVE_INFINITY);
  }

  get done(): number {
    return this.#marked;
  }

  run(until: number): void {
    const main = this.#feeds[0]!;
    const end = Math.min(until, main.bars.length);
    const endTime = end === main.bars.length ? Number.POSITIVE_INFINITY : main.bars.time[end]!;
    for (;;) {
      const closing = this.#nextClose();
      const opening = closing === Number.POSITIVE_INFINITY ? this.#quietUntil(endTime) : this.#nextOpen();
      if (closing <= opening && closing !== Number.POSITIVE_INFINITY) this.#closeAt(closing);
      else if (opening < endTime) this.#openAt(opening);
      else break;
    }
    this.#mark(end);
  }

  finish(): void {
    for (const { book, bars, next } of this.#feeds) {
      if (next === 0) continue;
      book.barIndex = next - 1;
      book.timeMs = bars.closeTime[next - 1]!;
      book.markOut(bars.close[next - 1]!);
    }
  }

  #nextClose(): number {
    let earliest = Number.POSITIVE_INFINITY;
    this.#feeds.forEach(({ bars }, k) => {
      const i = this.#open[k]!;
      if (i !== NO_BAR && bars.closeTime[i]! < earliest) earliest = bars.closeTime[i]!;
    });
    return earliest;
  }

  #nextOpen(): number {
    let earliest = Number.POSITIVE_INFINITY;
    for (const { bars, next } of this.#feeds) if (next < bars.length && bars.time[next]! < earliest) earliest = bars.time[next]!;
    return earliest;
  }

  /** Crosses what is quiet on every instrument; the time of the next bar that is not. */
  #quietUntil(endTime: number): number {
    let until = endTime;
    for (const feed of this.#feeds) {
      const { bars } = feed;
      const due = feed.nextDue;
      if (due < bars.length && bars.time[due]! < until) until = bars.time[due]!;
    }
    // The first that has something to do bounds them all.
    for (const feed of this.#feeds) {
      const stop = this.#quietStop(feed, until);
      if (stop < until) until = stop;
    }
    for (const feed of this.#feeds) {
      const end = firstAtOrAfter(feed.bars.time, until, feed.bars.length);
      if (end <= feed.next) continue;
      const from = feed.next;
      const held = feed.book.lots.length > 0;
      feed.cross(end, null);
      if (held) this.#expose(feed.bars.time[from]!, until);
    }
    return Math.min(until, this.#nextOpen());
  }

  /** Open time of the first bar of a feed, before `until`, in which something may happen. Looks, but moves nothing. */
  #quietStop(feed: Feed, until: number): number {
    const { bars } = feed;
    const end = firstAtOrAfter(bars.time, until, bars.length);
    const stop = feed.firstRestless(end);
    return stop < end ? bars.time[stop]! : until;
  }

  #openAt(time: number): void {
    const stepping: number[] = [];
    this.#feeds.forEach(({ bars, next }, k) => {
      if (next < bars.length && bars.time[next] === time) stepping.push(k);
    });
    this.#setMarks(time);
    this.#setRates();
    this.#listener.place(time);
    const wasHeld = this.#isHeld;
    const tradesBefore = this.#account.trades;
    for (const k of stepping) {
      const feed = this.#feeds[k]!;
      this.#open[k] = feed.next;
      feed.open(feed.next);
    }
    for (const k of stepping) this.#feeds[k]!.path(this.#open[k]!);
    if (wasHeld || this.#isHeld || this.#account.trades > tradesBefore) this.#expose(time, time + 1);
    this.#note(time);
  }

  #closeAt(time: number): void {
    const closing: number[] = [];
    this.#feeds.forEach((feed, k) => {
      const i = this.#open[k]!;
      if (i === NO_BAR || feed.bars.closeTime[i] !== time) return;
      closing.push(k);
      feed.book.mark = feed.bars.close[i]!;
      feed.book.timeMs = time;
    });
    this.#setMarks(time);
    this.#setRates();
    this.#listener.place(time);
    if (this.#account.mustClose) for (const { book } of this.#feeds) book.callMargin();
    for (const k of closing) {
      const feed = this.#feeds[k]!;
      const i = this.#open[k]!;
      this.#open[k] = NO_BAR;
      if (feed.nextClose !== i) continue;
      feed.handlers.atClose(i);
      feed.nextClose = feed.handlers.nextClose(i + 1);
    }
  }

  /** What is known at this time: the close of the last bar that is completed. */
  #setMarks(time: number): void {
    this.#feeds.forEach(({ bars, book, next }, k) => {
      if (this.#open[k] !== NO_BAR) return;
      let j = next - 1;
      while (j >= 0 && bars.closeTime[j]! > time) j--;
      if (j >= 0) book.mark = bars.close[j]!;
    });
  }

  #setRates(): void {
    this.#rates.forEach((source, k) => {
      if (!source) return;
      const { mark } = this.#feeds[source.feed]!.book;
      if (Number.isFinite(mark)) this.#feeds[k]!.book.rate = source.inverse ? 1 / mark : mark;
    });
  }

  get #isHeld(): boolean {
    return this.#feeds.some(({ book }) => book.lots.length > 0);
  }

  /** Bars of the first instrument that overlap [from, to) count as exposed. */
  #expose(from: number, to: number): void {
    const { time, length } = this.#feeds[0]!.bars;
    let i = firstAtOrAfter(time, from, length);
    if (i > 0 && (i === length || time[i]! > from)) i--;
    for (; i < length && time[i]! < to; i++) this.#exposed[i] = 1;
  }

  #note(time: number): void {
    const width = this.#width;
    const at = this.#noted * width;
    if (at + width > this.#notes.length) {
      const grown = new Float64Array(this.#notes.length * 2);
      grown.set(this.#notes);
      this.#notes = grown;
    }
    const notes = this.#notes;
    notes[at] = time;
    notes[at + 1] = this.#account.cash;
    this.#feeds.forEach(({ book }, k) => {
      notes[at + 2 + 2 * k] = book.units;
      notes[at + 3 + 2 * k] = book.basisMoney;
    });
    this.#noted++;
  }

  /** Draws equity at the closes of the first instrument, up to bar `end` (exclusive). */
  #mark(end: number): void {
    const feeds = this.#feeds;
    const { closeTime } = feeds[0]!.bars;
    const width = this.#width;
    const notes = this.#notes;
    const last = new Int32Array(feeds.length).fill(NO_BAR);
    let note = 0;
    for (let i = this.#marked; i < end; i++) {
      const now = closeTime[i]!;
      // A bar's own fills lie before its close; those of a bar that opens at this very close come after it.
      while (note + 1 < this.#noted && notes[(note + 1) * width]! < now) note++;
      let equity = notes[note * width + 1]!;
      let value = 0;
      for (let k = 0; k < feeds.length; k++) {
        const { bars } = feeds[k]!;
        let j = last[k]!;
        while (j + 1 < bars.length && bars.closeTime[j + 1]! <= now) j++;
        last[k] = j;
      }
      for (let k = 0; k < feeds.length; k++) {
        const { bars, book } = feeds[k]!;
        const units = notes[note * width + 2 + 2 * k]!;
        const basis = notes[note * width + 3 + 2 * k]!;
        if ((units === 0 && basis === 0) || last[k] === NO_BAR) continue;
        const close = bars.close[last[k]!]!;
        const perPoint = book.instrument.pointValue * this.#rateAt(k, last);
        equity += (units * close - basis) * perPoint;
        value += Math.abs(units) * close * perPoint;
      }
      this.equity[i] = equity;
      if (value > 0) this.#exposed[i] = 1;
      if (this.#exposed[i] === 1) this.counts.exposedBars++;
      this.counts.positionValueSum += value;
      if (value > this.counts.positionValuePeak) this.counts.positionValuePeak = value;
    }
    this.#marked = Math.max(this.#marked, end);
  }

  #rateAt(k: number, last: Int32Array): number {
    const source = this.#rates[k];
    if (!source) return this.#feeds[k]!.book.rate;
    const j = last[source.feed]!;
    if (j === NO_BAR) return 1;
    const close = this.#feeds[source.feed]!.bars.close[j]!;
    return source.inverse ? 1 / close : close;
  }
}
