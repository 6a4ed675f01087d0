/**
 * Hosts one plan: gives its build function a context, keeps the handlers it registers, and runs them when the clock
 * says so. It serves the backtest (bars known, handlers scheduled ahead) and the live watch (bars arrive) alike.
 */

import { firstAfter } from "../engine/ascending.ts";
import type { FinerBars } from "../engine/feed.ts";
import type { FlatTime } from "../engine/kit.ts";
import type { BookListener, Lot } from "../engine/lots.ts";
import { type Fill, isOfAccount, type LogLevel, type LogLine, type Order, type TimeInForce, type Trade } from "../engine/orders.ts";
import type { EngineSettings } from "../engine/settings.ts";
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { wallTimeIn } from "../market/calendar.ts";
import type { Instrument } from "../market/instrument.ts";
import { nominalMs } from "../market/timeframe.ts";
import { Random } from "../random.ts";
import { type Broker, idleBroker } from "./broker.ts";
import { type ClockAction, ClockView, clockHits, clockText, dueTimeIn, sessionEnds, sessionStarts } from "./clock.ts";
import { alignedEntry, alignedFlags, type Column, type Condition, entryOf, flagsOf, scopeOf, scopeOfCondition } from "./columns.ts";
import { type Builder, PlanContext } from "./context.ts";
import type { Cursor } from "./cursor.ts";
import { type EventName, Events, fillEvent, lotEvent, orderEvent, tradeEvent } from "./events.ts";
import { readColumn, readCondition } from "./expression.ts";
import type { InputValue } from "./inputs.ts";
import { guardOf, type KitGuard, type KitMemory, type KitRun } from "./kit-guard.ts";
import { Market, PlanBars } from "./market.ts";
import { type Handler, Schedule } from "./schedule.ts";
import { newRunScope, newScope, type RunScope, type Scope, type StartSearch } from "./scope.ts";
import { bitsOf, hitsOf, refreshStores, type StudyStore } from "./study-store.ts";
import { Trading } from "./trading.ts";
import type { DeclaredPlan } from "./vocabulary.ts";

/** A column that the plan shows on the chart. */
export interface ShownColumn {
  readonly label: string;
  readonly pane: "price" | "own";
  /** Bars to the right of where a value is known at which a chart draws it. */
  readonly shift: number;
  readonly column: Column;
}

/** The same with its values, one for each bar. */
export type PlotColumn = Omit<ShownColumn, "column"> & { readonly values: Float64Array };

/** A text that the plan puts on the chart. */
export interface ChartNote {
  readonly barIndex: number;
  readonly timeMs: number;
  readonly price: number | null;
  readonly text: string;
}

/** A figure that the plan works out itself. */
export interface OwnFigure {
  readonly label: string;
  readonly value: number;
  readonly unit: string;
}

/** One instrument of a run; the first is the plan's own. */
export interface HostFeed {
  readonly instrument: Instrument;
  readonly store: StudyStore;
  readonly broker: Broker;
}

export interface HostOptions {
  readonly plan: DeclaredPlan;
  /** Makes an instance of the plan that has seen nothing: each computation of its own studies takes one. */
  readonly freshPlan?: () => DeclaredPlan;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly feeds: readonly HostFeed[];
  readonly settings: Pick<EngineSettings, "seed" | "kit" | "maxQuantity" | "testPosition">;
  /** Bars of the first instrument ahead of the period, for warm-up: handlers start with the period (R2.7). */
  readonly lead?: number;
  /** Whose orders these are where plans share an account. */
  readonly owner?: string;
  /** Line of the plan's source that is running, for orders; 0 where unknown. */
  readonly sourceLine?: () => number;
  /** What a kit's limits had counted on each instrument before a restart. */
  readonly kitMemory?: readonly KitMemory[] | null;
  /** Keeps trades, but neither orders nor fills: for sweeps. */
  readonly isLean?: boolean;
}

const ORDER_EVENTS: readonly EventName[] = ["accepted", "filled", "changed", "cancelled", "refused", "expired", "opened", "closed"];
const MOST_LOG_LINES = 10_000;
const MOST_NOTES = 5000;
const MOST_FIGURES = 60;
/** A run keeps every order; a plan that sends more than this has lost its guard. */
const MOST_ORDERS = 300_000;

interface CloseHandler {
  readonly feed: number;
  readonly handler: Handler;
  readonly condition: Condition | null;
}

/** When the handlers of a run are due: at opens, at those of finer bars inside a bar, at closes. */
export interface Schedules {
  readonly open: Schedule;
  readonly fine: Schedule;
  readonly close: Schedule;
}

/** When a kit closes a side, without what it does then. An order for the close itself is sent in the last minute. */
const flatAction = ({ minutes, of }: FlatTime): Omit<ClockAction, "handler"> => ({
  by: "before close",
  minutes: Math.max(1, minutes),
  weekday: null,
  lastOfWeek: of === "week",
});

/** The flat time in the session of the bar that is to come, or under way; due NaN where that has none. */
function comingFlat(flat: FlatTime, { store: { bars }, cursor }: Scope) {
  const next = cursor.index + 1;
  // Case: on a watch the bar under way is not there yet. It is taken to be in the session of the last one.
  const isKnown = next < bars.length;
  const session = bars.session[isKnown ? next : bars.length - 1]!;
  return { next, isKnown, session, due: dueTimeIn(bars, session, { ...flatAction(flat), handler: () => undefined }) };
}

/** The bar that is to come, or under way, opens at or after a flat time or is its session's last. */
function isPastFlat(flat: FlatTime, scope: Scope): boolean {
  const { bars } = scope.store;
  const { cursor } = scope;
  const { next, isKnown, session, due } = comingFlat(flat, scope);
  if (Number.isNaN(due)) return false;
  const closeMs = bars.sessions.closeMs[session]!;
  if (!isKnown) return cursor.timeMs >= due && cursor.timeMs < closeMs;
  return Math.max(bars.time[next]!, cursor.timeMs) >= due || bars.closeTime[next]! >= closeMs;
}

export class PlanHost implements Builder {
  readonly lines: LogLine[] = [];
  readonly notes: ChartNote[] = [];
  /** By label. */
  readonly ownFigures = new Map<string, OwnFigure>();
  readonly shown: ShownColumn[] = [];
  readonly fills: Fill[] = [];
  readonly trades: Trade[] = [];
  readonly orders: Order[] = [];
  readonly clockActions: ClockAction[] = [];
  /** Lines that were not kept because the log was full. */
  dropped = 0;
  /** The bar of the first instrument at whose open, inside which or at whose close the run stands. */
  barNow = 0;
  readonly markets: Market[] = [];
  readonly events: Events;
  readonly clock: ClockView;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly random: Random;

  readonly #options: HostOptions;
  readonly #run: RunScope;
  readonly #bases: Scope[] = [];
  readonly #guards: (KitGuard | null)[] = [];
  /** How a side of each instrument is closed for the kit, and when for those that do not keep the first one's sessions. */
  readonly #flatten: Trading["flatten"][] = [];
  readonly #flatTimes: { readonly feed: number; readonly action: ClockAction }[] = [];
  readonly #close: CloseHandler[] = [];

  /** @param search set by the host itself, where it builds a fresh instance only for the start of one study. */
  constructor(options: HostOptions, search: StartSearch | null = null) {
    this.#options = options;
    const { freshPlan } = options;
    this.#run = newRunScope({ freshStart: freshPlan ? (index) => this.#freshStart(index, freshPlan) : null, search });
    this.inputs = options.inputs;
    this.events = new Events(this.#run);
    options.feeds.forEach((feed, k) => {
      this.#openMarket(feed, k);
    });
    this.clock = new ClockView(() => this.#bases[0]!.store.bars, this.cursor);
    this.random = new Random(options.settings.seed);
    const result = options.plan.build(new PlanContext(this));
    if (result instanceof Promise)
      throw new PlanTesterError("bad-plan", "build() is asynchronous. A plan can't wait for anything: make build a plain function.");
    this.#run.sealed = true;
  }

  /** Where the run stands in the bars of its first instrument. */
  get cursor(): Cursor {
    return this.#bases[0]!.cursor;
  }

  get bars(): PlanBars {
    return this.markets[0]!.bars;
  }

  #freshStart(index: number, freshPlan: () => DeclaredPlan): unknown {
    const { search: outer, names } = this.#run.own;
    const search: StartSearch = { index, names, start: null };
    const feeds = this.#options.feeds.map((feed) => ({ ...feed, broker: idleBroker(feed.broker) }));
    let failure: unknown = null;
    // Case: a search that has to compute is a build that declares other studies than the one before.
    if (!outer)
      try {
        new PlanHost({ ...this.#options, plan: freshPlan(), feeds }, search);
      } catch (error) {
        failure = error;
      }
    if (search.start) return search.start;
    throw (
      failure ??
      new PlanTesterError("plan-error", "build() declares other studies each time it runs. Let it depend on bars and inputs alone.")
    );
  }

  /** What the limits of its kit have counted, one for each instrument; null where it has no kit. */
  get kitMemory(): readonly KitMemory[] | null {
    return this.#guards[0] ? this.#guards.map((guard) => guard!.memory) : null;
  }

  get wantsPrice(): boolean {
    return this.events.has("price");
  }

  /** Whether nobody but the list of trades wants to hear of orders, fills and lots. */
  get hearsOnlyTrades(): boolean {
    return (
      this.#options.isLean === true && this.#guards.every((guard) => guard === null) && !ORDER_EVENTS.some((name) => this.events.has(name))
    );
  }

  #openMarket({ instrument, store, broker }: HostFeed, k: number): void {
    const { settings, owner, sourceLine, isLean } = this.#options;
    const scope = newScope(this.#run, k === 0 ? "" : instrument.symbol, store, null);
    this.#bases.push(scope);
    const bars = new PlanBars(scope, instrument);
    const trading = new Trading({
      broker,
      instrument,
      owner: owner ?? "",
      maxQuantity: settings.maxQuantity,
      kit: settings.kit ? this.#guard(k, scope, bars, broker, settings) : null,
      lastPrice: () => scope.store.bars.close[scope.cursor.index]!,
      barIndex: () => scope.cursor.index,
      line: sourceLine ?? noLine,
      isBuilding: () => !this.#run.sealed,
      closeReason: () => this.events.phase,
      expiry: (timeInForce) => expiryOf(timeInForce, scope, broker),
      endOf: (wallTime) => endOf(wallTime, scope),
      log: (level, text) => this.log(level, text),
      sent: (order) => {
        if (isLean) return;
        if (this.orders.length >= MOST_ORDERS)
          throw new PlanTesterError(
            "plan-error",
            `The plan has sent ${MOST_ORDERS} orders and has no guard against repeated entries. Ask position.flat before an entry.`,
          );
        this.orders.push(order);
      },
    });
    this.markets.push(new Market(bars, trading, (handler) => this.#atClose(`markets[${k}].onBarClose()`, k, null, handler)));
    const guard = trading.run.kit;
    if (!guard) return;
    this.#flatten.push((side, atClose, tag) => trading.flatten(side, atClose, tag));
    for (const side of [1, -1] as const) {
      const flat = guard.flatTime(side);
      if (!flat) continue;
      const action: ClockAction = { ...flatAction(flat), handler: () => guard.flatten(side) };
      if (k === 0) this.clockActions.push(action);
      else this.#flatTimes.push({ feed: k, action });
    }
  }

  #guard(k: number, scope: Scope, bars: PlanBars, broker: Broker, settings: HostOptions["settings"]): KitGuard | null {
    const clock = new ClockView(() => scope.store.bars, scope.cursor);
    const run: KitRun = {
      column: (text) => readColumn(text, bars),
      condition: (text) => readCondition(text, bars),
      nextBar: () => scope.cursor.index + 1,
      sessionMs: () => scope.store.bars.sessions.openMs[scope.cursor.session]!,
      barAt: (timeMs) => firstAfter(scope.store.bars.closeTime, timeMs, 0, scope.store.bars.length),
      minuteOfDay: () => clock.minutes,
      barsSinceOpen: () => barsInSession(scope),
      isFlat: () => broker.units === 0,
      waitingEntries: () => broker.workingOrders().filter(({ kind, intent }) => kind === "market" && intent !== "exit").length,
      isPast: (flat) => isPastFlat(flat, scope),
      ends: (flat) => !Number.isNaN(comingFlat(flat, scope).due),
      equity: () => broker.equity,
      note: (text) => this.log("notice", text),
      flatten: (side, atClose, tag) => this.#flatten[k]!(side, atClose, tag),
      cancelEntries: (which) => {
        for (const order of broker.workingOrders())
          if (order.intent !== "exit" && (which === "all" || order.kind !== "market")) broker.cancel(order);
      },
    };
    const guard = guardOf(settings, run, this.#options.kitMemory?.[k] ?? null);
    this.#guards.push(guard);
    return guard;
  }

  /** The first bar of each instrument on which every declared study has a full value (R7.3). */
  get firstBars(): readonly number[] {
    const single = this.#run.scopes.length === 1;
    const { lead = 0 } = this.#options;
    if (single) return [Math.max(lead, this.#run.scopes[0]!.warmUp)];
    let startMs = lead > 0 ? this.#bases[0]!.store.bars.closeTime[lead]! : Number.NEGATIVE_INFINITY;
    for (const { store, warmUp } of this.#run.scopes)
      startMs = Math.max(startMs, warmUp < store.bars.length ? store.bars.closeTime[warmUp]! : Number.POSITIVE_INFINITY);
    return this.#bases.map(({ store }) => {
      const { closeTime, length } = store.bars;
      let i = 0;
      while (i < length && closeTime[i]! < startMs) i++;
      return i;
    });
  }

  /** The first bar of the first instrument at whose open handlers may run: the period's first where everything was warm before it. */
  get firstOpen(): number {
    const { lead = 0 } = this.#options;
    const isWarm =
      lead > 0 &&
      this.#run.scopes.every(({ store, warmUp }) => (store.bars.closeTime[warmUp] ?? Number.POSITIVE_INFINITY) <= this.#startMs);
    return isWarm ? lead : this.firstBars[0]! + 1;
  }

  /** When the period begins, UTC milliseconds. */
  get #startMs(): number {
    return this.#bases[0]!.store.bars.time[this.#options.lead ?? 0]!;
  }

  /** Timeframes in which a declared study never has a full value: bars that it needs, and bars that there are. */
  get neverFull(): { timeframe: string; needed: number; bars: number }[] {
    return this.#run.scopes
      .filter(({ store, warmUp }) => warmUp >= store.bars.length && store.bars.length > 0)
      .map(({ store, warmUp }) => ({ timeframe: store.bars.timeframe, needed: warmUp + 1, bars: store.bars.length }));
  }

  /** The handlers of a backtest for one instrument, laid out over its series. Timed actions and sessions are those of the first. */
  schedules(k: number, finer: FinerBars | null): Schedules {
    const bars = this.#bases[k]!.store.bars;
    const { length } = bars;
    const close = new Schedule(length);
    const schedules = { open: new Schedule(length), fine: new Schedule(finer?.series.length ?? 0), close };
    if (k === 0) this.#scheduleTimes(schedules, bars, finer);
    const guard = this.#guards[k];
    if (guard?.watchesEquity) close.add(() => guard.marked(), null);
    for (const { feed, action } of this.#flatTimes) if (feed === k) this.#scheduleClock(schedules, bars, finer, action);
    for (const { feed, handler, condition } of this.#close) if (feed === k) close.add(handler, condition ? this.#hitsOf(condition) : null);
    if (k === 0 && this.events.has("sessionClose")) close.add(() => this.runEvent("sessionClose"), sessionEnds(bars));
    return schedules;
  }

  #scheduleTimes(schedules: Schedules, bars: BarSeries, finer: FinerBars | null): void {
    const { open } = schedules;
    const first = this.firstOpen;
    const { testPosition } = this.#options.settings;
    if (this.events.has("start")) open.add(() => this.runEvent("start"), Int32Array.of(Math.min(first, bars.length)));
    if (testPosition) open.add(() => this.openTestPosition(), Int32Array.of(Math.min(first + Math.max(0, testPosition.bar), bars.length)));
    if (this.events.has("sessionOpen")) open.add(() => this.runEvent("sessionOpen"), sessionStarts(bars));
    for (const action of this.clockActions) this.#scheduleClock(schedules, bars, finer, action);
  }

  #scheduleClock({ open, fine }: Schedules, bars: BarSeries, finer: FinerBars | null, action: ClockAction): void {
    const hits = clockHits(bars, action, finer);
    if (hits.late.length > 0)
      open.add(() => this.log("notice", `a session had no bars left when ${clockText(action)} came: done at the next open`), hits.late);
    if (hits.bars.length > 0) open.add(() => this.runClockAction(action), hits.bars);
    if (hits.fine.length > 0) fine.add(() => this.runClockAction(action), hits.fine);
  }

  /** Bars of the condition's instrument at whose close it is due. */
  #hitsOf(condition: Condition): Int32Array {
    const scope = scopeOfCondition(condition);
    const hits = hitsOf(flagsOf(condition));
    if (!scope.base) return hits;
    // Case: a higher timeframe. It acts on the bar at whose close the longer bar is completed.
    const map = scope.base.store.alignment(scope.store);
    const found: number[] = [];
    const n = map.length;
    const due = bitsOf(flagsOf(condition));
    for (let i = 0; i < n; i++) if (map[i]! >= 0 && (i === 0 || map[i] !== map[i - 1]) && due[map[i]!] === 1) found.push(i);
    return Int32Array.from(found);
  }

  /** Puts the run at a moment: every column then shows its last completed bar. `done` is that bar of the first instrument. */
  place(done: number, timeMs: number, sessionBar: number): void {
    this.barNow = sessionBar;
    this.#bases[0]!.cursor.place(done, timeMs, sessionBar);
    const { scopes } = this.#run;
    if (scopes.length > 1) this.#placeOthers(timeMs);
  }

  /** At the close of a bar of the first instrument. */
  placeAtClose(index: number): void {
    const { cursor } = this.#bases[0]!;
    this.barNow = index;
    cursor.placeAtClose(index);
    if (this.#run.scopes.length > 1) this.#placeOthers(cursor.timeMs);
  }

  #placeOthers(timeMs: number): void {
    const { scopes } = this.#run;
    const main = this.#bases[0]!;
    for (let k = 1; k < scopes.length; k++) {
      const { base, map, cursor, store } = scopes[k]!;
      cursor.timeMs = timeMs;
      if (base) {
        cursor.index = base.cursor.index < 0 ? -1 : (map ?? base.store.alignment(store))[base.cursor.index]!;
        continue;
      }
      const { closeTime, length } = store.bars;
      // Instruments with the same hours share their times: the first has been looked up.
      let i =
        closeTime === main.store.bars.closeTime ? main.cursor.index : firstAfter(closeTime, timeMs, Math.max(0, cursor.index), length) - 1;
      while (i >= 0 && closeTime[i]! > timeMs) i--;
      cursor.place(i, timeMs, Math.max(0, i));
      if (i >= 0 && closeTime[i] !== timeMs) cursor.session = sessionAfter(store.bars, i, timeMs);
    }
  }

  // --- bars that come one by one ----------------------------------------------------------------------------------

  /** Instruments and timeframes whose bars the plan looks at: the base of each, and its longer timeframes. */
  get timeframes(): readonly (readonly string[])[] {
    return this.#bases.map(({ store }) => [...store.higherStores.keys()]);
  }

  /** Bars of the run's timeframe that matter to its studies; Infinity where all do. */
  get barsNeeded(): number {
    let most = 1;
    for (const { store, base } of this.#run.scopes) {
      const per = base ? Math.ceil(nominalMs(store.bars.timeframe) / nominalMs(base.store.bars.timeframe)) : 1;
      most = Math.max(most, (store.settle + 1) * per);
    }
    return most;
  }

  /** Bars have been completed. @param grown for each instrument its own bars and those of its longer timeframes */
  grow(grown: readonly { readonly bars: BarSeries; readonly higher: ReadonlyMap<string, BarSeries> }[]): void {
    refreshStores(
      grown.flatMap(({ bars, higher }, k) => {
        const { store } = this.#bases[k]!;
        return [{ store, bars }, ...[...higher].map(([timeframe, series]) => ({ store: store.higher(timeframe), bars: series }))];
      }),
    );
    for (const scope of this.#run.scopes) {
      if (scope.base) scope.map = scope.base.store.alignment(scope.store);
      // What waits for its first event, such as the value when something last held, is full once that has come.
      scope.warmUp = scope.store.firstFull;
    }
  }

  /** What the plan shows, on the bars of its first instrument. */
  shownColumns(): PlotColumn[] {
    const main = this.#bases[0]!;
    return this.shown.map(({ label, pane, shift, column }) => {
      const { values } = alignedEntry(main, scopeOf(column), entryOf(column));
      return { label, pane, shift, values };
    });
  }

  /** Conditions that handlers of its first instrument wait for, in words, with a 1 at each bar on which one holds. */
  awaited(): { readonly label: string; readonly bits: Uint8Array }[] {
    const main = this.#bases[0]!;
    return this.#close.flatMap(({ feed, condition }) =>
      feed === 0 && condition ? [{ label: String(condition), bits: bitsOf(alignedFlags(main, condition)) }] : [],
    );
  }

  /** Runs what is due at the close of a bar of an instrument. */
  runClose(k: number, bar: number): void {
    if (!this.#isWarm[k]) {
      if (bar < this.firstBars[k]!) return;
      this.#isWarm[k] = true;
    }
    this.#guards[k]?.marked();
    for (const { feed, handler, condition } of this.#close) if (feed === k && (!condition || holdsAt(condition, bar))) handler();
    if (k !== 0 || !this.events.has("sessionClose")) return;
    const { closeTime, session, sessions } = this.#bases[0]!.store.bars;
    if (closeTime[bar]! >= sessions.closeMs[session[bar]!]!) this.runEvent("sessionClose");
  }

  readonly #isWarm: boolean[] = [];

  /** What is due at times of the clock on an instrument, in the order in which it was asked for. */
  actionsOf(k: number): readonly ClockAction[] {
    const flats = this.#flatTimes.filter(({ feed }) => feed === k).map(({ action }) => action);
    return k === 0 ? [...this.clockActions, ...flats] : flats;
  }

  get testPosition(): EngineSettings["testPosition"] {
    return this.#options.settings.testPosition;
  }

  /** Hands over what has come together since it was last called. */
  drain(): Pick<PlanHost, "lines" | "notes" | "fills" | "trades" | "orders"> {
    const { lines, notes, fills, trades, orders } = this;
    return { lines: lines.splice(0), notes: notes.splice(0), fills: fills.splice(0), trades: trades.splice(0), orders: orders.splice(0) };
  }

  runClockAction(action: ClockAction): void {
    this.events.during(action.by === "before close" ? "session end" : "time", action.handler);
  }

  runEvent(name: "start" | "sessionOpen" | "sessionClose" | "end"): void {
    this.events.emit(name, "signal", () => undefined);
  }

  /** A position that waits for no entry (N83): what the plan does once one is open can then be seen. */
  openTestPosition(): void {
    const { side, units } = this.#options.settings.testPosition!;
    const enter = this.markets[0]!.enter as Record<"long" | "short", (options: unknown) => unknown>;
    enter[side > 0 ? "long" : "short"]({ size: { by: "units", value: units }, tag: "test position" });
  }

  /** Price inside the bar that is forming on one instrument. */
  price(k: number, price: number): void {
    this.events.emit("price", "signal", () => ({ symbol: this.markets[k]!.symbol, price }));
  }

  scopeOfFeed(k: number): Scope {
    return this.#bases[k]!;
  }

  // --- what the broker reports --------------------------------------------------------------------------------

  /** The listener of one instrument's book. */
  listener(k: number): BookListener {
    const { symbol } = this.#options.feeds[k]!.instrument;
    return {
      accepted: (order) => this.accepted(order, symbol),
      filled: (fill) => this.filled(fill, symbol),
      closed: (trade) => this.closed(trade, k),
      opened: (lot) => this.opened(lot, symbol, k),
      ended: (order) => this.ended(order, symbol),
      limited: ({ text }) => this.log("warning", text),
      log: (level, text) => this.log(level, text),
    };
  }

  accepted(order: Order, symbol: string): void {
    // What the account itself sends is an order of the run as well.
    if (!this.#options.isLean && isOfAccount(order.reason)) this.orders.push(order);
    if (this.events.has("accepted")) this.events.emit("accepted", "signal", () => orderEvent(order, symbol));
  }

  filled(fill: Fill, symbol: string): void {
    if (!this.#options.isLean) this.fills.push(fill);
    if (this.events.has("filled")) this.events.emit("filled", "signal", () => fillEvent(fill, symbol));
    if (this.events.has("changed")) this.events.emit("changed", "signal", () => fillEvent(fill, symbol));
  }

  closed(trade: Trade, k = 0): void {
    this.trades.push(trade);
    this.#guards[k]?.closed(trade);
    if (this.events.has("closed")) this.events.emit("closed", "signal", () => tradeEvent(trade));
  }

  opened(lot: Lot, symbol: string, k = 0): void {
    this.#guards[k]?.opened();
    if (this.events.has("opened")) this.events.emit("opened", "signal", () => lotEvent(lot, symbol));
  }

  ended(order: Order, symbol: string): void {
    if (order.state !== "cancelled") this.log("warning", `order ${order.id} ${order.state}: ${order.note}`);
    this.events.emit(order.state as "cancelled" | "refused" | "expired", "signal", () => orderEvent(order, symbol));
  }

  log(level: LogLevel, text: string): void {
    if (this.lines.length >= MOST_LOG_LINES) {
      this.dropped++;
      return;
    }
    this.lines.push({ barIndex: this.cursor.index, timeMs: this.cursor.timeMs, level, text });
  }

  /** A figure of the plan's own: the last value under a label counts. */
  setFigure(label: string, value: number, unit: string): void {
    if (this.ownFigures.size < MOST_FIGURES || this.ownFigures.has(label)) this.ownFigures.set(label, { label, value, unit });
  }

  // --- what the context asks for --------------------------------------------------------------------------------

  addNote(text: string, price: number | null): void {
    if (this.notes.length >= MOST_NOTES) return;
    this.notes.push({ barIndex: this.cursor.index, timeMs: this.cursor.timeMs, price, text });
  }

  get run(): RunScope {
    return this.#run;
  }

  addCloseHandler(verb: string, condition: Condition | null, handler: unknown): void {
    const scope = condition ? scopeOfCondition(condition) : this.#bases[0]!;
    this.#atClose(verb, this.#bases.indexOf(scope.base ?? scope), condition, handler);
  }

  #atClose(verb: string, feed: number, condition: Condition | null, handler: unknown): void {
    if (this.#run.sealed) throw new PlanTesterError("plan-error", `${verb} in a handler: register handlers in build(), once.`);
    if (typeof handler !== "function")
      throw new PlanTesterError("plan-error", `${verb} takes a function to run; it got ${typeof handler}.`);
    this.#close.push({ feed, handler: handler as Handler, condition });
  }
}

const noLine = (): number => 0;

/** Whether a condition is due on a bar of its instrument; of a longer timeframe, on the bar at whose close one is completed. */
function holdsAt(condition: Condition, bar: number): boolean {
  const { base, store } = scopeOfCondition(condition);
  const bits = bitsOf(flagsOf(condition));
  if (!base) return bits[bar] === 1;
  const map = base.store.alignment(store);
  const at = map[bar]!;
  return at >= 0 && (bar === 0 || at !== map[bar - 1]) && bits[at] === 1;
}

function barsInSession({ store, cursor }: Scope): number {
  const { session } = store.bars;
  let count = 0;
  for (let i = cursor.index; i >= 0 && session[i] === cursor.session; i--) count++;
  return count;
}

/** The session of a time past bar i, by the calendar: whether there will be a bar in it can't be known. */
function sessionAfter({ session, sessions: { closeMs } }: BarSeries, i: number, timeMs: number): number {
  let s = session[i]!;
  while (closeMs[s]! <= timeMs && s + 1 < closeMs.length) s++;
  return s;
}

/** UTC time of an exchange time in the session of now. */
function endOf(wallTime: string, { store, cursor }: Scope): number {
  const match = /^(\d{1,2}):(\d{2})$/.exec(wallTime);
  if (!match) throw new PlanTesterError("plan-error", `goodFor: "${wallTime}" is not a time of day. Write it as HH:MM.`);
  return wallTimeIn(store.bars.sessions, cursor.session, Number(match[1]) * 60 + Number(match[2]));
}

function expiryOf(timeInForce: TimeInForce, { store, cursor }: Scope, broker: Broker): { bar: number; time: number } {
  const never = Number.POSITIVE_INFINITY;
  const { sessions } = store.bars;
  switch (timeInForce.until) {
    case "cancelled":
      return { bar: never, time: never };
    case "time":
      return { bar: never, time: timeInForce.timeMs };
    case "bars":
      // Sent at a close, it can first fill on the next bar; sent at an open or inside a bar, on that bar.
      return { bar: (broker.firstFillBar?.() ?? cursor.index + 1) + timeInForce.bars, time: never };
    case "session": {
      // Case: sent at a session's very close, it is meant for the next session.
      const s = cursor.timeMs >= sessions.closeMs[cursor.session]! ? cursor.session + 1 : cursor.session;
      return { bar: never, time: sessions.closeMs[s] ?? never };
    }
  }
}
