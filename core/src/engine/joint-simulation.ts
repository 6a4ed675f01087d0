/**
 * The clock of a backtest on several instruments of one account (R2). A bar has two moments: its open, and its path with
 * its close. Moments are taken in order of time; at one time paths come first, then closes, then opens, and within a phase
 * instruments come in declared order. What a bar's path does is known only when the bar closes.
 *
 * Each instrument has one next moment at which something may happen, all of them in one queue; between two of its moments
 * its bars are quiet and are crossed without looking, however many moments others have. An instrument that a handler of
 * another one turns to is brought up to that moment first.
 *
 * Equity is not marked on the way: cash and positions are noted whenever they change, and the curve is drawn from these
 * notes and the closes afterwards, so that a quiet instrument costs nothing while another acts.
 */
import type { Account } from "./account.ts";
import { firstAfter, firstAtOrAfter, firstFrom } from "./ascending.ts";
import type { Book } from "./book.ts";
import type { EquityRecord } from "./equity.ts";
import type { Feed } from "./feed.ts";
import { MomentQueue, PHASE, type Phase } from "./moment-queue.ts";
import { applyRates, type RateSource } from "./rates.ts";
import type { Clock, SimulationCounts } from "./simulation.ts";

/** What is told to the plan's side: the moment, and which instrument it is about. */
export interface JointListener {
  /** The last completed bar of each instrument now lies at or before this time. */
  place(timeMs: number): void;
}

/** The moment at which one of several plans on one account acts. The clocks of the others look at it when they are asked. */
export interface SharedMoment {
  timeMs: number;
  phase: Phase;
  /** What is known by then counts. */
  nowMs: number;
  /** The plan that acts, by its number; below 0 before the first. */
  actor: number;
  /** It has changed when another plan acts next, or whether any does. */
  isTouched: boolean;
}

const NO_BAR = -1;
/** The actor while another plan on the same account acts. */
const OTHERS = -2;

/** Where the positions begin in a note. */
const FIRST_POSITION = 3;
const PER_FEED = 3;

export class JointSimulation implements Clock {
  /** Where equity goes: a column, or what takes note of the stretches of one instrument at one rate. */
  readonly #equity: Float64Array | null;
  readonly #record: EquityRecord | null;
  readonly counts: SimulationCounts = { exposedBars: 0, positionValueSum: 0, positionValuePeak: 0, unitsPeak: 0, finerMissing: 0 };
  readonly #feeds: readonly Feed[];
  readonly #books: readonly Book[];
  readonly #account: Account;
  readonly #listener: JointListener;
  readonly #rates: readonly (RateSource | null)[];
  readonly #hasRates: boolean;
  readonly #queue: MomentQueue;
  /** The bar of each feed whose open is being handled, whose path is still to be walked, whose close is still to come. */
  readonly #opening: Int32Array;
  readonly #walking: Int32Array;
  readonly #closing: Int32Array;
  /** Inside a bar that is walked: its next finer bar, and whether that one has opened. */
  readonly #fine: Int32Array;
  readonly #isFineOpen: Uint8Array;
  /** Feeds whose next moment has to be found again. */
  readonly #isTouched: Uint8Array;
  #touchedCount = 0;
  /** The moment of now. */
  #nowMs = Number.NEGATIVE_INFINITY;
  #momentMs = Number.NEGATIVE_INFINITY;
  /** The time of now when something last happened here. */
  #stoodMs = Number.NEGATIVE_INFINITY;
  /** Whether the plan's side stands there too: a close places it by itself. */
  #isPlaced = false;
  /** The feed whose positions are marked out, once the data is over. */
  #markedOut = NO_BAR;
  #phase: Phase = PHASE.open;
  #actor = NO_BAR;
  /** Bars of the first instrument during which something happened to a position. */
  readonly #exposed: Uint8Array;
  /** Bars from here on open at or after what was last exposed. */
  #exposedTo = 0;
  // Notes: when, cash, whether anything is held, then units, basis and gross units of each feed.
  /** Room for numbers of notes: reading a typed array's length is slow once prototypes are frozen. */
  #room = 1024;
  #notes = new Float64Array(this.#room);
  #noted = 0;
  readonly #width: number;
  #marked = 0;
  /** Where the last known close of each feed was found. */
  readonly #markBar: Int32Array;

  constructor(
    feeds: readonly Feed[],
    account: Account,
    listener: JointListener,
    rates: readonly (RateSource | null)[],
    /** Gets equity at each close of the first instrument; only a run on one at one rate can be given a record. */
    equity: Float64Array | EquityRecord,
  ) {
    const n = feeds.length;
    this.#feeds = feeds;
    this.#books = feeds.map(({ book }) => book);
    this.#account = account;
    this.#listener = listener;
    this.#rates = rates;
    this.#hasRates = rates.some((rate) => rate !== null);
    this.#queue = new MomentQueue(n);
    this.#opening = new Int32Array(n).fill(NO_BAR);
    this.#walking = new Int32Array(n).fill(NO_BAR);
    this.#closing = new Int32Array(n).fill(NO_BAR);
    this.#fine = new Int32Array(n);
    this.#isFineOpen = new Uint8Array(n);
    this.#isTouched = new Uint8Array(n).fill(1);
    this.#touchedCount = n;
    this.#markBar = new Int32Array(n);
    this.#exposed = new Uint8Array(feeds[0]!.bars.length);
    this.#width = FIRST_POSITION + PER_FEED * n;
    this.#last = new Int32Array(n);
    this.#equity = equity instanceof Float64Array ? equity : null;
    this.#record = equity instanceof Float64Array ? null : equity;
    feeds.forEach((feed, k) => {
      const { book } = feed;
      this.counts.finerMissing += feed.finerMissing;
      book.share({ markOf: () => this.#markOf(k), firstFillBar: () => this.#firstFillBar(k), onTouched: () => this.#touch(k) });
      book.state.settleQuiet = () => this.#settle(k);
    });
    this.#note(Number.NEGATIVE_INFINITY);
  }

  get done(): number {
    return this.#marked;
  }

  get isOver(): boolean {
    return this.#account.isOver && !this.#isHeld;
  }

  /** Up to the open of bar `until` of the first instrument: closes at that time are handled, opens are not. */
  run(until: number): void {
    const main = this.#feeds[0]!;
    const end = Math.min(until, main.bars.length);
    const endMs = end === main.bars.length ? Number.POSITIVE_INFINITY : main.bars.time[end]!;
    const queue = this.#queue;
    for (;;) {
      // Between two acts, when every instrument can be brought up to now.
      this.#account.watchRuin();
      this.refresh();
      const k = queue.first;
      const timeMs = queue.timeOf(k);
      const phase = queue.phaseOf(k);
      if (this.isOver || timeMs === Number.POSITIVE_INFINITY || timeMs > endMs || (timeMs === endMs && phase >= PHASE.events)) break;
      this.#act(k, timeMs, phase);
    }
    this.rest(end);
  }

  /** Nothing more happens before the open of bar `end` of the first instrument: equity is drawn up to there. */
  rest(end: number): void {
    const { bars } = this.#feeds[0]!;
    this.#part();
    this.#actor = NO_BAR;
    // Whoever else acted since has no say in what it is here.
    this.#nowMs = this.#stoodMs;
    // A run that is over has done the bar in which it ended.
    this.#mark(this.isOver ? Math.min(end, firstAtOrAfter(bars.closeTime, this.#momentMs, bars.length) + 1) : end);
  }

  // --- several plans on one account: a clock that goes by the moments of all ----------------------------------------

  /** Finds the next moments of what has changed, and says whether anything has. */
  refresh(): boolean {
    if (this.#touchedCount === 0) return false;
    this.#refreshTouched();
    return true;
  }

  /** When something next happens here; Infinity where nothing does any more. As of the last `refresh`. */
  get nextMs(): number {
    return this.#queue.timeOf(this.#queue.first);
  }

  get nextPhase(): Phase {
    return this.#queue.phaseOf(this.#queue.first);
  }

  /** Does what is next. */
  act(): void {
    const k = this.#queue.first;
    this.#act(k, this.#queue.timeOf(k), this.#queue.phaseOf(k));
  }

  /** The moments of all plans on the account, and the number of this one, until its bars are over. */
  #shared: SharedMoment | null = null;
  #member = 0;

  follow(shared: SharedMoment, member: number): void {
    this.#shared = shared;
    this.#member = member;
  }

  /** Where another plan acts, it is that moment here too: plans with lower numbers have done what they do at it. */
  #standBy(): void {
    const shared = this.#shared;
    if (shared === null || shared.actor === this.#member || shared.actor < 0) return;
    this.#momentMs = shared.timeMs;
    this.#phase = shared.phase;
    this.#nowMs = shared.nowMs;
    this.#actor = this.#member < shared.actor ? this.#feeds.length : OTHERS;
  }

  /** What others do from now on does not move it. */
  #part(): void {
    this.#standBy();
    this.#shared = null;
  }

  /** When the last bar of any instrument closes. */
  get endMs(): number {
    return this.#feeds.reduce((last, { bars }) => Math.max(last, bars.closeTime[bars.length - 1] ?? last), Number.NEGATIVE_INFINITY);
  }

  finish(): void {
    this.#part();
    const stopMs = this.#marked > 0 ? this.#feeds[0]!.bars.closeTime[this.#marked - 1]! : Number.NEGATIVE_INFINITY;
    const lastMs = this.#marked === this.#feeds[0]!.bars.length ? Number.POSITIVE_INFINITY : stopMs;
    this.#feeds.forEach((feed, k) => {
      const { book, bars } = feed;
      if (this.#walking[k] === NO_BAR && this.#opening[k] === NO_BAR)
        feed.cross(firstAfter(bars.closeTime, lastMs, feed.next, bars.length), null);
      if (feed.next === 0) return;
      book.barIndex = feed.next - 1;
      book.timeMs = bars.closeTime[feed.next - 1]!;
      this.#nowMs = Math.max(this.#nowMs, book.timeMs);
      this.#markedOut = k;
      book.markOut(bars.close[feed.next - 1]!);
    });
  }

  // --- moments -------------------------------------------------------------------------------------------------------

  #act(k: number, timeMs: number, phase: Phase): void {
    const feed = this.#feeds[k]!;
    this.#actor = k;
    this.#momentMs = timeMs;
    this.#phase = phase;
    this.#markTouched(k);
    if (phase === PHASE.close) return this.#close(k, feed, timeMs);
    if (phase === PHASE.events) return this.#openEvents(k, feed, timeMs);
    const tradesBefore = this.#account.trades;
    const wasHeld = this.#isHeld;
    const isPath = phase === PHASE.path;
    if (isPath) this.#walk(k, feed);
    else this.#openFills(k, feed, timeMs);
    // What acts on every price has been placed there.
    if (feed.book.onPrice !== null) this.#isPlaced = false;
    if (wasHeld || this.#isHeld || this.#account.trades > tradesBefore) this.#expose(feed, timeMs, isPath);
    this.#note(2 * timeMs + (isPath ? 0 : 1));
  }

  #openEvents(k: number, feed: Feed, timeMs: number): void {
    this.#stand(timeMs);
    const walking = this.#walking[k]!;
    if (walking !== NO_BAR) return feed.fineEvents(walking, this.#fine[k]!);
    feed.cross(firstAfter(feed.bars.time, timeMs, feed.next, feed.bars.length) - 1, null);
    this.#opening[k] = feed.next;
    this.#chargeNights(timeMs);
    feed.openEvents(feed.next);
  }

  /** Whatever opens now is charged for the nights before it, ahead of the handlers of all. */
  #chargeNights(timeMs: number): void {
    const queue = this.#queue;
    for (let k = 0; k < this.#feeds.length; k++) {
      const feed = this.#feeds[k]!;
      if (!feed.chargesNights || feed.book.lots.length === 0 || queue.timeOf(k) !== timeMs || queue.phaseOf(k) !== PHASE.events) continue;
      if (this.#walking[k] === NO_BAR) feed.charge(firstAfter(feed.bars.time, timeMs, feed.next, feed.bars.length) - 1);
    }
  }

  #openFills(k: number, feed: Feed, timeMs: number): void {
    this.#stand(timeMs);
    const { book, finer } = feed;
    // Case: nothing was to be done ahead of it.
    if (this.#opening[k] === NO_BAR && this.#walking[k] === NO_BAR) {
      feed.cross(firstAfter(feed.bars.time, timeMs, feed.next, feed.bars.length) - 1, null);
      this.#opening[k] = feed.next;
    }
    const i = this.#opening[k]!;
    if (i === NO_BAR) feed.openFine(this.#fine[k]!);
    else {
      feed.openFills(i);
      this.#opening[k] = NO_BAR;
      this.#walking[k] = i;
      this.#fine[k] = finer ? finer.first[i]! : 0;
    }
    this.#isFineOpen[k] = 1;
    book.endBar();
    book.sleep();
  }

  #walk(k: number, feed: Feed): void {
    const i = this.#walking[k]!;
    const { book, bars, finer } = feed;
    const end = finer ? finer.first[i + 1]! : 0;
    const hasFine = finer !== null && finer.first[i]! < end;
    const j = hasFine ? Math.min(this.#fine[k]!, end - 1) : 0;
    const openMs = hasFine ? finer.series.time[j]! : bars.time[i]!;
    this.#stand(openMs);
    book.stir();
    book.barIndex = i;
    book.timeMs = openMs;
    if (!hasFine) feed.walkWhole(i);
    else if (this.#fine[k] === j) feed.walkFine(j);
    // Where its last finer bars are missing, a bar is over with its time.
    const isOver = !hasFine || this.#fine[k] === end || (j === end - 1 && finer.series.closeTime[j]! >= bars.closeTime[i]!);
    if (isOver) feed.endPath(i);
    else book.endBar();
    // Nothing happens to it before its next open.
    book.wake();
    this.#isFineOpen[k] = 0;
    if (isOver) this.#endWalk(k, feed, i);
    else this.#fine[k] = j + 1;
  }

  #endWalk(k: number, feed: Feed, i: number): void {
    this.#walking[k] = NO_BAR;
    this.#closing[k] = i;
    feed.next = i + 1;
  }

  #close(k: number, feed: Feed, timeMs: number): void {
    const isWalked = this.#closing[k] !== NO_BAR;
    const i = isWalked ? this.#closing[k]! : feed.nextClose;
    this.#be(timeMs);
    const { book } = feed;
    const account = this.#account;
    const { margin } = account.settings;
    const watches = account.watchesClose(this.#hasRates ? null : book, feed.bars.close[i]!, timeMs);
    const isDue = feed.nextClose === i;
    // The plan's side is placed by what is due at the close of its own instrument.
    if (watches || margin || !isDue || k > 0) this.#stand(timeMs);
    this.#isPlaced = false;
    if (!isWalked) feed.cross(i + 1, null);
    this.#closing[k] = NO_BAR;
    book.barIndex = i;
    book.timeMs = timeMs;
    if (margin && account.mustClose) for (const other of this.#feeds) other.book.callMargin();
    if (watches) account.noteClose(account.equity, timeMs);
    if (account.isOver) feed.nextClose = feed.bars.length;
    // What is left for each to lose is shared anew. A pool sees to that itself.
    else if (isWalked && account.pool === null && this.#isHeld) account.staleRuin();
    if (feed.nextClose !== i) return;
    feed.handlers.atClose(i);
    feed.nextClose = feed.handlers.nextClose(i + 1);
  }

  /** It is this time. */
  #be(timeMs: number): void {
    this.#nowMs = timeMs;
    if (this.#shared !== null) this.#shared.nowMs = timeMs;
    if (this.#stoodMs === timeMs) return;
    this.#stoodMs = timeMs;
    this.#isPlaced = false;
    if (this.#hasRates) applyRates(this.#rates, this.#books);
  }

  /** It is this time, also as far as handlers can know. */
  #stand(timeMs: number): void {
    this.#be(timeMs);
    if (this.#isPlaced) return;
    this.#isPlaced = true;
    this.#listener.place(timeMs);
  }

  #markTouched(k: number): void {
    if (this.#shared !== null && this.#shared.actor !== this.#member) this.#shared.isTouched = true;
    if (this.#isTouched[k] === 1) return;
    this.#isTouched[k] = 1;
    this.#touchedCount++;
  }

  #refreshTouched(): void {
    for (let k = 0; this.#touchedCount > 0; k++) {
      if (this.#isTouched[k] === 0) continue;
      this.#isTouched[k] = 0;
      this.#touchedCount--;
      this.#refresh(k, this.#feeds[k]!);
    }
  }

  /** Finds the next moment of a feed at which something may happen. */
  #refresh(k: number, feed: Feed): void {
    const queue = this.#queue;
    const { bars, finer, next, nextClose } = feed;
    const walking = this.#walking[k]!;
    if (this.#opening[k] !== NO_BAR) queue.set(k, feed.openMs(this.#opening[k]!), PHASE.open);
    else if (walking !== NO_BAR) {
      const j = this.#fine[k]!;
      if (!finer || j >= finer.first[walking + 1]!) queue.set(k, bars.closeTime[walking]!, PHASE.path);
      else if (this.#isFineOpen[k] === 1) queue.set(k, finer.series.closeTime[j]!, PHASE.path);
      else queue.set(k, finer.series.time[j]!, feed.isFineDue(j) ? PHASE.events : PHASE.open);
    } else if (this.#closing[k] !== NO_BAR) queue.set(k, bars.closeTime[this.#closing[k]!]!, PHASE.close);
    else if (nextClose < next) queue.set(k, bars.closeTime[nextClose]!, PHASE.close);
    else {
      const end = Math.min(nextClose + 1, bars.length);
      const restless = this.#hasRates && this.#movesHeldMoney(k) ? next : feed.firstRestless(end);
      if (restless < end) this.#setOpen(k, feed, restless);
      else queue.set(k, nextClose < bars.length ? bars.closeTime[nextClose]! : Number.POSITIVE_INFINITY, PHASE.close);
    }
  }

  /** A bar opens next. Where nothing is to be done ahead of it, or others were asked for something when that was over, it opens at once. */
  #setOpen(k: number, feed: Feed, i: number): void {
    const openMs = feed.openMs(i);
    const arePast = openMs === this.#momentMs && this.#phase === PHASE.events && k < this.#actor;
    this.#queue.set(k, openMs, !arePast && feed.hasEventsAt(i) ? PHASE.events : PHASE.open);
  }

  /**
   * Whether a feed's closes move what an open position is worth by way of a rate: its own position's, or that of another whose
   * rate it gives. Levels within which no close can use up equity hold at one rate only, so such bars are looked at one by one.
   */
  #movesHeldMoney(k: number): boolean {
    for (let other = 0; other < this.#rates.length; other++) {
      const source = this.#rates[other];
      if (source && (other === k || source.feed === k) && this.#feeds[other]!.book.units !== 0) return true;
    }
    return false;
  }

  // --- feeds that others turn to -------------------------------------------------------------------------------------

  /** Whether the open of something that opens at a time has been handled by now. */
  #hasOpened(k: number, openMs: number): boolean {
    return openMs < this.#momentMs || (openMs === this.#momentMs && this.#phase === PHASE.open && k < this.#actor);
  }

  /** Whether the path of something that closes at a time has been walked by now. */
  #isOver(k: number, closeMs: number): boolean {
    return closeMs < this.#momentMs || (closeMs === this.#momentMs && (this.#phase !== PHASE.path || k < this.#actor));
  }

  /** Somebody is about to change the orders of a feed: it is brought up to now, and what is asked for works from its next open. */
  #touch(k: number): void {
    this.#standBy();
    const source = this.#rates[k];
    if (source) this.#markTouched(source.feed);
    if (k === this.#actor || k === this.#markedOut) return;
    const feed = this.#feeds[k]!;
    const { book } = feed;
    // Case: the data is over. What is sent now is never filled, and has the time of now all the same.
    if (this.#actor === NO_BAR) {
      book.timeMs = Math.max(book.timeMs, this.#nowMs);
      return;
    }
    this.#catchUp(k, feed);
    book.barIndex = this.#barOf(k, feed);
    book.timeMs = this.#nowMs;
    this.#markTouched(k);
  }

  /** The bar of a feed that is under way, or opens with this moment. Between bars, the last one. */
  #barOf(k: number, feed: Feed): number {
    const { next, bars } = feed;
    if (this.#walking[k] !== NO_BAR) return this.#walking[k]!;
    if (this.#opening[k] !== NO_BAR) return this.#opening[k]!;
    const opens = next < bars.length && feed.openMs(next) === this.#momentMs;
    return opens && (this.#phase === PHASE.open || this.#phase === PHASE.events) ? next : next - 1;
  }

  #catchUp(k: number, feed: Feed): void {
    if (this.#walking[k] !== NO_BAR || this.#opening[k] !== NO_BAR) return;
    const { bars, finer } = feed;
    let end = firstFrom(bars.time, this.#momentMs, feed.next, bars.length);
    if (end < bars.length && this.#hasOpened(k, feed.openMs(end))) end++;
    // Case: its first finer bars are missing.
    else if (end > feed.next && !this.#hasOpened(k, feed.openMs(end - 1))) end--;
    const last = end - 1;
    if (last < feed.next) return;
    if (!finer || this.#isOver(k, bars.closeTime[last]!) || finer.first[last] === finer.first[last + 1]) return feed.cross(end, null);
    // Case: inside a quiet bar whose finer bars are walked. Those that are over were quiet too.
    feed.cross(last, null);
    let j = finer.first[last]!;
    const stop = finer.first[last + 1]!;
    const { time, closeTime, low, high, open } = finer.series;
    for (; j < stop && this.#isOver(k, closeTime[j]!); j++) feed.book.touch(low[j]!, high[j]!);
    // From here on its finer bars are taken one by one, also where somebody only wanted to know how far it has come.
    this.#markTouched(k);
    this.#walking[k] = last;
    this.#fine[k] = j;
    const isOpen = j < stop && this.#hasOpened(k, time[j]!);
    this.#isFineOpen[k] = isOpen ? 1 : 0;
    if (!isOpen) return;
    feed.book.touch(open[j]!, open[j]!);
    feed.book.sleep();
  }

  /** The first bar on which an order that is sent now can fill. */
  #firstFillBar(k: number): number {
    this.#standBy();
    const feed = this.#feeds[k]!;
    if (k === this.#actor) {
      if (this.#opening[k] !== NO_BAR) return this.#opening[k]!;
      if (this.#walking[k] !== NO_BAR) return this.#walking[k]!;
      return feed.next;
    }
    this.#catchUp(k, feed);
    if (this.#opening[k] !== NO_BAR) return this.#opening[k]!;
    const walking = this.#walking[k]!;
    if (walking === NO_BAR) return feed.next;
    const { finer, bars } = feed;
    // Of a bar that is walked in one, the path is over with its time.
    if (!finer || finer.first[walking] === finer.first[walking + 1]) return walking + 1;
    // A finer bar of it may still open. Whether there will be one can't be known.
    const fromMs = this.#isFineOpen[k] === 1 ? finer.series.closeTime[this.#fine[k]!]! : this.#momentMs;
    return fromMs < bars.closeTime[walking]! ? walking : walking + 1;
  }

  /** Extremes of the open lots, from bars that are over. */
  #settle(k: number): void {
    this.#standBy();
    const feed = this.#feeds[k]!;
    if (k !== this.#actor && this.#actor !== NO_BAR) this.#catchUp(k, feed);
    const { closeTime, length } = feed.bars;
    // Paths that end now and come ahead in declared order are walked already.
    const isAhead = this.#phase === PHASE.path && this.#actor !== NO_BAR && k < this.#actor;
    feed.settle(firstAfter(closeTime, isAhead ? this.#momentMs : this.#nowMs, Math.max(0, this.#markBar[k]! - 1), length));
  }

  /** What is known now: the close of the last bar that is completed. */
  #markOf(k: number): number {
    this.#standBy();
    const { closeTime, close, length } = this.#feeds[k]!.bars;
    let from = this.#markBar[k]!;
    // Time steps back where a path is walked: to the open of its bar.
    if (from > 0 && closeTime[from - 1]! > this.#nowMs) from = 0;
    const after = firstAfter(closeTime, this.#nowMs, from, length);
    this.#markBar[k] = after;
    return after > 0 ? close[after - 1]! : Number.NaN;
  }

  get #isHeld(): boolean {
    const feeds = this.#feeds;
    for (let k = 0; k < feeds.length; k++) if (feeds[k]!.book.lots.length > 0) return true;
    return false;
  }

  /** The bars of the first instrument during which a path ends, or that open now, count as exposed. */
  #expose(feed: Feed, timeMs: number, isPath: boolean): void {
    const exposed = this.#exposed;
    if (this.#feeds.length === 1) {
      exposed[this.#walking[0] === NO_BAR ? feed.next - 1 : this.#walking[0]!] = 1;
      return;
    }
    const { time, length } = this.#feeds[0]!.bars;
    const from = isPath ? timeMs - 1 : timeMs;
    let i = firstFrom(time, from, this.#exposedTo, length);
    this.#exposedTo = i;
    if (i > 0 && (i === length || time[i]! > from)) i--;
    for (; i < length && time[i]! <= from; i++) exposed[i] = 1;
  }

  /**
   * Notes cash and positions when they have changed.
   * @param when twice the time, and one more for what happens at opens.
   */
  #note(when: number): void {
    const width = this.#width;
    const feeds = this.#feeds;
    const at = this.#noted * width;
    if (at + width > this.#room) {
      this.#room *= 2;
      const grown = new Float64Array(this.#room);
      grown.set(this.#notes);
      this.#notes = grown;
    }
    const notes = this.#notes;
    notes[at] = when;
    notes[at + 1] = this.#account.cash;
    notes[at + 2] = this.#isHeld ? 1 : 0;
    let isNew = at === 0 || notes[at + 1] !== notes[at + 1 - width] || notes[at + 2] !== notes[at + 2 - width];
    for (let k = 0; k < feeds.length; k++) {
      const place = at + FIRST_POSITION + PER_FEED * k;
      const { book } = feeds[k]!;
      notes[place] = book.units;
      notes[place + 1] = book.basisMoney;
      notes[place + 2] = book.grossUnits;
      for (let field = place; field < place + PER_FEED; field++) if (at > 0 && notes[field] !== notes[field - width]) isNew = true;
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
      // Paths that end at a close belong to it; what opens at that time comes after it.
      while (this.#drawn + 1 < this.#noted && notes[(this.#drawn + 1) * width]! <= 2 * closeTime[i]!) this.#drawn++;
      const next = this.#drawn + 1 < this.#noted ? notes[(this.#drawn + 1) * width]! : Number.POSITIVE_INFINITY;
      // The first close to which the next note belongs, which is not part of this stretch.
      const stop = next === Number.POSITIVE_INFINITY ? end : Math.min(end, firstFrom(closeTime, next / 2, i, end));
      this.#draw(i, stop, this.#drawn * width);
      i = stop;
    }
    this.#marked = Math.max(this.#marked, end);
  }

  #exposedIn(from: number, to: number): number {
    const exposed = this.#exposed;
    let count = 0;
    for (let i = from; i < to; i++) count += exposed[i]!;
    return count;
  }

  /** What the positions are worth at each bar of a stretch that is drawn. */
  #worth = new Float64Array(256);
  /** The note that bars are drawn by, and the last completed bar of each feed at the last bar that was drawn. */
  #drawn = 0;
  readonly #last: Int32Array;

  /** Bars [from, to) of the first instrument, with cash and positions as one note has them. */
  #draw(from: number, to: number, at: number): void {
    if (this.#record !== null) return this.#drawAlone(this.#record, from, to, at);
    const { counts } = this;
    const equity = this.#equity!;
    const notes = this.#notes;
    const cash = notes[at + 1]!;
    if (notes[at + 2] === 0) {
      equity.fill(cash, from, to);
      counts.exposedBars += this.#exposedIn(from, to);
      return;
    }
    counts.exposedBars += to - from;
    if (this.#worth.length < to - from) this.#worth = new Float64Array(2 * (to - from));
    const worth = this.#worth;
    for (let i = from; i < to; i++) {
      equity[i] = cash;
      worth[i - from] = 0;
    }
    let units = 0;
    for (let k = 0; k < this.#feeds.length; k++) {
      const place = at + FIRST_POSITION + PER_FEED * k;
      const gross = notes[place + 2]!;
      units += gross;
      if (gross !== 0) this.#drawPosition(k, from, to, notes[place]!, notes[place + 1]!, gross);
    }
    let sum = 0;
    let peak = counts.positionValuePeak;
    for (let i = 0; i < to - from; i++) {
      sum += worth[i]!;
      if (worth[i]! > peak) peak = worth[i]!;
    }
    counts.positionValueSum += sum;
    counts.positionValuePeak = peak;
    if (to > from && units > counts.unitsPeak) counts.unitsPeak = units;
  }

  /** One instrument: the same sums as those of a run on it alone, to the last bit. */
  #drawAlone(record: EquityRecord, from: number, to: number, at: number): void {
    const { counts } = this;
    const notes = this.#notes;
    const { bars, book } = this.#feeds[0]!;
    const { close } = bars;
    const { pointMoney } = book;
    const [cash, units, basis, gross] = [
      notes[at + 1]!,
      notes[at + FIRST_POSITION]!,
      notes[at + FIRST_POSITION + 1]!,
      notes[at + FIRST_POSITION + 2]!,
    ];
    if (notes[at + 2] === 0) {
      record.flat(cash, from, to);
      counts.exposedBars += this.#exposedIn(from, to);
      return;
    }
    record.held(cash - basis * pointMoney, units * pointMoney, from, to);
    counts.exposedBars += to - from;
    let [sum, peak] = [counts.positionValueSum, counts.positionValuePeak];
    for (let i = from; i < to; i++) {
      const value = gross * close[i]! * pointMoney;
      sum += value;
      if (value > peak) peak = value;
    }
    counts.positionValueSum = sum;
    counts.positionValuePeak = peak;
    if (to > from && gross > counts.unitsPeak) counts.unitsPeak = gross;
  }

  /** Adds the open profit of one feed's position to equity, and what it is worth. */
  #drawPosition(k: number, from: number, to: number, units: number, basis: number, gross: number): void {
    const equity = this.#equity!;
    const worth = this.#worth;
    const { closeTime } = this.#feeds[0]!.bars;
    const { bars, book } = this.#feeds[k]!;
    const { length, close, closeTime: closes } = bars;
    const { pointValue } = book.instrument;
    const hasRate = this.#rates[k] !== null;
    let perPoint = pointValue * book.rate;
    if (closes === closeTime && !hasRate) {
      for (let i = from; i < to; i++) {
        const c = close[i]!;
        equity[i] = equity[i]! + (units * c - basis) * perPoint;
        worth[i - from] = worth[i - from]! + gross * c * perPoint;
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
      worth[i - from] = worth[i - from]! + gross * c * perPoint;
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
