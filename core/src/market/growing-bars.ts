/**
 * Bars that grow by one as source bars come, in constant time. The series always ends with one bar more than are completed:
 * the one that is under way, or that is next by the calendar. Its prices are those so far, or the last close; nobody may
 * look at them before it is completed, as with any later bar of a backtest.
 */
import { BarFrame, type BarPlace } from "./bar-frame.ts";
import type { BarSeries } from "./bars.ts";
import type { SessionCalendar } from "./calendar.ts";

/** A source bar: a minute, or a bar of a shorter timeframe. */
export interface SourceBar {
  readonly time: number;
  readonly closeTime: number;
  readonly session: number;
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number;
  readonly spread: number;
}

const PRICES = ["time", "open", "high", "low", "close", "volume", "closeTime", "spread"] as const;
type Columns = Record<(typeof PRICES)[number], Float64Array>;

export class GrowingBars {
  readonly frame: BarFrame;
  readonly timeframe: string;
  readonly #hasSpread: boolean;
  #columns: Columns;
  #session: Int32Array;
  #completed: number;
  #series: BarSeries;
  /** Of the bar under way; NaN where it has not begun. */
  #bucket = Number.NaN;

  /** @param history completed bars of the timeframe @param nowMs time of now, at or after their last close */
  constructor(history: BarSeries, calendar: SessionCalendar, nowMs: number) {
    const { length, sessions, timeframe } = history;
    this.timeframe = timeframe;
    this.frame = new BarFrame(calendar, timeframe, sessions.openMs[0] ?? nowMs, nowMs);
    this.#hasSpread = history.spread !== undefined;
    this.#completed = length;
    const capacity = Math.max(64, length + (length >> 1));
    const column = (name: (typeof PRICES)[number]): Float64Array => {
      const values = new Float64Array(capacity);
      const given = history[name];
      if (given) values.set(given);
      return values;
    };
    this.#columns = Object.fromEntries(PRICES.map((name) => [name, column(name)])) as Columns;
    this.#session = new Int32Array(capacity);
    this.#session.set(history.session);
    this.#series = history;
    this.#expect(nowMs);
  }

  /** Completed bars and the one under way. */
  get series(): BarSeries {
    return this.#series;
  }

  get completed(): number {
    return this.#completed;
  }

  /** Whether the bar under way has begun. */
  get isOpen(): boolean {
    return !Number.isNaN(this.#bucket);
  }

  /** Whether something has been traded in it. */
  get hasPrices(): boolean {
    return this.#hasPrices;
  }

  /** Close time of the bar under way, or next. */
  get closeMs(): number {
    return this.#columns.closeTime[this.#completed]!;
  }

  /** A minute opens: the bar it lies in is under way from here on. True when it begins with it. */
  open(minute: number): boolean {
    const place = this.frame.placeOfMinute(minute);
    if (place.bucket === this.#bucket) return false;
    this.#begin(place);
    return true;
  }

  /** Takes a source bar into the bar under way. */
  add(bar: SourceBar): void {
    const place = this.frame.placeOf(bar);
    if (place.bucket !== this.#bucket) this.#begin(place);
    const { open, high, low, close, volume, closeTime, spread } = this.#columns;
    const i = this.#completed;
    if (!this.#hasPrices) {
      open[i] = bar.open;
      high[i] = bar.high;
      low[i] = bar.low;
      volume[i] = 0;
      spread[i] = bar.spread;
      this.#hasPrices = true;
    }
    if (bar.high > high[i]!) high[i] = bar.high;
    if (bar.low < low[i]!) low[i] = bar.low;
    if (bar.spread > spread[i]!) spread[i] = bar.spread;
    close[i] = bar.close;
    volume[i] = volume[i]! + bar.volume;
    closeTime[i] = place.closeTime;
    this.#session[i] = bar.session;
  }

  #hasPrices = false;

  /** It is this time: true when the bar under way is completed by it. */
  completeBy(timeMs: number): boolean {
    if (!this.#hasPrices || this.#columns.closeTime[this.#completed]! > timeMs) return false;
    this.#completed++;
    this.#bucket = Number.NaN;
    this.#hasPrices = false;
    this.#expect(timeMs);
    return true;
  }

  /** It is this time: where nothing was traded in the bar that was next, it is not one, and the one after it is next. */
  passBy(timeMs: number): void {
    if (this.#hasPrices || this.#columns.closeTime[this.#completed]! > timeMs) return;
    this.#bucket = Number.NaN;
    this.#expect(timeMs);
  }

  /** A completed bar, as a source bar of a longer timeframe. */
  bar(i: number): SourceBar {
    const c = this.#columns;
    return {
      time: c.time[i]!,
      closeTime: c.closeTime[i]!,
      session: this.#session[i]!,
      open: c.open[i]!,
      high: c.high[i]!,
      low: c.low[i]!,
      close: c.close[i]!,
      volume: c.volume[i]!,
      spread: c.spread[i]!,
    };
  }

  /** The next bar by the calendar takes the last place. */
  #expect(timeMs: number): void {
    this.#write(this.frame.placeOfMinute(this.frame.nextMinute(timeMs)));
  }

  #begin(place: BarPlace): void {
    this.#bucket = place.bucket;
    this.#write(place);
  }

  #write({ time, closeTime, session }: BarPlace): void {
    const i = this.#completed;
    if (i >= this.#columns.time.length) this.#widen();
    const c = this.#columns;
    const last = i > 0 ? c.close[i - 1]! : Number.NaN;
    c.time[i] = time;
    c.closeTime[i] = closeTime;
    c.open[i] = c.high[i] = c.low[i] = c.close[i] = last;
    c.volume[i] = 0;
    c.spread[i] = i > 0 ? c.spread[i - 1]! : 0;
    this.#session[i] = session;
    this.#show();
  }

  #widen(): void {
    const wider = (values: Float64Array): Float64Array => {
      const grown = new Float64Array(values.length * 2);
      grown.set(values);
      return grown;
    };
    this.#columns = Object.fromEntries(PRICES.map((name) => [name, wider(this.#columns[name])])) as Columns;
    const session = new Int32Array(this.#session.length * 2);
    session.set(this.#session);
    this.#session = session;
  }

  #show(): void {
    const length = this.#completed + 1;
    const cut = (values: Float64Array): Float64Array => values.subarray(0, length);
    const c = this.#columns;
    this.#series = {
      timeframe: this.timeframe,
      length,
      time: cut(c.time),
      open: cut(c.open),
      high: cut(c.high),
      low: cut(c.low),
      close: cut(c.close),
      volume: cut(c.volume),
      spread: this.#hasSpread ? cut(c.spread) : undefined,
      closeTime: cut(c.closeTime),
      session: this.#session.subarray(0, length),
      sessions: this.frame.sessions,
    };
  }
}
