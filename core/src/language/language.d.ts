/**
 * The plan language: every name a plan may use. The editor reads this file for completion, types and hover help, and
 * docs/plan-language.md explains it at length.
 */

/** A number for every bar: a price, a study, or arithmetic on them. */
interface Column {
  /** The value at the last completed bar. */
  readonly now: number;
  /** The value a whole number of bars back; `ago(0)` is `now`. NaN before the first bar. */
  ago(bars: number): number;
  /** The same column, displaced into the past: `highest(bars.high, 20).earlier(1)` leaves the last bar out. */
  earlier(bars: number): Column;
  plus(other: Column | number): Column;
  minus(other: Column | number): Column;
  times(other: Column | number): Column;
  /** Divided by. */
  over(other: Column | number): Column;
}

/** A yes or no for every bar. */
interface Condition {
  /** Whether it holds at the last completed bar. */
  readonly now: boolean;
  /** Whether it held a whole number of bars back. */
  ago(bars: number): boolean;
  not(): State;
}

/** True only on the bar on which something happens. Wait for it with `when`. */
interface Crossing extends Condition {
  readonly happens: "on one bar";
  and(other: Condition): Crossing;
  or(other: Crossing): Crossing;
  or(other: State): State;
}

/** True for as long as something holds. Act on each such bar with `during`, or on its first with `when(becomes(…), …)`. */
interface State extends Condition {
  readonly holds: "while true";
  and(other: State): State;
  and(other: Crossing): Crossing;
  or(other: Condition): State;
}

/** Where a stop loss or target stands: a price, or a distance from the entry fill. */
interface Distance {
  readonly unit: "price" | "ticks" | "percent" | "money";
  readonly value: number;
}

/** How much to trade. */
interface Size {
  readonly by: "units" | "equity percent" | "risk percent";
  readonly value: number;
}

interface EntryOptions {
  /** How much: `units(2)`, `equityPercent(20)` or `riskPercent(0.5)`. One unit when left out. */
  size?: Size;
  /** The protective stop that goes with this entry, working from its fill on: `ticks(40)`, `percent(1)`, `money(500)` or `price(410)`. */
  stopLoss?: Distance;
  /** The profit target that goes with this entry. */
  target?: Distance;
  /** A word of your own, shown on the chart and in the trade table. */
  tag?: string;
  /** Orders of one group cancel each other: the first to fill ends the rest. */
  group?: string;
  /** Close an opposite position first, then open this size. Without it the order only reduces an opposite position. */
  reverse?: boolean;
  /** How long a stop or limit order works: until cancelled (default), for the `"session"`, or a number of bars. */
  goodFor?: "session" | number;
}

/** An order you sent. */
interface Order {
  readonly id: number;
  readonly state: "working" | "filled" | "cancelled" | "refused" | "expired";
  readonly working: boolean;
  readonly filled: boolean;
  readonly price: number;
  readonly tag: string;
  /** Why it was refused, or "". */
  readonly refusal: string;
  cancel(): boolean;
  /** Moves a working stop or limit order to another price, at once. */
  moveTo(price: number): boolean;
}

interface EntrySide {
  /** Enters at market: at the next bar's open when sent at a bar's close. */
  (options?: EntryOptions): Order;
  /** Enters by a stop order: above the market for long, below it for short. Not a protective stop: that is `stopLoss`. */
  stop(price: number, options?: EntryOptions): Order;
  /** Enters by a limit order: below the market for long, above it for short. */
  limit(price: number, options?: EntryOptions): Order;
}

interface FillEvent {
  readonly orderId: number;
  /** What filled: an order of yours, or an attached exit. */
  readonly source: "order" | "stop" | "target" | "end of data";
  /** 1 bought, -1 sold. */
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly price: number;
  readonly timeMs: number;
  readonly tag: string;
}

interface TradeEvent {
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly entryPrice: number;
  readonly exitPrice: number;
  readonly entryTag: string;
  readonly reason: "stop" | "target" | "signal" | "reverse" | "time" | "session end" | "end of data";
  /** Money after all costs. */
  readonly net: number;
  readonly barsHeld: number;
  /** net over the initial risk, null when no stop was known. */
  readonly r: number | null;
}

interface Context<Values> {
  /** The run's bars. Columns show the last completed bar; the bar that is still forming can't be seen. */
  readonly bars: Bars;
  /** The values of your declared inputs. */
  readonly inputs: Values;
  /** Runs a handler at the close of the bar on which a crossing happens. */
  when(crossing: Crossing, handler: () => void): void;
  /** Runs a handler at the close of every bar on which a condition holds. */
  during(condition: Condition, handler: () => void): void;
  readonly on: {
    /** At the close of every bar, once all studies have full values. */
    barClose(handler: () => void): void;
    /** Once, at the open of the first bar that handlers may act on. */
    start(handler: () => void): void;
    /** At a session's first bar, before anything fills. */
    sessionOpen(handler: () => void): void;
    /** At the close of a session's scheduled last bar. */
    sessionClose(handler: () => void): void;
    /** Each session at this exchange time ("15:45"): at the open of the first bar at or after it. */
    clock(wallTime: string, handler: () => void): void;
    /** When an order or an attached exit fills; orders sent here work at once. */
    filled(handler: (fill: FillEvent) => void): void;
    /** When an entry has opened a lot. */
    opened(
      handler: (lot: {
        readonly side: "long" | "short";
        readonly quantity: number;
        readonly entryPrice: number;
        readonly tag: string;
      }) => void,
    ): void;
    /** When a trade, or part of one, is closed. */
    closed(handler: (trade: TradeEvent) => void): void;
    /** When an order is refused, with the reason. */
    refused(handler: (order: { readonly id: number; readonly tag: string; readonly reason: string }) => void): void;
    /** After the last bar. */
    end(handler: () => void): void;
  };
  /** Opens a position or adds to it: `enter.long({ … })`, `enter.short.stop(price, { … })`. */
  readonly enter: { readonly long: EntrySide; readonly short: EntrySide };
  readonly position: {
    readonly flat: boolean;
    readonly long: boolean;
    readonly short: boolean;
    /** Open units, never negative. */
    readonly units: number;
    /** Mean entry price, NaN when flat. */
    readonly entryPrice: number;
    readonly barsHeld: number;
    /** Open profit at the last close, money. */
    readonly profit: number;
    /** Level of the protective stop, NaN when there is none. */
    readonly stop: number;
    /** Level of the target, NaN when there is none. */
    readonly target: number;
    /** Closes all at market: at the next open when sent at a bar's close. */
    close(tag?: string): void;
    /** Closes some units at market, first in, first out. */
    reduce(quantity: number, tag?: string): void;
    /** Moves the protective stop to a price if that is tighter; false when it would loosen. */
    tightenStop(price: number): boolean;
    /** Sets the protective stop wherever you say, looser too; null takes it away. */
    setStop(price: number | null): boolean;
    setTarget(price: number | null): boolean;
  };
  readonly orders: {
    /** Your orders that still wait or work. */
    readonly working: readonly Order[];
    cancelAll(): void;
  };
  readonly account: { readonly equity: number; readonly cash: number };
  readonly clock: {
    /** Now, UTC milliseconds. */
    readonly timeMs: number;
    /** Exchange time, minutes after midnight. */
    readonly minutes: number;
    /** yyyy-mm-dd of the session. */
    readonly sessionDate: string;
    before(wallTime: string): boolean;
    atOrAfter(wallTime: string): boolean;
    /** From the first time up to, not including, the second; may pass midnight. */
    between(from: string, to: string): boolean;
  };
  /** Writes a line to the run's log. */
  log(text: string | number, level?: "info" | "notice" | "warning"): void;
  /** Draws a column on the chart, over the prices or in a pane of its own. */
  show(column: Column, options?: { label?: string; pane?: "price" | "own" }): void;
  /** A number in [0, 1) from the run's seed. */
  random(): number;
}

interface Bars {
  readonly open: Column;
  readonly high: Column;
  readonly low: Column;
  readonly close: Column;
  readonly volume: Column;
  readonly instrument: {
    readonly symbol: string;
    readonly name: string;
    readonly tickSize: number;
    readonly pointValue: number;
    readonly decimals: number;
  };
  readonly timeframe: string;
}

interface InputOptions {
  label?: string;
  /** Least and most allowed value; a sweep starts from them. */
  min?: number;
  max?: number;
  step?: number;
  /** Shown behind the value: "bars", "ticks", "%". */
  unit?: string;
  /** Inputs of one group stand together. */
  group?: string;
  help?: string;
}

interface Input<Value> {
  readonly default: Value;
}

/** A whole number that the user may change. */
declare function whole(value: number, options?: InputOptions): Input<number>;
/** A decimal number that the user may change. */
declare function decimal(value: number, options?: InputOptions): Input<number>;
/** A switch that the user may change. */
declare function yesNo(value: boolean, options?: InputOptions): Input<boolean>;
/** A time of day, "HH:MM" at the exchange. */
declare function time(value: string, options?: InputOptions): Input<string>;
/** One of several words. */
declare function choice<Word extends string>(value: NoInfer<Word>, words: readonly Word[], options?: InputOptions): Input<Word>;

interface Plan {
  readonly title: string;
}

/** Declares a plan. `build` runs once before the first bar: declare studies in it and register handlers. Its variables are the plan's memory. */
declare function plan<Values extends Record<string, unknown> = Record<string, never>>(declaration: {
  title: string;
  inputs?: { [Name in keyof Values]: Input<Values[Name]> };
  build(context: Context<Values>): void;
}): Plan;

/** Simple moving average of the last `span` values. */
declare function sma(source: Column, span?: number): Column;
/** Exponential moving average, weight 2 / (span + 1), seeded by the simple mean of the first `span` values. */
declare function ema(source: Column, span?: number): Column;
/** Wilder's moving average, weight 1 / span. */
declare function wilder(source: Column, span?: number): Column;
/** Relative strength index, 0 to 100 (Wilder). */
declare function rsi(source: Column, span?: number): Column;
/** Average true range in price units (Wilder). */
declare function atr(bars: Bars, span?: number): Column;
/** True range in price units. */
declare function trueRange(bars: Bars): Column;
/** Bollinger bands: a simple average, and bands `width` standard deviations away. */
declare function bollinger(
  source: Column,
  span?: number,
  width?: number,
): { readonly middle: Column; readonly upper: Column; readonly lower: Column };
/** Difference of two exponential averages, its signal line and their gap. */
declare function macd(
  source: Column,
  fast?: number,
  slow?: number,
  smoothing?: number,
): { readonly line: Column; readonly signal: Column; readonly histogram: Column };
/** Highest of the last `span` values, the current one included. */
declare function highest(source: Column, span?: number): Column;
/** Lowest of the last `span` values, the current one included. */
declare function lowest(source: Column, span?: number): Column;
/** Standard deviation of the last `span` values (divisor span). */
declare function standardDeviation(source: Column, span?: number): Column;
/** Open of the session's first bar. */
declare function sessionOpen(bars: Bars): Column;
/** Highest price of the session so far. */
declare function sessionHigh(bars: Bars): Column;
/** Lowest price of the session so far. */
declare function sessionLow(bars: Bars): Column;
/** Bars since the session opened; the first bar counts 1. */
declare function barsSinceOpen(bars: Bars): Column;

/** The bar on which `a`, at or below `b` one bar before, is above it. */
declare function crossesAbove(a: Column, b: Column | number): Crossing;
/** The bar on which `a`, at or above `b` one bar before, is below it. */
declare function crossesBelow(a: Column, b: Column | number): Crossing;
/** Holds on every bar on which `a` is above `b`. */
declare function isAbove(a: Column, b: Column | number): State;
/** Holds on every bar on which `a` is below `b`. */
declare function isBelow(a: Column, b: Column | number): State;
/** The bar on which a state begins to hold. */
declare function becomes(state: Condition): Crossing;

/** A distance in ticks of the instrument. */
declare function ticks(value: number): Distance;
/** A distance in percent of the entry fill. */
declare function percent(value: number): Distance;
/** A distance in money for the whole position. */
declare function money(value: number): Distance;
/** An absolute price. */
declare function price(value: number): Distance;
/** A fixed number of units (contracts, shares, lots). */
declare function units(value: number): Size;
/** Units whose value is a percentage of equity. */
declare function equityPercent(value: number): Size;
/** Units that lose a percentage of equity when the stop loss is hit. Needs `stopLoss`. */
declare function riskPercent(value: number): Size;
