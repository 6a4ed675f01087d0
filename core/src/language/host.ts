/**
 * Hosts one plan: gives its build function a context, keeps the handlers it registers, and runs them when the clock
 * says so. It serves the backtest (bars known, handlers scheduled ahead) and the live watch (bars arrive) alike.
 */
import type { BookListener, Lot } from "../engine/lots.ts";
import type { ExitReason, Fill, LogLevel, LogLine, Order, TimeInForce, Trade } from "../engine/orders.ts";
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { minutesOfDay } from "../market/calendar.ts";
import type { Instrument } from "../market/instrument.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import { Random } from "../random.ts";
import type { Broker } from "./broker.ts";
import { asColumn, Column, Condition, Crossing, describe, flagsOf, type Scope } from "./columns.ts";
import type { Cursor } from "./cursor.ts";
import type { InputValue } from "./inputs.ts";
import { type Handler, Schedule } from "./schedule.ts";
import { bitsOf, hitsOf, type StudyStore } from "./study-store.ts";
import { makeTrading } from "./trading.ts";
import { type DeclaredPlan, type PlanBars, registerBars } from "./vocabulary.ts";

/** A column that the plan shows on the chart. */
export interface ShownColumn {
  readonly label: string;
  readonly pane: "price" | "own";
  readonly column: Column;
}

export interface HostOptions {
  readonly plan: DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly instrument: Instrument;
  readonly store: StudyStore;
  readonly broker: Broker;
  readonly seed: number;
  /** Line of the plan's source that is running, for orders; 0 where unknown. */
  readonly sourceLine?: () => number;
  /** Keeps trades, but neither orders nor fills: for sweeps. */
  readonly isLean?: boolean;
}

const MOST_LOG_LINES = 10_000;
const EVENTS = ["start", "sessionOpen", "sessionClose", "barClose", "filled", "opened", "closed", "refused", "end"] as const;
type EventName = (typeof EVENTS)[number];

interface ClockAction {
  readonly minutes: number;
  readonly handler: Handler;
}

export class PlanHost implements BookListener {
  readonly cursor: Cursor = { index: -1, timeMs: 0, session: 0 };
  readonly lines: LogLine[] = [];
  readonly shown: ShownColumn[] = [];
  readonly fills: Fill[] = [];
  readonly trades: Trade[] = [];
  readonly orders: Order[] = [];
  readonly clockActions: ClockAction[] = [];
  /** Lines that were not kept because the log was full. */
  dropped = 0;

  readonly #options: HostOptions;
  readonly #scope: Scope;
  readonly #close: { handler: Handler; condition: Condition | null }[] = [];
  readonly #listeners: Record<EventName, ((event: unknown) => void)[]>;
  #phase: ExitReason = "signal";
  #bars: BarSeries;

  constructor(options: HostOptions) {
    this.#options = options;
    this.#bars = options.store.bars;
    this.#scope = { store: options.store, cursor: this.cursor, warmUp: 0, sealed: false };
    this.#listeners = Object.fromEntries(EVENTS.map((name) => [name, []])) as unknown as Record<EventName, ((event: unknown) => void)[]>;
    const result = options.plan.build(this.#context());
    if (result instanceof Promise)
      throw new PlanTesterError("bad-plan", "build() is asynchronous. A plan can't wait for anything: make build a plain function.");
    this.#scope.sealed = true;
  }

  /** The first bar on which every declared study has a full value (R7.3). */
  get firstBar(): number {
    return this.#scope.warmUp;
  }

  /** The handlers of a backtest, laid out over the whole series. */
  schedules(): { open: Schedule; close: Schedule } {
    const { length } = this.#bars;
    const open = new Schedule(length);
    const close = new Schedule(length);
    const first = this.firstBar;
    if (this.#listeners.start.length > 0)
      open.add(() => this.#emit("start", "signal", undefined), Int32Array.of(Math.min(first + 1, length)));
    if (this.#listeners.sessionOpen.length > 0) open.add(() => this.#emit("sessionOpen", "signal", undefined), sessionStarts(this.#bars));
    for (const action of this.clockActions) {
      const { atOpen, atClose } = clockHits(this.#bars, action.minutes);
      const run = (): void => this.runClockAction(action);
      if (atOpen.length > 0) open.add(run, atOpen);
      if (atClose.length > 0) close.add(run, atClose);
    }
    for (const { handler, condition } of this.#close) close.add(handler, condition ? hitsOf(flagsOf(condition)) : null);
    if (this.#listeners.sessionClose.length > 0)
      close.add(() => this.#emit("sessionClose", "session end", undefined), sessionEnds(this.#bars));
    return { open, close };
  }

  /** Live: the series has grown by one or more completed bars. */
  extend(bars: BarSeries): void {
    this.#bars = bars;
    this.#options.store.refresh(bars);
  }

  /** Live: runs the bar handlers that are due on the last completed bar. */
  runBarClose(): void {
    const last = this.cursor.index;
    for (const { handler, condition } of this.#close) if (!condition || bitsOf(flagsOf(condition))[last] === 1) handler();
  }

  runClockAction(action: ClockAction): void {
    this.#during("time", action.handler);
  }

  runEvent(name: "start" | "sessionOpen" | "sessionClose" | "end"): void {
    this.#emit(name, name === "sessionClose" ? "session end" : "signal", undefined);
  }

  // --- what the broker reports --------------------------------------------------------------------------------

  filled(fill: Fill): void {
    if (!this.#options.isLean) this.fills.push(fill);
    this.#emit("filled", "signal", fill);
  }

  closed(trade: Trade): void {
    this.trades.push(trade);
    this.#emit("closed", "signal", trade);
  }

  opened(lot: Lot): void {
    if (this.#listeners.opened.length === 0) return;
    const { side, quantity, entryPrice, order } = lot;
    this.#emit("opened", "signal", { side: side > 0 ? "long" : "short", quantity, entryPrice, tag: order.tag });
  }

  ended(order: Order): void {
    if (order.state === "cancelled") return;
    this.log("warning", `order ${order.id} ${order.state}: ${order.note}`);
    if (order.state === "refused") this.#emit("refused", "signal", { id: order.id, tag: order.tag, reason: order.note });
  }

  log(level: LogLevel, text: string): void {
    if (this.lines.length >= MOST_LOG_LINES) {
      this.dropped++;
      return;
    }
    this.lines.push({ barIndex: this.cursor.index, timeMs: this.cursor.timeMs, level, text });
  }

  // --- inside -------------------------------------------------------------------------------------------------

  #emit(name: EventName, phase: ExitReason, event: unknown): void {
    const listeners = this.#listeners[name];
    if (listeners.length === 0) return;
    const frozen = event === undefined ? undefined : Object.freeze({ ...(event as object) });
    for (const listener of listeners) this.#during(phase, () => listener(frozen));
  }

  #during(phase: ExitReason, action: () => void): void {
    const before = this.#phase;
    this.#phase = phase;
    try {
      action();
    } finally {
      this.#phase = before;
    }
  }

  #listen(name: EventName, handler: unknown): void {
    if (this.#scope.sealed) throw new PlanTesterError("plan-error", `on.${name}() in a handler: register handlers in build(), once.`);
    if (typeof handler !== "function")
      throw new PlanTesterError("plan-error", `on.${name}() takes a function; it got ${describe(handler)}.`);
    this.#listeners[name].push(handler as (event: unknown) => void);
  }

  #atBarClose(verb: string, condition: Condition | null, handler: unknown): void {
    if (this.#scope.sealed) throw new PlanTesterError("plan-error", `${verb} in a handler: register handlers in build(), once.`);
    if (typeof handler !== "function")
      throw new PlanTesterError("plan-error", `${verb} takes a function to run; it got ${describe(handler)}.`);
    this.#close.push({ handler: handler as Handler, condition });
  }

  #context(): unknown {
    const { instrument, store, broker, inputs, seed } = this.#options;
    const bars = this.#planBars(instrument, store);
    const lastClose = bars.close;
    const trading = makeTrading({
      broker,
      instrument,
      lastPrice: () => lastClose.now,
      barIndex: () => this.cursor.index,
      line: this.#options.sourceLine ?? (() => 0),
      closeReason: () => this.#phase,
      expiry: (timeInForce) => this.#expiry(timeInForce),
      log: (level, text) => this.log(level, text),
      sent: (order) => {
        if (!this.#options.isLean) this.orders.push(order);
      },
    });
    const random = new Random(seed);
    const when = (condition: unknown, handler: unknown): void => {
      if (!(condition instanceof Crossing))
        throw new PlanTesterError(
          "plan-error",
          condition instanceof Condition
            ? `when() takes a crossing, and "${condition}" is a state that may hold for many bars. Write when(becomes(…), …) for the bar on which it begins, or during(…) for every bar on which it holds.`
            : `when() takes a crossing such as crossesAbove(fast, slow); it got ${describe(condition)}.`,
        );
      this.#atBarClose("when()", condition, handler);
    };
    const during = (condition: unknown, handler: unknown): void => {
      if (!(condition instanceof Condition))
        throw new PlanTesterError("plan-error", `during() takes a condition such as isAbove(a, b); it got ${describe(condition)}.`);
      this.#atBarClose("during()", condition, handler);
    };
    const on = Object.freeze({
      ...Object.fromEntries(
        EVENTS.filter((name) => name !== "barClose").map((name) => [name, (handler: unknown) => this.#listen(name, handler)]),
      ),
      barClose: (handler: unknown) => this.#atBarClose("on.barClose()", null, handler),
      clock: (wallTime: string, handler: unknown) => {
        if (this.#scope.sealed) throw new PlanTesterError("plan-error", "on.clock() in a handler: register handlers in build(), once.");
        if (typeof handler !== "function")
          throw new PlanTesterError("plan-error", `on.clock() takes a function to run; it got ${describe(handler)}.`);
        this.clockActions.push({ minutes: minutesOfDay(wallTime), handler: handler as Handler });
      },
    });
    const log = (text: unknown, level: unknown = "info"): void =>
      this.log(level === "warning" || level === "notice" ? level : "info", String(text).slice(0, 500));
    const show = (column: unknown, options: { label?: unknown; pane?: unknown } = {}): void => {
      const shown = asColumn(column, "show()");
      if (this.#scope.sealed) throw new PlanTesterError("plan-error", "show() in a handler: show columns in build(), once.");
      if (this.shown.length >= 40)
        throw new PlanTesterError("plan-error", "show() was called more than 40 times: a chart can't carry more columns.");
      this.shown.push({
        label: typeof options.label === "string" ? options.label.slice(0, 60) : String(shown),
        pane: options.pane === "own" ? "own" : "price",
        column: shown,
      });
    };
    return Object.freeze({
      bars,
      inputs: Object.freeze({ ...inputs }),
      when,
      during,
      on,
      clock: this.#clock(),
      log,
      show,
      random: () => random.next(),
      ...trading,
    });
  }

  #planBars(instrument: Instrument, store: StudyStore): PlanBars {
    const column = (field: "open" | "high" | "low" | "close" | "volume"): Column =>
      new Column(
        this.#scope,
        store.number(field, (bars) => ({ values: bars[field], first: 0 })),
      );
    const { symbol, name, tickSize, pointValue, decimals } = instrument;
    const bars: PlanBars = Object.freeze({
      open: column("open"),
      high: column("high"),
      low: column("low"),
      close: column("close"),
      volume: column("volume"),
      instrument: Object.freeze({ symbol, name, tickSize, pointValue, decimals }),
      timeframe: store.bars.timeframe,
    });
    registerBars(bars, this.#scope);
    return bars;
  }

  /** Exchange wall time of now, in minutes after local midnight. */
  #minuteOfDay(): number {
    const { sessions } = this.#bars;
    const s = this.cursor.session;
    return (sessions.openMinute[s]! + Math.floor((this.cursor.timeMs - sessions.openMs[s]!) / MINUTE_MS)) % 1440;
  }

  #clock(): unknown {
    const cached = new Map<string, number>();
    const minutes = (wallTime: string): number => {
      let value = cached.get(wallTime);
      if (value === undefined) {
        value = minutesOfDay(wallTime);
        cached.set(wallTime, value);
      }
      return value;
    };
    const now = (): number => this.#minuteOfDay();
    const cursor = this.cursor;
    const sessionDate = (): string => this.#bars.sessions.dates[cursor.session]!;
    return Object.freeze({
      get timeMs() {
        return cursor.timeMs;
      },
      get minutes() {
        return now();
      },
      get sessionDate() {
        return sessionDate();
      },
      before: (wallTime: string) => now() < minutes(wallTime),
      atOrAfter: (wallTime: string) => now() >= minutes(wallTime),
      between: (from: string, to: string) => {
        const [start, end, minute] = [minutes(from), minutes(to), now()];
        return start <= end ? minute >= start && minute < end : minute >= start || minute < end;
      },
    });
  }

  #expiry(timeInForce: TimeInForce): { bar: number; time: number } {
    const never = Number.POSITIVE_INFINITY;
    const { index, timeMs, session } = this.cursor;
    const { sessions } = this.#bars;
    switch (timeInForce.until) {
      case "cancelled":
        return { bar: never, time: never };
      case "time":
        return { bar: never, time: timeInForce.timeMs };
      case "bars": {
        // Case: sent at a close, it can first fill on the next bar; sent at an open or inside a bar, on that bar.
        const firstFill = index + 1;
        return { bar: firstFill + timeInForce.bars, time: never };
      }
      case "session": {
        // Case: sent at a session's very close, it is meant for the next session.
        const s = timeMs >= sessions.closeMs[session]! ? session + 1 : session;
        return { bar: never, time: sessions.closeMs[s] ?? never };
      }
    }
  }
}

/** Bars that open a session; the first bar of the data is not one, since its session may have begun before. */
function sessionStarts(bars: BarSeries): Int32Array {
  const hits: number[] = [];
  for (let i = 1; i < bars.length; i++) if (bars.session[i] !== bars.session[i - 1]) hits.push(i);
  return Int32Array.from(hits);
}

/** Bars that close at their session's scheduled close. */
function sessionEnds(bars: BarSeries): Int32Array {
  const hits: number[] = [];
  for (let i = 0; i < bars.length; i++) if (bars.closeTime[i]! >= bars.sessions.closeMs[bars.session[i]!]!) hits.push(i);
  return Int32Array.from(hits);
}

/** UTC time at which a wall time falls inside a session. */
export function clockTimeIn(bars: BarSeries, session: number, minutes: number): number {
  const { openMs, openMinute } = bars.sessions;
  const after = minutes - openMinute[session]!;
  return openMs[session]! + (after < 0 ? after + 1440 : after) * MINUTE_MS;
}

/**
 * Where a clock action is due: at the open of the first bar of the session at or after the time; when the time falls
 * inside the session's last bar, at that bar's close. Depends on each bar and the calendar alone, never on later bars.
 */
function clockHits(bars: BarSeries, minutes: number): { atOpen: Int32Array; atClose: Int32Array } {
  const open: number[] = [];
  const close: number[] = [];
  const { session, sessions, time, closeTime, length } = bars;
  let done = -1;
  for (let i = 1; i < length; i++) {
    const s = session[i]!;
    if (done === s) continue;
    const due = clockTimeIn(bars, s, minutes);
    const sessionClose = sessions.closeMs[s]!;
    if (due >= sessionClose) done = s;
    else if (time[i]! >= due) {
      open.push(i);
      done = s;
    } else if (closeTime[i]! > due && closeTime[i]! >= sessionClose) {
      close.push(i);
      done = s;
    }
  }
  return { atOpen: Int32Array.from(open), atClose: Int32Array.from(close) };
}
