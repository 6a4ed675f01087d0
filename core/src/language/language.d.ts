/**
 * The plan language, version 1: every name a plan may use. The editor reads this file for completion, types and hover
 * help, and docs/plan-language.md explains it at length. The studies stand in studies.d.ts.
 */

/** A number for every bar: a price, a study, or arithmetic on them. */
interface Column {
  /** The value at the last completed bar. */
  readonly now: number;
  /** The value it would have if the bar that is forming closed as it stands now. It flickers; outside `on.price` it is `now`. */
  readonly forming: number;
  /** The value a whole number of bars back; `ago(0)` is `now`. NaN before the first bar. */
  ago(bars: number): number;
  /** The same column, displaced into the past: `highest(bars.high, 20).earlier(1)` leaves the last bar out. */
  earlier(bars: number): Column;
  plus(other: Column | number): Column;
  minus(other: Column | number): Column;
  times(other: Column | number): Column;
  /** Divided by. */
  over(other: Column | number): Column;
  /** Without its sign. */
  abs(): Column;
}

/** A yes or no for every bar. */
interface Condition {
  /** Whether it holds at the last completed bar. */
  readonly now: boolean;
  /** Whether it would hold if the bar that is forming closed as it stands now. */
  readonly forming: boolean;
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

/** Where an exit stands: a price, or a distance from the entry fill. Zero means none. */
interface Distance {
  readonly unit: "price" | "points" | "ticks" | "pips" | "percent" | "money" | "money per unit" | "R";
  readonly value: number;
}

/** How much to trade. */
interface Size {
  readonly by: "units" | "equity percent" | "risk percent" | "risk money" | "balance step" | "volatility percent";
  readonly value: number;
}

/** Exits that are attached to an entry: they work from its fill on, belong to its lot and vanish with it. */
interface ExitOptions {
  /** The protective stop: `ticks(40)`, `percent(1)`, `money(500)`, `multiple(atr, 2)` or `price(410)`. */
  stopLoss?: Distance;
  /** The profit target; `R(2)` is twice the distance of the stop loss. */
  target?: Distance;
  /** A stop that follows the best price since the fill: its distance; or also after which profit it starts and in which steps it moves. */
  trail?: Distance | { distance: Distance; after?: Distance; step?: Distance };
  /** Once the profit is this large the stop moves to the entry; or to the entry plus `keep`, which may be negative points. */
  breakEven?: Distance | { after: Distance; keep?: Distance };
  /** A ladder: once the profit is `after`, the stop moves to the entry plus `keep`. The tightest one reached counts. */
  locks?: readonly { after: Distance; keep?: Distance }[];
  /** Closes the lot at the open of the bar this many bars, or minutes, after its entry. */
  timeLimit?: { bars: number } | { minutes: number };
}

interface EntryOptions extends ExitOptions {
  /** How much: `units(2)`, `equityPercent(20)`, `riskPercent(0.5)` … One unit when left out. */
  size?: Size;
  /** A word of your own, shown on the chart and in the trade table. */
  tag?: string;
  /** Orders of one group cancel each other: the first to fill ends the rest. */
  group?: string;
  /** Close an opposite position first, then open this size. Without it the order only reduces an opposite position. */
  reverse?: boolean;
  /** How long the order works: until cancelled (default), for the `"session"`, a number of bars, or until a time today. */
  goodFor?: "session" | number | { until: string };
  /** The entry is sent only where this holds: a filter or window of one side, declared in build() like every condition. */
  onlyIf?: Condition;
  /** A market order that fills at the session's close, as its last moment, rather than at the next open. */
  at?: "close";
}

interface CloseOptions {
  /** Fills at the session's close, as its last moment, rather than at the next open: `exit.long({ at: "close" })`. */
  at?: "close";
  /** How much to close; everything of that side when left out. */
  size?: Size;
  /** The share of what is open to close, above 0 and up to 1. */
  part?: number;
  /** Only what was entered with this tag. */
  entryTag?: string;
  /** A word for the trade table. */
  tag?: string;
  group?: string;
  goodFor?: "session" | number | { until: string };
}

/** An order you sent. */
interface Order {
  readonly id: number;
  readonly state: "working" | "filled" | "cancelled" | "refused" | "expired";
  readonly working: boolean;
  readonly filled: boolean;
  readonly side: "buy" | "sell" | "";
  readonly kind: "market" | "stop" | "limit" | "stop-limit" | "";
  readonly price: number;
  readonly quantity: number;
  readonly tag: string;
  /** Why it was refused, or "". */
  readonly refusal: string;
  cancel(): boolean;
  /** Moves a working stop or limit order to another price, at once; false when it is refused. */
  moveTo(price: number): boolean;
  /** Moves the limit price of a stop-limit order. */
  moveLimitTo(price: number): boolean;
  /** Changes the quantity of a working order. */
  resize(quantity: number): boolean;
}

interface EntrySide {
  /** Enters at market: at the next bar's open when sent at a bar's close. */
  (options?: EntryOptions): Order;
  /** Enters by a stop order: above the market for long, below it for short. Not a protective stop: that is `stopLoss`. */
  stop(price: number, options?: EntryOptions): Order;
  /** Enters by a limit order: below the market for long, above it for short. */
  limit(price: number, options?: EntryOptions): Order;
  /** Enters by a limit order that begins to work once the stop price is reached. */
  stopLimit(price: number, limit: number, options?: EntryOptions): Order;
  /** Enters when price gets to a level: by a stop order when it lies beyond the last close, by a limit order when it lies before it. */
  at(price: number, options?: EntryOptions): Order;
}

interface ExitSide {
  /** Closes this side at market. */
  (options?: CloseOptions): Order;
  /** Closes this side by a stop order of its own, beside the exits of its entries. */
  stop(price: number, options?: CloseOptions): Order;
  /** Closes this side by a limit order of its own. */
  limit(price: number, options?: CloseOptions): Order;
}

interface OrderEvent {
  readonly id: number;
  readonly symbol: string;
  /** 1 buys, -1 sells. */
  readonly side: 1 | -1;
  readonly kind: "market" | "stop" | "limit" | "stop-limit";
  readonly price: number;
  readonly quantity: number;
  readonly tag: string;
  /** Why it was refused, cancelled or expired; "" when accepted. */
  readonly reason: string;
}

interface FillEvent {
  readonly orderId: number;
  readonly symbol: string;
  /** What filled: an order of yours, or an attached exit. */
  readonly source: "order" | "stop" | "trail" | "break-even" | "lock" | "target" | "time" | "end of data";
  /** 1 bought, -1 sold. */
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly price: number;
  readonly timeMs: number;
  readonly tag: string;
}

interface LotEvent {
  readonly symbol: string;
  readonly side: "long" | "short";
  readonly quantity: number;
  readonly entryPrice: number;
  readonly tag: string;
}

interface TradeEvent {
  readonly symbol: string;
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly entryPrice: number;
  readonly exitPrice: number;
  readonly entryTag: string;
  readonly reason:
    | "stop"
    | "target"
    | "trail"
    | "break-even"
    | "lock"
    | "time"
    | "signal"
    | "reverse"
    | "session end"
    | "margin"
    | "end of data";
  /** Money after all costs. */
  readonly net: number;
  readonly barsHeld: number;
  /** net over the initial risk, null when no stop was known. */
  readonly r: number | null;
}

interface Position {
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
  /** Highest price since the entry, NaN when flat. */
  readonly highest: number;
  /** Lowest price since the entry, NaN when flat. */
  readonly lowest: number;
  /** The open lots, oldest first. */
  readonly lots: readonly {
    readonly side: "long" | "short";
    readonly units: number;
    readonly entryPrice: number;
    readonly barsHeld: number;
    readonly tag: string;
    readonly stop: number;
    readonly target: number;
  }[];
  /** Closes all at market: at the next open when sent at a bar's close. */
  close(tag?: string): void;
  /** Closes some units at market, first in, first out. */
  reduce(quantity: number, tag?: string): void;
  /** Orders what is missing to a target: `units(5)`, `units(-5)` for short, `units(0)`, or `equityPercent(20)`. */
  goTo(target: Size, tag?: string): Order;
  /** Moves the protective stop to a price if that is tighter; false when it would loosen. */
  tightenStop(price: number): boolean;
  /** Sets the protective stop wherever you say, looser too; null takes it away, and a trailing stop with it. */
  setStop(price: number | null): boolean;
  setTarget(price: number | null): boolean;
}

interface Orders {
  /** Your orders that still wait or work. */
  readonly working: readonly Order[];
  cancelAll(): void;
}

interface Account {
  /** Cash and open profit at the last closes. */
  readonly equity: number;
  readonly cash: number;
}

/** One market of the run: its bars, orders and position. */
interface Market {
  readonly symbol: string;
  readonly bars: Bars;
  readonly enter: { readonly long: EntrySide; readonly short: EntrySide };
  readonly exit: { readonly long: ExitSide; readonly short: ExitSide; all(tag?: string): void };
  readonly position: Position;
  readonly orders: Orders;
  readonly account: Account;
  /** Runs a handler at the close of each bar of this market. */
  onBarClose(handler: () => void): void;
}

interface Context<Values> {
  /** The run's bars. Columns show the last completed bar. */
  readonly bars: Bars;
  /** The values of your declared inputs. */
  readonly inputs: Values;
  /** Every market of the run, in the order in which the run names them; the first is the one that `bars`, `enter` and `position` speak of. */
  readonly markets: readonly Market[];
  /** The market of a symbol; refused when the run does not bring it. */
  market(symbol: string): Market;
  /** Runs a handler at the close of the bar on which a crossing happens. */
  when(crossing: Crossing, handler: () => void): void;
  /** Runs a handler at the close of every bar on which a condition holds. */
  during(condition: Condition, handler: () => void): void;
  /**
   * Writes a rule once for both sides: called for longs, then for shorts, whose words are turned.
   * `mirrored((side) => when(side.crossesAbove(bars.close, side.highest(bars, 20).earlier(1)), () => side.enter({ stopLoss: ticks(40) })));`
   */
  mirrored(write: (side: Side) => void): void;
  readonly on: {
    /** At the close of every bar, once all studies have full values. */
    barClose(handler: () => void): void;
    /** Once, at the open of the first bar that handlers may act on. */
    start(handler: () => void): void;
    /** At a session's first bar, before anything fills. */
    sessionOpen(handler: () => void): void;
    /** At the close of a session's scheduled last bar. */
    sessionClose(handler: () => void): void;
    /** Each session at this exchange time ("15:45"): at the open of the first bar (finer bar, where finer paths are walked) at or after it; on days that close earlier at the last bar's open. */
    clock(wallTime: string, handler: () => void): void;
    /** Each session, so many minutes after its open. */
    afterOpen(minutes: number, handler: () => void): void;
    /** Each session, so many minutes before its own close, early closes included: `on.beforeClose(15, () => position.close("flat"))`. */
    beforeClose(minutes: number, handler: () => void): void;
    /** Each week on a weekday at an exchange time: `on.weekly("friday", "15:30", …)`. */
    weekly(
      weekday: "monday" | "tuesday" | "wednesday" | "thursday" | "friday" | "saturday" | "sunday",
      wallTime: string,
      handler: () => void,
    ): void;
    /** At every point of the path inside each bar: open, high, low, close, in the path's order. Studies show `.forming` values. Slow. */
    price(handler: (event: { readonly symbol: string; readonly price: number }) => void): void;
    /** When an order is taken on. */
    accepted(handler: (order: OrderEvent) => void): void;
    /** When an order or an attached exit fills; orders sent here work at once. */
    filled(handler: (fill: FillEvent) => void): void;
    cancelled(handler: (order: OrderEvent) => void): void;
    /** When an order is refused, with the reason. */
    refused(handler: (order: OrderEvent) => void): void;
    expired(handler: (order: OrderEvent) => void): void;
    /** When an entry has opened a lot. */
    opened(handler: (lot: LotEvent) => void): void;
    /** When the position has changed: after each fill. */
    changed(handler: (fill: FillEvent) => void): void;
    /** When a trade, or part of one, is closed. */
    closed(handler: (trade: TradeEvent) => void): void;
    /** After the last bar. */
    end(handler: () => void): void;
  };
  /** Opens a position or adds to it: `enter.long({ … })`, `enter.short.stop(price, { … })`. */
  readonly enter: { readonly long: EntrySide; readonly short: EntrySide };
  /** Closes a position, or part of it: `exit.long()`, `exit.long.limit(price, { part: 0.5 })`, `exit.all()`. */
  readonly exit: { readonly long: ExitSide; readonly short: ExitSide; all(tag?: string): void };
  readonly position: Position;
  readonly orders: Orders;
  readonly account: Account;
  readonly clock: {
    /** Now, UTC milliseconds. */
    readonly timeMs: number;
    /** Exchange time, minutes after midnight. */
    readonly minutes: number;
    /** yyyy-mm-dd of the session. */
    readonly sessionDate: string;
    /** "monday" to "sunday", of the session's date. */
    readonly weekday: string;
    before(wallTime: string): boolean;
    atOrAfter(wallTime: string): boolean;
    /** From the first time up to, not including, the second; may pass midnight. */
    between(from: string, to: string): boolean;
  };
  /** Writes a line to the run's log. An `"alert"` is passed on by a watch; in a backtest it is a line of its own kind. */
  log(text: string | number, level?: "info" | "notice" | "warning" | "alert"): void;
  /** Writes a text on the chart at this bar, at a price or above the bar. */
  note(text: string, price?: number): void;
  /** A figure of your own in the evidence: the last value under a label counts. */
  figure(label: string, value: number, unit?: string): void;
  /** Draws a column on the chart, over the prices or in a pane of its own; `shift` draws it so many bars later (or earlier, when negative). */
  show(column: Column, options?: { label?: string; pane?: "price" | "own"; shift?: number }): void;
  /** A number in [0, 1) from the run's seed. */
  random(): number;
}

/** One side of a rule that `mirrored()` writes for both. Its words are those of a long, and are turned for a short. */
interface Side {
  readonly name: "long" | "short";
  /** 1 for longs, -1 for shorts. */
  readonly sign: 1 | -1;
  /** `enter.long`, or `enter.short`. */
  readonly enter: EntrySide;
  /** `exit.long`, or `exit.short`. */
  readonly exit: ExitSide;
  /** Whether a position of this side is open. */
  readonly isOpen: boolean;
  crossesAbove(a: Column, b: Column | number): Crossing;
  crossesBelow(a: Column, b: Column | number): Crossing;
  isAbove(a: Column, b: Column | number): State;
  isBelow(a: Column, b: Column | number): State;
  isAtOrAbove(a: Column, b: Column | number): State;
  isAtOrBelow(a: Column, b: Column | number): State;
  isRising(source: Column, span: number): State;
  isFalling(source: Column, span: number): State;
  /** The bars' highs; their lows for a short. */
  high(bars: Bars): Column;
  low(bars: Bars): Column;
  /** The highest high of so many bars; the lowest low for a short. */
  highest(bars: Bars, span: number): Column;
  lowest(bars: Bars, span: number): Column;
  /** The upper of two bands; the lower for a short. */
  upper(bands: { readonly upper: Column; readonly lower: Column }): Column;
  lower(bands: { readonly upper: Column; readonly lower: Column }): Column;
  /** A threshold of something that swings about a middle: `side.threshold(30, 50)` is 70 for a short. */
  threshold(value: number, middle: number): number;
  /** So far above a price or column; below it for a short. */
  beyond(from: number, by: number): number;
  beyond(from: Column, by: Column | number): Column;
}

interface Bars {
  readonly open: Column;
  readonly high: Column;
  readonly low: Column;
  readonly close: Column;
  readonly volume: Column;
  /** Widest spread of the bar in price units, where the data have one; else 0. */
  readonly spread: Column;
  readonly instrument: {
    readonly symbol: string;
    readonly name: string;
    readonly tickSize: number;
    readonly pipSize: number;
    readonly pointValue: number;
    readonly decimals: number;
    readonly minQuantity: number;
    readonly quantityStep: number;
    readonly currency: string;
  };
  readonly timeframe: string;
  /** The same instrument in a higher timeframe: a column of it shows the value of its last completed bar. */
  at(timeframe: string): Bars;
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
/** A text that the user may change: a list of symbols, or a condition for `readCondition`. */
declare function text(value: string, options?: InputOptions): Input<string>;
/** Symbol of an instrument that the run brings along. */
declare function instrument(value: string, options?: InputOptions): Input<string>;
/** A timeframe such as "1h" or "1d". */
declare function timeframe(value: string, options?: InputOptions): Input<string>;
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

/**
 * A study of your own, computed bar by bar: `start` makes its memory and gives the step, which gets the values of the
 * columns at one bar after the other, in an instance of the plan of its own: what it writes elsewhere reaches no handler. `stepwise([bars.close], () => { let y = NaN; return (x) => (y = …); })`
 */
declare function stepwise(columns: readonly Column[], start: () => (...values: number[]) => number): Column;

/** The bar on which `a`, at or below `b` one bar before, is above it. */
declare function crossesAbove(a: Column, b: Column | number): Crossing;
/** The bar on which `a`, at or above `b` one bar before, is below it. */
declare function crossesBelow(a: Column, b: Column | number): Crossing;
/** The bar on which `a` crosses `b`, either way. */
declare function crosses(a: Column, b: Column | number): Crossing;
/** Holds on every bar on which `a` is above `b`. */
declare function isAbove(a: Column, b: Column | number): State;
/** Holds on every bar on which `a` is below `b`. */
declare function isBelow(a: Column, b: Column | number): State;
/** Holds on every bar on which `a` is above `b` or equal to it. */
declare function isAtOrAbove(a: Column, b: Column | number): State;
/** Holds on every bar on which `a` is below `b` or equal to it. */
declare function isAtOrBelow(a: Column, b: Column | number): State;
/** Holds between two bounds; say which ends count: "both", "neither", "lower" or "upper". */
declare function isBetween(a: Column, low: Column | number, high: Column | number, ends: "both" | "neither" | "lower" | "upper"): State;
/** Each of the last `span` values is above the one before it. */
declare function isRising(source: Column, span?: number): State;
/** Each of the last `span` values is below the one before it. */
declare function isFalling(source: Column, span?: number): State;
/** Holds on bars that open from the first exchange time ("HH:MM") up to, not including, the second; may pass midnight. */
declare function opensBetween(bars: Bars, from: string, to: string): State;
/** Holds on bars of sessions whose date is one of these weekdays: `isOnWeekday(bars, ["monday", "friday"])`. */
declare function isOnWeekday(
  bars: Bars,
  days: readonly ("monday" | "tuesday" | "wednesday" | "thursday" | "friday" | "saturday" | "sunday")[],
): State;
/** The bar on which a state begins to hold. */
declare function becomes(state: Condition): Crossing;

/** The larger of two, bar by bar. */
declare function larger(a: Column, b: Column | number): Column;
/** The smaller of two, bar by bar. */
declare function smaller(a: Column, b: Column | number): Column;
/** One value where a condition holds, another where it does not. */
declare function choose(condition: Condition, yes: Column | number, no: Column | number): Column;
/** The value that a column had when a condition last held. */
declare function valueWhen(condition: Condition, source: Column): Column;
/** The highest value since a condition last held, that bar included; values that are no number (0 over 0) are passed over. */
declare function highestSince(condition: Condition, source: Column): Column;
/** The lowest value since a condition last held, that bar included; values that are no number (0 over 0) are passed over. */
declare function lowestSince(condition: Condition, source: Column): Column;
/** Bars since a condition last held: 0 on that bar. */
declare function barsSince(condition: Condition): Column;
/** On how many of the last `span` bars a condition held. */
declare function countOf(condition: Condition, span: number): Column;

/** The column that a text describes: `readColumn("highest(high, 10)[1]", bars)`. */
declare function readColumn(text: string, bars: Bars): Column;
/** The condition that a text describes: `readCondition("close > ema(close, 50)", bars.at("1h"))`. */
declare function readCondition(text: string, bars: Bars): Condition;

/** A distance in ticks of the instrument. */
declare function ticks(value: number): Distance;
/** A distance in price units. */
declare function points(value: number): Distance;
/** A distance in pips; the instrument says what a pip is. */
declare function pips(value: number): Distance;
/** A distance in percent of the entry fill. */
declare function percent(value: number): Distance;
/** A distance in money for the whole position. */
declare function money(value: number): Distance;
/** A distance in money for each unit. */
declare function moneyPerUnit(value: number): Distance;
/** An absolute price. */
declare function price(value: number): Distance;
/** A multiple of the initial risk: the distance of the stop loss on the same order. */
declare function R(value: number): Distance;
/** A multiple of what a study shows when the order is sent: `multiple(atr(bars, 14), 2)`. */
declare function multiple(study: Column, factor?: number): Distance;

/** A fixed number of units (contracts, shares, lots). */
declare function units(value: number): Size;
/** Units whose value is a percentage of equity. */
declare function equityPercent(value: number): Size;
/** Units that lose a percentage of equity when the stop loss is hit. Needs `stopLoss`. */
declare function riskPercent(value: number): Size;
/** Units that lose a sum of money when the stop loss is hit. Needs `stopLoss`. */
declare function riskMoney(value: number): Size;
/** `value` units for every full `step` of balance. */
declare function unitsPerBalance(value: number, step: number): Size;
/** Units that make or lose a percentage of equity when price moves by what a study shows now. */
declare function volatilityPercent(value: number, study: Column): Size;
