/** The part of a plan's context that trades: enter, position, orders, account. Each object is a thin, checked door to the broker. */
import type { Distance, ExitReason, Order, OrderKind, Side, TimeInForce } from "../engine/orders.ts";
import { type Size, sizeOrder } from "../engine/sizing.ts";
import { PlanTesterError } from "../errors.ts";
import type { Instrument } from "../market/instrument.ts";
import type { Broker } from "./broker.ts";
import { describe } from "./columns.ts";

/** What trading needs to know of the run around it. */
export interface TradingRun {
  readonly broker: Broker;
  readonly instrument: Instrument;
  /** Price of the last known bar close. */
  lastPrice(): number;
  barIndex(): number;
  /** Line of the plan's source that is sending an order, 0 where unknown. */
  line(): number;
  /** Why a close ordered now ends a trade: the event that is being handled decides. */
  closeReason(): ExitReason;
  expiry(timeInForce: TimeInForce): { bar: number; time: number };
  log(level: "info" | "notice" | "warning", text: string): void;
  /** Takes note of every order the plan sends, refused ones too. */
  sent(order: Order): void;
}

export interface EntryOptions {
  readonly size?: Size;
  readonly stopLoss?: Distance;
  readonly target?: Distance;
  readonly tag?: string;
  /** Orders that share a group: the first to fill cancels the others. */
  readonly group?: string;
  /** Closes an opposite position first, and then opens its own quantity. */
  readonly reverse?: boolean;
  /** How long it works: until cancelled (default), "session", or a number of bars. */
  readonly goodFor?: "session" | number;
}

const ENTRY_FIELDS: ReadonlySet<string> = new Set(["size", "stopLoss", "target", "tag", "group", "reverse", "goodFor"]);
const GOOD_TILL_CANCELLED: TimeInForce = { until: "cancelled" };

function checkDistance(verb: string, field: string, given: unknown): void {
  if (given === undefined || typeof (given as Distance | null)?.unit === "string") return;
  throw new PlanTesterError(
    "plan-error",
    `${verb}: ${field} needs a unit, e.g. ticks(40), percent(1.5), money(500) or price(412.5); it got ${describe(given)}.`,
  );
}

function checkEntry(verb: string, options: unknown): EntryOptions {
  if (options === undefined) return {};
  if (typeof options !== "object" || options === null)
    throw new PlanTesterError(
      "plan-error",
      `${verb} takes its options as one object, e.g. { size: units(1), stopLoss: ticks(40) }; it got ${describe(options)}.`,
    );
  // By "in" rather than by a list of keys: this runs for every order, and a plan's options are made by the plan.
  for (const field in options)
    if (!ENTRY_FIELDS.has(field))
      throw new PlanTesterError("plan-error", `${verb}: there is no option "${field}". There are: ${[...ENTRY_FIELDS].join(", ")}.`);
  const given = options as EntryOptions;
  checkDistance(verb, "stopLoss", given.stopLoss);
  checkDistance(verb, "target", given.target);
  if (given.size !== undefined && typeof given.size?.by !== "string")
    throw new PlanTesterError(
      "plan-error",
      `${verb}: size needs a unit, e.g. units(2), equityPercent(20) or riskPercent(0.5); it got ${describe(given.size)}.`,
    );
  return given;
}

function lifeOf(goodFor: EntryOptions["goodFor"], verb: string): TimeInForce {
  if (goodFor === undefined) return GOOD_TILL_CANCELLED;
  if (goodFor === "session") return { until: "session" };
  if (Number.isInteger(goodFor) && goodFor > 0) return { until: "bars", bars: goodFor };
  throw new PlanTesterError("plan-error", `${verb}: goodFor is "session" or a whole number of bars; it got ${describe(goodFor)}.`);
}

/** An order as a plan holds it. It has no own properties: the order behind it is out of a plan's reach. */
export class OrderHandle {
  readonly #order: Order | null;
  readonly #broker: Broker;
  readonly #refusal: string;
  readonly #tag: string;

  /** Without an order: one that was never sent, and why. */
  constructor(broker: Broker, order: Order | null, refusal = "", tag = "") {
    this.#broker = broker;
    this.#order = order;
    this.#refusal = refusal;
    this.#tag = tag;
  }

  get id(): number {
    return this.#order?.id ?? 0;
  }

  get state(): Order["state"] {
    return this.#order?.state ?? "refused";
  }

  get working(): boolean {
    return this.state === "working";
  }

  get filled(): boolean {
    return this.state === "filled";
  }

  get price(): number {
    return this.#order?.price ?? Number.NaN;
  }

  get tag(): string {
    return this.#order?.tag ?? this.#tag;
  }

  get refusal(): string {
    return this.#order ? (this.#order.state === "refused" ? this.#order.note : "") : this.#refusal;
  }

  cancel(): boolean {
    return this.#order ? this.#broker.cancel(this.#order) : false;
  }

  moveTo(price: number): boolean {
    return this.#order ? this.#broker.move(this.#order, price) : false;
  }
}

export function makeTrading(run: TradingRun) {
  const { broker, instrument } = run;

  function send(side: Side, kind: OrderKind, price: number, verb: string, given: unknown): OrderHandle {
    const options = checkEntry(verb, given);
    const tag = options.tag === undefined ? "" : String(options.tag).slice(0, 60);
    const sized = sizeOrder(
      options.size ?? { by: "units", value: 1 },
      { equity: broker.equityAt(run.lastPrice()), price: kind === "market" ? run.lastPrice() : price, stopLoss: options.stopLoss ?? null },
      instrument,
    );
    if (sized.refusal !== null) {
      run.log("warning", `${verb} not sent: ${sized.refusal}`);
      return new OrderHandle(broker, null, sized.refusal, tag);
    }
    const timeInForce = lifeOf(options.goodFor, verb);
    const expiry = run.expiry(timeInForce);
    const order = broker.submit(
      {
        side,
        kind,
        price,
        quantity: sized.quantity,
        intent: options.reverse ? "reverse" : "enter",
        tag,
        stopLoss: options.stopLoss ?? null,
        target: options.target ?? null,
        timeInForce,
        group: options.group === undefined ? "" : String(options.group).slice(0, 60),
        line: run.line(),
        reason: "signal",
      },
      expiry.bar,
      expiry.time,
    );
    run.sent(order);
    return new OrderHandle(broker, order);
  }

  const checkPrice = (price: unknown, verb: string): number => {
    if (typeof price !== "number")
      throw new PlanTesterError("plan-error", `${verb} takes its price first, as a number; it got ${describe(price)}.`);
    return price;
  };
  const sideDoor = (side: Side, name: "long" | "short") =>
    Object.freeze(
      Object.assign((options?: EntryOptions) => send(side, "market", Number.NaN, `enter.${name}()`, options), {
        stop: (price: number, options?: EntryOptions) =>
          send(side, "stop", checkPrice(price, `enter.${name}.stop()`), `enter.${name}.stop()`, options),
        limit: (price: number, options?: EntryOptions) =>
          send(side, "limit", checkPrice(price, `enter.${name}.limit()`), `enter.${name}.limit()`, options),
      }),
    );
  const enter = Object.freeze({ long: sideDoor(1, "long"), short: sideDoor(-1, "short") });

  function closeUnits(quantity: number, tag: unknown): void {
    if (broker.units === 0) return;
    const order = broker.submit(
      {
        side: broker.units > 0 ? -1 : 1,
        kind: "market",
        price: Number.NaN,
        quantity,
        intent: "exit",
        tag: tag === undefined ? "" : String(tag).slice(0, 60),
        stopLoss: null,
        target: null,
        timeInForce: GOOD_TILL_CANCELLED,
        group: "",
        line: run.line(),
        reason: run.closeReason(),
      },
      Number.POSITIVE_INFINITY,
      Number.POSITIVE_INFINITY,
    );
    run.sent(order);
  }

  const position = Object.freeze({
    get flat() {
      return broker.units === 0;
    },
    get long() {
      return broker.units > 0;
    },
    get short() {
      return broker.units < 0;
    },
    get units() {
      return Math.abs(broker.units);
    },
    get entryPrice() {
      return broker.averagePrice;
    },
    get barsHeld() {
      return broker.lots.length === 0 ? 0 : run.barIndex() - broker.lots[0]!.entryBar;
    },
    /** Open profit at the last close, money. */
    get profit() {
      return broker.equityAt(run.lastPrice()) - broker.cash;
    },
    get stop() {
      return broker.lots[0]?.stop?.price ?? Number.NaN;
    },
    get target() {
      return broker.lots[0]?.target?.price ?? Number.NaN;
    },
    close: (tag?: string) => closeUnits(Number.POSITIVE_INFINITY, tag),
    reduce: (quantity: number, tag?: string) => closeUnits(quantity, tag),
    tightenStop: (price: number) => broker.setExits("stop", checkPrice(price, "position.tightenStop()"), false),
    setStop: (price: number | null) => broker.setExits("stop", price, true),
    setTarget: (price: number | null) => broker.setExits("target", price, true),
  });

  const orders = Object.freeze({
    get working() {
      return broker.workingOrders().map((order) => new OrderHandle(broker, order));
    },
    cancelAll: () => {
      for (const order of broker.workingOrders()) broker.cancel(order);
    },
  });

  const account = Object.freeze({
    get equity() {
      return broker.equityAt(run.lastPrice());
    },
    get cash() {
      return broker.cash;
    },
  });

  return { enter, position, orders, account };
}
