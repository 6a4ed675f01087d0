/**
 * The clock of a backtest on several instruments of one account (R2). At each moment bars that close are handled before
 * bars that open; bars that open together open, walk and close in phases, in declared order. Stretches in which no
 * instrument has anything to do are crossed one instrument at a time.
 *
 * Equity is not marked on the way: cash and positions are noted whenever they change, and the curve is drawn from these
 * notes and the closes afterwards, so that a quiet instrument costs nothing while another acts.
 */
import type { Account } from "./account.ts";
import { firstAfter, firstFrom } from "./ascending.ts";
import type { Feed } from "./feed.ts";
import type { Clock, SimulationCounts } from "./simulation.ts";

/** What is told to the plan's side: the moment, and which instrument it is about. */
export interface JointListener {
  /** The last completed bar of each instrument now lies at or before this time. */
  place(timeMs: number): void;
}

const NO_BAR = -1;

/** Where the positions begin in a note. */
const FIRST_POSITION = 3;

/** How a currency becomes account money. */
export interface RateSource {
  /** Feed whose closes give the rate. */
  readonly feed: number;
  readonly inverse: boolean;
}

export class JointSimulation implements Clock {
  readonly #equity: Float64Array;
  readonly counts: SimulationCounts = { exposedBars: 0, positionValueSum: 0, positionValuePeak: 0, finerMissing: 0 };
  readonly #feeds: readonly Feed[];
  readonly #account: Account;
  readonly #listener: JointListener;
  readonly #rates: readonly (RateSource | null)[];
  readonly #hasRates: boolean;
  /** The bar of each feed whose path is walked and whose close is still to come. */
  readonly #open: Int32Array;
  /** Bars of the first instrument during which something happened to a position. */
  readonly #exposed: Uint8Array;
  // Notes: time, cash, whether anything is held, then units and basis of each feed.
  #notes = new Float64Array(1024);
  #noted = 0;
  readonly #width: number;
  #marked = 0;

  constructor(
    feeds: readonly Feed[],
    account: Account,
    listener: JointListener,
    rates: readonly (RateSource | null)[],
    /** Gets equity at each close of the first instrument. */
    equity: Float64Array,
  ) {
    this.#feeds = feeds;
    this.#account = account;
    this.#listener = listener;
    this.#rates = rates;
    this.#hasRates = rates.some((rate) => rate !== null);
    this.#open = new Int32Array(feeds.length).fill(NO_BAR);
    this.#exposed = new Uint8Array(feeds[0]!.bars.length);
    this.#width = FIRST_POSITION + 2 * feeds.length;
    this.#last = new Int32Array(feeds.length);
    this.#ends = new Int32Array(feeds.length);
    this.#stepping = new Int32Array(feeds.length);
    this.#equity = equity;
    feeds.forEach((feed, k) => {
      this.counts.finerMissing += feed.finerMissing;
      feed.book.markOf = () => this.#markOf(k);
    });
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
      if (!this.#isWalking) this.#crossQuiet(endTime);
      const closing = this.#nextClose();
      const opening = this.#nextOpen();
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

  /** Whether some bar has been walked whose close is still to come. */
  get #isWalking(): boolean {
    const feeds = this.#feeds;
    for (let k = 0; k < feeds.length; k++) if (this.#open[k] !== NO_BAR) return true;
    return false;
  }

  /** The bar of a feed whose close is the next to be handled: one that was walked, or a quiet one that a handler waits for. */
  #closingBar(k: number): number {
    const { next, nextClose } = this.#feeds[k]!;
    const i = this.#open[k]!;
    return i === NO_BAR && nextClose < next ? nextClose : i;
  }

  #nextClose(): number {
    let earliest = Number.POSITIVE_INFINITY;
    const feeds = this.#feeds;
    for (let k = 0; k < feeds.length; k++) {
      const i = this.#closingBar(k);
      if (i !== NO_BAR) earliest = Math.min(earliest, feeds[k]!.bars.closeTime[i]!);
    }
    return earliest;
  }

  #nextOpen(): number {
    let earliest = Number.POSITIVE_INFINITY;
    const feeds = this.#feeds;
    for (let k = 0; k < feeds.length; k++) {
      const { bars, next } = feeds[k]!;
      if (next < bars.length) earliest = Math.min(earliest, bars.time[next]!);
    }
    return earliest;
  }

  /** Crosses what is quiet on every instrument, up to the next bar that is not or the next close that a handler waits for. */
  #crossQuiet(endTime: number): void {
    const feeds = this.#feeds;
    let until = endTime;
    for (let k = 0; k < feeds.length; k++) {
      const { bars, nextOpen, nextClose } = feeds[k]!;
      if (nextOpen < bars.length) until = Math.min(until, bars.time[nextOpen]!);
      if (nextClose < bars.length) until = Math.min(until, bars.closeTime[nextClose]!);
    }
    // The first that has something to do bounds them all.
    const ends = this.#ends;
    let last = 0;
    for (let k = 0; k < feeds.length; k++) {
      const feed = feeds[k]!;
      const { time, length } = feed.bars;
      const before = k > 0 ? feeds[k - 1]! : feed;
      // Instruments with the same hours share their times, and mostly stand at the same bar.
      const isSame = k > 0 && before.bars.time === time && before.next === feed.next;
      const end = isSame ? ends[k - 1]! : firstFrom(time, until, feed.next, length);
      const stop = feed.firstRestless(end);
      ends[k] = stop;
      if (stop === end) continue;
      until = time[stop]!;
      last = k;
    }
    for (let k = 0; k < feeds.length; k++) {
      const feed = feeds[k]!;
      const { time } = feed.bars;
      // Those before it were looked through further than is quiet now.
      feed.cross(k < last ? firstFrom(time, until, feed.next, ends[k]!) : ends[k]!, null);
    }
  }

  #openAt(time: number): void {
    const feeds = this.#feeds;
    const stepping = this.#stepping;
    let count = 0;
    this.#stand(time);
    for (let k = 0; k < feeds.length; k++) {
      const { bars, next } = feeds[k]!;
      // A quiet one as well: a handler of this very moment may send it an order.
      if (next < bars.length && bars.time[next] === time) stepping[count++] = k;
    }
    const wasHeld = this.#isHeld;
    const tradesBefore = this.#account.trades;
    for (let n = 0; n < count; n++) {
      const k = stepping[n]!;
      this.#open[k] = feeds[k]!.next;
      feeds[k]!.open(feeds[k]!.next);
    }
    for (let n = 0; n < count; n++) feeds[stepping[n]!]!.path(this.#open[stepping[n]!]!);
    if (wasHeld || this.#isHeld || this.#account.trades > tradesBefore) this.#expose(time, time + 1);
    this.#note(time);
  }

  /** It is this time, whether a bar of an instrument opens or closes now or not. */
  #stand(time: number): void {
    const feeds = this.#feeds;
    this.#nowMs = time;
    for (let k = 0; k < feeds.length; k++) {
      const { book, next } = feeds[k]!;
      book.barIndex = next - 1;
      book.timeMs = time;
    }
    this.#setRates();
    this.#listener.place(time);
  }

  #closeAt(time: number): void {
    const feeds = this.#feeds;
    const closing = this.#stepping;
    let count = 0;
    for (let k = 0; k < feeds.length; k++) {
      const i = this.#closingBar(k);
      if (i !== NO_BAR && feeds[k]!.bars.closeTime[i] === time) closing[count++] = k;
    }
    this.#stand(time);
    if (this.#account.settings.margin && this.#account.mustClose) for (const { book } of feeds) book.callMargin();
    for (let n = 0; n < count; n++) {
      const k = closing[n]!;
      const feed = feeds[k]!;
      const i = this.#closingBar(k);
      this.#open[k] = NO_BAR;
      if (feed.nextClose !== i) continue;
      feed.handlers.atClose(i);
      feed.nextClose = feed.handlers.nextClose(i + 1);
    }
  }

  /** What is known now: the close of the last bar that is completed. */
  #markOf(k: number): number {
    const { bars, next } = this.#feeds[k]!;
    const open = this.#open[k]!;
    let j = open === NO_BAR ? next - 1 : open;
    while (j >= 0 && bars.closeTime[j]! > this.#nowMs) j--;
    return j >= 0 ? bars.close[j]! : Number.NaN;
  }

  #nowMs = Number.NEGATIVE_INFINITY;

  #setRates(): void {
    if (!this.#hasRates) return;
    this.#rates.forEach((source, k) => {
      if (!source) return;
      const { mark } = this.#feeds[source.feed]!.book;
      if (Number.isFinite(mark)) this.#feeds[k]!.book.rate = source.inverse ? 1 / mark : mark;
    });
  }

  get #isHeld(): boolean {
    const feeds = this.#feeds;
    for (let k = 0; k < feeds.length; k++) if (feeds[k]!.book.lots.length > 0) return true;
    return false;
  }

  /** Bars of the first instrument that overlap [from, to) count as exposed. */
  #expose(from: number, to: number): void {
    const { time, length } = this.#feeds[0]!.bars;
    const exposed = this.#exposed;
    let i = firstFrom(time, from, this.#exposedUntil, length);
    if (i > 0 && (i === length || time[i]! > from)) i--;
    for (; i < length && time[i]! < to; i++) exposed[i] = 1;
    // Time goes on: nothing before this is asked for again, but for the bar that is under way.
    this.#exposedUntil = Math.max(0, firstFrom(time, from, this.#exposedUntil, length) - 1);
  }

  #exposedUntil = 0;

  /** Notes cash and positions when they have changed. */
  #note(time: number): void {
    const width = this.#width;
    const feeds = this.#feeds;
    const at = this.#noted * width;
    if (at + width > this.#notes.length) {
      const grown = new Float64Array(this.#notes.length * 2);
      grown.set(this.#notes);
      this.#notes = grown;
    }
    const notes = this.#notes;
    notes[at] = time;
    notes[at + 1] = this.#account.cash;
    notes[at + 2] = this.#isHeld ? 1 : 0;
    let isNew = at === 0 || notes[at + 1] !== notes[at + 1 - width] || notes[at + 2] !== notes[at + 2 - width];
    for (let k = 0; k < feeds.length; k++) {
      const place = at + FIRST_POSITION + 2 * k;
      notes[place] = feeds[k]!.book.units;
      notes[place + 1] = feeds[k]!.book.basisMoney;
      if (at > 0 && (notes[place] !== notes[place - width] || notes[place + 1] !== notes[place + 1 - width])) isNew = true;
    }
    if (isNew) this.#noted++;
  }

  /** Draws equity at the closes of the first instrument, up to bar `end` (exclusive), from one note to the next. */
  #mark(end: number): void {
    const { closeTime } = this.#feeds[0]!.bars;
    const width = this.#width;
    const notes = this.#notes;
    let i = this.#marked;
    while (i < end) {
      // A bar's own fills lie before its close; those of a bar that opens at this very close come after it.
      while (this.#drawn + 1 < this.#noted && notes[(this.#drawn + 1) * width]! < closeTime[i]!) this.#drawn++;
      const next = this.#drawn + 1 < this.#noted ? notes[(this.#drawn + 1) * width]! : Number.POSITIVE_INFINITY;
      // The first close after the next note, which is not part of this stretch.
      const stop = next === Number.POSITIVE_INFINITY ? end : Math.min(end, firstAfter(closeTime, next, i, end));
      this.#draw(i, stop, this.#drawn * width);
      i = stop;
    }
    this.#marked = Math.max(this.#marked, end);
  }

  /** What the positions are worth at each bar of a stretch that is drawn. */
  #worth = new Float64Array(256);
  /** The note that bars are drawn by, and the last completed bar of each feed at the last bar that was drawn. */
  #drawn = 0;
  readonly #last: Int32Array;
  /** Up to where each feed is quiet. */
  readonly #ends: Int32Array;
  /** Feeds of which a bar opens, or closes, now. */
  readonly #stepping: Int32Array;

  /** Bars [from, to) of the first instrument, with cash and positions as one note has them. */
  #draw(from: number, to: number, at: number): void {
    const { counts } = this;
    const equity = this.#equity;
    const notes = this.#notes;
    const cash = notes[at + 1]!;
    if (notes[at + 2] === 0) {
      for (let i = from; i < to; i++) {
        equity[i] = cash;
        counts.exposedBars += this.#exposed[i]!;
      }
      return;
    }
    counts.exposedBars += to - from;
    if (this.#worth.length < to - from) this.#worth = new Float64Array(2 * (to - from));
    const worth = this.#worth;
    for (let i = from; i < to; i++) {
      equity[i] = cash;
      worth[i - from] = 0;
    }
    for (let k = 0; k < this.#feeds.length; k++) {
      const units = notes[at + FIRST_POSITION + 2 * k]!;
      const basis = notes[at + FIRST_POSITION + 1 + 2 * k]!;
      if (units !== 0 || basis !== 0) this.#drawPosition(k, from, to, units, basis);
    }
    let sum = 0;
    let peak = counts.positionValuePeak;
    for (let i = 0; i < to - from; i++) {
      sum += worth[i]!;
      if (worth[i]! > peak) peak = worth[i]!;
    }
    counts.positionValueSum += sum;
    counts.positionValuePeak = peak;
  }

  /** Adds the open profit of one feed's position to equity, and what it is worth. */
  #drawPosition(k: number, from: number, to: number, units: number, basis: number): void {
    const equity = this.#equity;
    const worth = this.#worth;
    const { closeTime } = this.#feeds[0]!.bars;
    const { bars, book } = this.#feeds[k]!;
    const { length, close, closeTime: closes } = bars;
    const { pointValue } = book.instrument;
    const size = Math.abs(units);
    const hasRate = this.#rates[k] !== null;
    let perPoint = pointValue * book.rate;
    if (closes === closeTime && !hasRate) {
      for (let i = from; i < to; i++) {
        const c = close[i]!;
        equity[i] = equity[i]! + (units * c - basis) * perPoint;
        worth[i - from] = worth[i - from]! + size * c * perPoint;
      }
      return;
    }
    let j = this.#last[k]!;
    j = closes[j]! > closeTime[from]! ? 0 : firstAfter(closes, closeTime[from]!, j, length) - 1;
    for (let i = from; i < to; i++) {
      const now = closeTime[i]!;
      while (j + 1 < length && closes[j + 1]! <= now) j++;
      if (closes[j]! > now) continue;
      if (hasRate) perPoint = pointValue * this.#rateAt(k, now);
      const c = close[j]!;
      equity[i] = equity[i]! + (units * c - basis) * perPoint;
      worth[i - from] = worth[i - from]! + size * c * perPoint;
    }
    this.#last[k] = j;
  }

  #rateAt(k: number, now: number): number {
    const source = this.#rates[k];
    if (!source) return this.#feeds[k]!.book.rate;
    const { closeTime, close, length } = this.#feeds[source.feed]!.bars;
    let j = this.#rateBar;
    if (j >= length || closeTime[j]! > now) j = 0;
    while (j + 1 < length && closeTime[j + 1]! <= now) j++;
    this.#rateBar = j;
    if (closeTime[j]! > now) return 1;
    return source.inverse ? 1 / close[j]! : close[j]!;
  }

  /** Where the last rate was found. */
  #rateBar = 0;
}
