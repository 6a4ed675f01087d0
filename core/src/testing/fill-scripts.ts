/** Scripts of orders that the engine and its slow twin both carry out, and what random ones are made of. */
import fc from "fast-check";
import type { Account } from "../engine/account.ts";
import { Book } from "../engine/book.ts";
import type { Distance, Fill, Order, Trade } from "../engine/orders.ts";
import type { EngineSettings } from "../engine/settings.ts";
import { type BarSeries, makeSeries } from "../market/bars.ts";
import type { SessionCalendar } from "../market/calendar.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { INSTRUMENT, START } from "./bars.ts";
import { PER_TICK, type SlowBar, type SlowDistance, SlowEngine, type SlowRequest } from "./slow-engine.ts";

export const TICK = INSTRUMENT.tickSize;
export const EIGHTH = TICK / PER_TICK;

export type Action =
  | { readonly do: "submit"; readonly request: SlowRequest }
  | { readonly do: "cancel"; readonly order: number }
  | { readonly do: "modify"; readonly order: number; readonly price: number }
  | { readonly do: "resize"; readonly order: number; readonly quantity: number }
  | { readonly do: "exit"; readonly which: "stop" | "target"; readonly price: number; readonly mayLoosen: boolean };

export interface ScriptSettings {
  readonly spreadTicks: number;
  readonly slippageTicks: number;
  readonly throughTicks: number;
  readonly basis: "last" | "bid" | "ask";
  readonly path: "assumed" | "adverse" | "finer";
  readonly positions: "netting" | "independent";
  readonly commissionPerUnit: number;
  readonly commissionMinimum: number;
}

export const PLAIN: SlowRequest = {
  side: 1,
  kind: "market",
  price: 0,
  limit: 0,
  quantity: 1,
  intent: "enter",
  tag: "",
  onlyTag: "",
  group: "",
  goodFor: null,
  stopLoss: null,
  target: null,
  trail: null,
  locks: [],
  timeLimit: null,
  atClose: false,
};

export type Ticks = readonly [number, number, number, number];
/** Sessions of four bars of five minutes each day. */
export const SESSION_MINUTES = 20;
const SHORT_DAYS: SessionCalendar = {
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5, 6, 7].map((day) => ({ day, open: "09:00", close: "09:20" })),
  holidays: [],
  earlyCloses: [],
  sessionsPerYear: 365,
};
/** When the first of these sessions opens. */
export const FIRST_OPEN = START + 9 * 3_600_000;

export const coarse = (fine: readonly Ticks[]): Ticks => [
  fine[0]![0],
  Math.max(...fine.map((bar) => bar[1])),
  Math.min(...fine.map((bar) => bar[2])),
  fine.at(-1)![3],
];

/** An engine without cash: what it has at the end is what it has made. */
export function slowEngine(settings: ScriptSettings, cash: number): SlowEngine {
  return new SlowEngine(
    {
      spread: settings.spreadTicks * PER_TICK,
      basis: settings.basis,
      slip: settings.slippageTicks * PER_TICK,
      through: settings.throughTicks * PER_TICK,
      path: settings.path,
      positions: settings.positions,
      money: EIGHTH * INSTRUMENT.pointValue,
      commissionPerUnit: settings.commissionPerUnit,
      commissionMinimum: settings.commissionMinimum,
    },
    cash,
  );
}

export const eighths = (bar: Ticks): SlowBar => bar.map((price) => price * PER_TICK) as unknown as SlowBar;

export function actSlowly(engine: SlowEngine, action: Action): void {
  if (action.do === "submit")
    engine.submit({ ...action.request, price: action.request.price * PER_TICK, limit: action.request.limit * PER_TICK });
  else if (action.do === "cancel") engine.cancel(action.order);
  else if (action.do === "modify") engine.modify(action.order, action.price * PER_TICK);
  else if (action.do === "resize") engine.resize(action.order, action.quantity);
  else engine.setExit(action.which, action.price * PER_TICK, action.mayLoosen);
}

/** What an engine did, in price units. */
export const toldSlowly = (engine: SlowEngine) => ({
  fills: engine.fills.map(({ price, ...fill }) => ({ ...fill, price: price * EIGHTH })),
  trades: engine.trades.map(({ entry, exit, ...trade }) => ({ ...trade, entry: entry * EIGHTH, exit: exit * EIGHTH })),
  orders: engine.orders.map(({ id, state, quantity, kind, price }) => ({
    id,
    state,
    quantity,
    price: kind === "market" ? null : price * EIGHTH,
  })),
});

export const engineSettingsOf = ({
  commissionPerUnit,
  commissionMinimum,
  spreadTicks,
  slippageTicks,
  ...rest
}: ScriptSettings): Partial<EngineSettings> => ({
  ...rest,
  costs: { ...NO_COSTS, commissionPerUnit, commissionMinimum, spreadTicks, slippageTicks },
});

export function seriesOfTicks(rows: readonly Ticks[], times: readonly number[], timeframe: string): BarSeries {
  const column = (field: number): Float64Array => Float64Array.from(rows, (row) => row[field]! * TICK);
  return makeSeries(
    {
      time: Float64Array.from(times),
      ...{ open: column(0), high: column(1), low: column(2), close: column(3) },
      volume: Float64Array.from(rows, () => 1),
    },
    timeframe,
    SHORT_DAYS,
  );
}

const distance = (given: SlowDistance): Distance => given;
const ticks = (value: number): Distance => ({ unit: "ticks", value });

/** The real book of one instrument, with what happened on it. */
export class ScriptBook {
  readonly book: Book;
  readonly fills: Fill[] = [];
  readonly trades: Trade[] = [];
  readonly orders: Order[] = [];
  onFill: (() => void) | null = null;

  constructor(account: Account) {
    this.book = new Book(INSTRUMENT, account, {
      filled: (fill) => {
        this.fills.push(fill);
        this.onFill?.();
      },
      closed: (trade) => this.trades.push(trade),
      opened() {},
      ended() {},
      log() {},
    });
  }

  /** @param nextBar the bar on which an order that is sent now can first fill. */
  act(action: Action, nextBar: () => number): void {
    const { book, orders } = this;
    if (action.do === "submit") {
      const { price, limit, goodFor, stopLoss, target, trail, locks, timeLimit, ...request } = action.request;
      const moves =
        trail || locks.length > 0 || timeLimit
          ? {
              trail: trail && {
                distance: ticks(trail.distance),
                after: trail.after === null ? null : ticks(trail.after),
                step: trail.step === null ? null : ticks(trail.step),
              },
              locks: locks.map(({ after, keep, reason }) => ({
                after: distance(after),
                keep: { unit: "ticks" as const, value: keep },
                reason,
              })),
              timeLimit: timeLimit === null ? null : { bars: timeLimit },
            }
          : null;
      const sent = {
        ...request,
        price: price * TICK,
        limitPrice: limit * TICK,
        stopLoss: stopLoss === null ? null : ticks(stopLoss),
        target: target && distance(target),
        moves,
        timeInForce: { until: "cancelled" as const },
        owner: "",
        line: 0,
        reason: "signal" as const,
      };
      const expiresBar = goodFor === null ? Number.POSITIVE_INFINITY : nextBar() + goodFor;
      orders.push(book.submit(sent, expiresBar, Number.POSITIVE_INFINITY));
      return;
    }
    if (action.do === "exit") {
      book.setExits(action.which, action.price * TICK, action.mayLoosen);
      return;
    }
    const order = orders[action.order - 1];
    if (!order) return;
    if (action.do === "cancel") book.cancel(order);
    else if (action.do === "modify") book.modify(order, action.price * TICK);
    else book.modify(order, undefined, action.quantity);
  }

  /** As the slow twin tells it; orders by their place among those of this book. */
  told() {
    const place = new Map(this.orders.map(({ id }, i) => [id, i + 1]));
    return {
      fills: this.fills.map(({ orderId, source, side, quantity, price, barIndex }) => ({
        ...{ orderId: place.get(orderId), source, side, quantity, bar: barIndex, price },
      })),
      trades: this.trades.map((trade) => ({
        orderId: place.get(trade.orderId),
        side: trade.side,
        quantity: trade.quantity,
        entryBar: trade.entryBar,
        exitBar: trade.exitBar,
        reason: trade.reason,
        net: trade.net,
        mae: trade.mae,
        mfe: trade.mfe,
        dependent: trade.pathDependent,
        entry: trade.entryPrice,
        exit: trade.exitPrice,
      })),
      orders: this.orders.map(({ id, state, quantity, price }) => ({
        ...{ id: place.get(id), state, quantity, price: Number.isNaN(price) ? null : price },
      })),
    };
  }
}

/** Trades with money freed of rounding noise. */
export const plainTrades = <T extends { net: number; mae: number; mfe: number }>(list: readonly T[]) =>
  list.map(({ net, mae, mfe, ...trade }) => ({ ...trade, money: [net, mae, mfe].map((value) => Math.round(value * 1e6) / 1e6 + 0) }));

// --- what random scripts are made of ---------------------------------------------------------------------------------

const around = fc.integer({ min: 380, max: 420 });
const few = fc.integer({ min: 1, max: 12 });
const R: fc.Arbitrary<SlowDistance> = fc.record({
  unit: fc.constant("R" as const),
  value: fc.integer({ min: 1, max: 6 }).map((n) => n / 2),
});
const inTicks: fc.Arbitrary<SlowDistance> = fc.record({ unit: fc.constant("ticks" as const), value: few });
const maybe = <T>(value: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(value, { nil: null, freq: 2 });

const request: fc.Arbitrary<SlowRequest> = fc
  .record({
    side: fc.constantFrom(1 as const, -1 as const),
    kind: fc.constantFrom("market" as const, "stop" as const, "limit" as const, "stop-limit" as const),
    price: around,
    limit: around,
    quantity: fc.integer({ min: 1, max: 4 }),
    intent: fc.constantFrom("enter" as const, "enter" as const, "enter" as const, "exit" as const, "reverse" as const),
    tag: fc.constantFrom("", "a", "b"),
    onlyTag: fc.constantFrom("", "", "a"),
    group: fc.constantFrom("", "", "g", "h"),
    goodFor: maybe(fc.integer({ min: 1, max: 4 })),
    stopLoss: maybe(few),
    target: maybe(fc.oneof(inTicks, R)),
    trail: maybe(fc.record({ distance: few, after: maybe(few), step: maybe(fc.integer({ min: 1, max: 4 })) })),
    locks: fc.array(
      fc.record({
        after: fc.oneof(inTicks, R),
        keep: fc.integer({ min: -4, max: 6 }),
        reason: fc.constantFrom("break-even" as const, "lock" as const),
      }),
      { maxLength: 3 },
    ),
    timeLimit: maybe(fc.integer({ min: 1, max: 5 })),
    atClose: fc.constantFrom(false, false, true),
  })
  .map((given) => {
    const hasRisk = given.stopLoss !== null;
    const plain = (d: SlowDistance): SlowDistance => (hasRisk ? d : { unit: "ticks", value: Math.ceil(d.value) });
    const isExit = given.intent === "exit";
    return {
      ...given,
      quantity: isExit && given.quantity === 4 ? Number.POSITIVE_INFINITY : given.quantity,
      onlyTag: isExit ? given.onlyTag : "",
      stopLoss: isExit ? null : given.stopLoss,
      target: isExit || !given.target ? null : plain(given.target),
      trail: isExit ? null : given.trail,
      locks: isExit ? [] : given.locks.map((lock) => ({ ...lock, after: plain(lock.after) })),
      timeLimit: isExit ? null : given.timeLimit,
      atClose: given.atClose && given.kind === "market",
    };
  });

export const action: fc.Arbitrary<Action> = fc.oneof(
  { weight: 6, arbitrary: request.map((made): Action => ({ do: "submit", request: made })) },
  fc.record({ do: fc.constant("cancel" as const), order: few }),
  fc.record({ do: fc.constant("modify" as const), order: few, price: around }),
  fc.record({ do: fc.constant("resize" as const), order: few, quantity: fc.integer({ min: 1, max: 5 }) }),
  fc.record({
    do: fc.constant("exit" as const),
    which: fc.constantFrom("stop" as const, "target" as const),
    price: around,
    mayLoosen: fc.boolean(),
  }),
);

/** A fine bar by its moves: gap, body, and the reach beyond it both ways. */
const moves = fc.tuple(
  fc.integer({ min: -3, max: 3 }),
  fc.integer({ min: -8, max: 8 }),
  fc.integer({ min: 0, max: 6 }),
  fc.integer({ min: 0, max: 6 }),
);
export const barMoves = fc.record({ fine: fc.array(moves, { minLength: 1, maxLength: 3 }), finerKnown: fc.boolean() });

export const scriptSettings: fc.Arbitrary<ScriptSettings> = fc.record({
  spreadTicks: fc.integer({ min: 0, max: 3 }),
  slippageTicks: fc.constantFrom(0, 0.5, 1),
  throughTicks: fc.integer({ min: 0, max: 2 }),
  basis: fc.constantFrom("last" as const, "bid" as const, "ask" as const),
  path: fc.constantFrom("assumed" as const, "adverse" as const, "finer" as const),
  positions: fc.constantFrom("netting" as const, "independent" as const),
  commissionPerUnit: fc.constantFrom(0, 1.5),
  commissionMinimum: fc.constantFrom(0, 2),
});

/** Bars from their moves: each as its finer bars, in ticks. */
export function barsFrom(
  given: readonly { readonly fine: readonly (readonly [number, number, number, number])[]; readonly finerKnown: boolean }[],
) {
  let price = 400;
  return given.map(({ fine, finerKnown }) => ({
    finerKnown,
    fine: fine.map(([gap, body, above, below]): Ticks => {
      const open = Math.max(340, Math.min(460, price + gap));
      const close = Math.max(340, Math.min(460, open + body));
      price = close;
      return [open, Math.max(open, close) + above, Math.min(open, close) - below, close];
    }),
  }));
}
