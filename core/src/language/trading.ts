/** The part of a plan's context that trades on one market: enter, exit, position, orders. Thin, checked doors to the broker. */
import {
  type Distance,
  type ExitMoves,
  type ExitReason,
  isOfAccount,
  type Order,
  type OrderKind,
  type OrderRequest,
  type Side,
  type TimeInForce,
} from "../engine/orders.ts";
import { type Size, sizeOrder } from "../engine/sizing.ts";
import { PlanTesterError } from "../errors.ts";
import type { Instrument } from "../market/instrument.ts";
import type { Broker } from "./broker.ts";
import { checkPrice } from "./check-price.ts";
import { describe } from "./columns.ts";
import type { KitGuard } from "./kit-guard.ts";
import { OrderHandle } from "./order-handle.ts";
import { type CloseOptions, checkClose, checkEntry, type EntryOptions, fixed, lifeOf, movesOf, orNone, textOf } from "./order-options.ts";
import { Position, type PositionActs } from "./position.ts";

/** What trading needs to know of the run around it. */
export interface TradingRun {
  readonly broker: Broker;
  readonly instrument: Instrument;
  readonly owner: string;
  readonly maxQuantity: number | null;
  readonly kit: KitGuard | null;
  /** Price of the last known bar close. */
  lastPrice(): number;
  barIndex(): number;
  /** Line of the plan's source that is sending an order, 0 where unknown. */
  line(): number;
  /** Whether build() still runs: no bar is known to act on. */
  isBuilding(): boolean;
  /** Why a close ordered now ends a trade: the event that is being handled decides. */
  closeReason(): ExitReason;
  expiry(timeInForce: TimeInForce): { bar: number; time: number };
  /** UTC time of an exchange time today. */
  endOf(wallTime: string): number;
  log(level: "info" | "notice" | "warning", text: string): void;
  /** Takes note of every order the plan sends, refused ones too. */
  sent(order: Order): void;
}

/** Of two limits the one that counts; null is none. */
const lesser = (a: number | null, b: number | null): number | null => (a === null || b === null ? (a ?? b) : Math.min(a, b));

const ONE_UNIT: Size = Object.freeze({ by: "units", value: 1 });

function checkAtClose(verb: string, kind: OrderKind): void {
  if (kind === "market") return;
  throw new PlanTesterError("plan-error", `${verb}: at: "close" is for market orders; a ${kind} order works at its price.`);
}

export class Trading implements PositionActs {
  readonly run: TradingRun;
  readonly position: Position;
  #enter: unknown = null;
  #exit: unknown = null;
  /** Numbers of the kit's own orders. */
  readonly #ofKit = new Set<number>();

  constructor(run: TradingRun) {
    this.run = run;
    this.position = new Position(this);
  }

  get enter(): unknown {
    this.#enter ??= { long: this.#entryDoor(1, "enter.long"), short: this.#entryDoor(-1, "enter.short") };
    return this.#enter;
  }

  get exit(): unknown {
    this.#exit ??= {
      long: this.#exitDoor(-1, "exit.long"),
      short: this.#exitDoor(1, "exit.short"),
      all: (tag?: unknown) => this.closeAll("exit.all()", { tag: textOf(tag) }),
    };
    return this.#exit;
  }

  #entryDoor(side: Side, verb: string): unknown {
    const send = (kind: OrderKind, price: number, limitPrice: number, name: string, options: unknown): OrderHandle =>
      this.#enterBy(side, kind, price, limitPrice, name, options);
    const none = Number.NaN;
    const plain = `${verb}()`;
    return Object.assign((options?: unknown) => send("market", none, none, plain, options), {
      stop: (price: unknown, options?: unknown) => send("stop", checkPrice(price, `${verb}.stop()`), none, `${verb}.stop()`, options),
      limit: (price: unknown, options?: unknown) => send("limit", checkPrice(price, `${verb}.limit()`), none, `${verb}.limit()`, options),
      stopLimit: (price: unknown, limit: unknown, options?: unknown) =>
        send(
          "stop-limit",
          checkPrice(price, `${verb}.stopLimit()`),
          checkPrice(limit, `${verb}.stopLimit()`),
          `${verb}.stopLimit()`,
          options,
        ),
      at: (price: unknown, options?: unknown) => {
        const level = checkPrice(price, `${verb}.at()`);
        return send((level - this.run.lastPrice()) * side > 0 ? "stop" : "limit", level, none, `${verb}.at()`, options);
      },
    });
  }

  #exitDoor(side: Side, verb: string): unknown {
    const none = Number.NaN;
    return Object.assign((options?: unknown) => this.closeSide(side, "market", none, `${verb}()`, options), {
      stop: (price: unknown, options?: unknown) =>
        this.closeSide(side, "stop", checkPrice(price, `${verb}.stop()`), `${verb}.stop()`, options),
      limit: (price: unknown, options?: unknown) =>
        this.closeSide(side, "limit", checkPrice(price, `${verb}.limit()`), `${verb}.limit()`, options),
    });
  }

  /** A number of units for a size now, or why there is none. */
  #sized(size: Size, side: Side, price: number, stopLoss: Distance | null, maxQuantity = this.run.maxQuantity) {
    const { broker, instrument } = this.run;
    return sizeOrder(
      size,
      { side, equity: broker.equity, balance: broker.cash, price, stopLoss, pointMoney: broker.pointMoney, maxQuantity },
      instrument,
    );
  }

  #refused(verb: string, reason: string, tag: string): OrderHandle {
    this.run.log("warning", `${verb} not sent: ${reason}`);
    return new OrderHandle(this.run.broker, null, reason, tag);
  }

  #enterBy(side: Side, kind: OrderKind, price: number, limitPrice: number, verb: string, given: unknown): OrderHandle {
    const { run } = this;
    const options: EntryOptions = checkEntry(verb, given);
    const tag = textOf(options.tag);
    if (options.onlyIf && !options.onlyIf.now) return new OrderHandle(run.broker, null, "its onlyIf does not hold", tag);
    const atClose = options.at === "close";
    if (atClose) checkAtClose(verb, kind);
    const refusal = run.kit?.admit(side, atClose);
    if (refusal) return this.#refused(verb, refusal, tag);
    let stopLoss = fixed(orNone(options.stopLoss) ?? null);
    let target = fixed(orNone(options.target) ?? null);
    let moves: ExitMoves | null = movesOf(verb, options);
    let size = options.size ?? ONE_UNIT;
    if (run.kit) {
      if (!run.kit.kit.plansExits) stopLoss = target = moves = null;
      const laid = run.kit.exits(side);
      if (laid) {
        stopLoss = laid.stopLoss ?? stopLoss;
        target = laid.target ?? target;
        moves = laid.moves ?? moves;
      }
      size = run.kit.kit.size ?? size;
    }
    // Reversing is at once, or not at all; what fills at the close has its moment.
    const limit = kind === "market" && !options.reverse && !atClose ? (run.kit?.kit.entryLimit ?? null) : null;
    if (limit && this.#waitsFor(side)) return this.#refused(verb, "exit kit: an entry of this side waits at its limit already", tag);
    const at = limit ? run.lastPrice() - side * limit.ticks * run.instrument.tickSize : kind === "market" ? run.lastPrice() : price;
    const sized = this.#sized(size, side, at, stopLoss, lesser(run.maxQuantity, run.kit?.kit.maxQuantity ?? null));
    if (sized.refusal !== null) return this.#refused(verb, sized.refusal, tag);
    if (sized.cut) run.log("notice", `${verb}: ${sized.cut}`);
    const goodFor = options.goodFor ?? limit?.bars;
    return this.#send(
      {
        side,
        kind: limit ? "limit" : kind,
        price: limit ? at : price,
        limitPrice,
        quantity: sized.quantity,
        intent: options.reverse ? "reverse" : "enter",
        tag,
        stopLoss,
        target,
        moves,
        timeInForce: lifeOf(goodFor, verb, run.endOf),
        group: textOf(options.group),
        owner: run.owner,
        onlyTag: "",
        line: run.line(),
        reason: "signal",
        atClose,
      },
      goodFor !== undefined,
    );
  }

  /** Whether an entry of a side works at a limit. */
  #waitsFor(side: Side): boolean {
    return this.run.broker.workingOrders().some((order) => order.side === side && order.kind === "limit" && order.intent === "enter");
  }

  #send(request: OrderRequest, mayExpire: boolean): OrderHandle {
    const { broker } = this.run;
    if (this.run.isBuilding())
      throw new PlanTesterError("plan-error", "An order in build(): send orders from a handler, e.g. on.start() or when().");
    const expiry = mayExpire ? this.run.expiry(request.timeInForce) : null;
    const order = expiry
      ? broker.submit(request, expiry.bar, expiry.time)
      : broker.submit(request, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY);
    this.run.sent(order);
    return new OrderHandle(broker, order);
  }

  /** Whether the plan's own exits are switched off by the kit. */
  get exitsAreOff(): boolean {
    return this.run.kit !== null && !this.run.kit.kit.plansExits;
  }

  /** Sends an order that only closes: `side` is the order's, so -1 closes long lots. */
  closeSide(side: Side, kind: OrderKind, price: number, verb: string, given: unknown): OrderHandle {
    const options: CloseOptions = checkClose(verb, given);
    if (!this.exitsAreOff) return this.#close(side, kind, price, verb, options);
    return new OrderHandle(this.run.broker, null, "the exit kit has switched the plan's exits off", textOf(options.tag));
  }

  /**
   * The kit's word: what is open of a side is closed, also where the plan's exits are off. Now, its entries are cancelled
   * too; at the close, what fills in the last bar is closed with it.
   */
  flatten(side: Side, atClose: boolean, tag: string): void {
    const { broker } = this.run;
    if (!atClose) for (const order of broker.workingOrders()) if (order.side === side && order.intent !== "exit") broker.cancel(order);
    if (!broker.lots.some((lot) => lot.side === side)) return;
    const options: CloseOptions = atClose ? { tag, at: "close" } : { tag };
    this.#ofKit.add(this.#close(-side as Side, "market", Number.NaN, "exit kit", options).id);
  }

  /** Orders that wait or work and are the plan's to cancel: not those by which the kit or the account closes. */
  plansOrders(): readonly Order[] {
    return this.run.broker.workingOrders().filter(({ id, reason }) => !isOfAccount(reason) && !this.#ofKit.has(id));
  }

  #close(side: Side, kind: OrderKind, price: number, verb: string, options: CloseOptions): OrderHandle {
    const { run } = this;
    const tag = textOf(options.tag);
    const onlyTag = textOf(options.entryTag);
    const open = run.broker.lots.reduce(
      (sum, lot) => sum + (lot.side !== side && (onlyTag === "" || lot.order.tag === onlyTag) ? lot.quantity : 0),
      0,
    );
    if (kind === "market" && open === 0) return new OrderHandle(run.broker, null, "there is nothing to close", tag);
    if (options.at === "close") checkAtClose(verb, kind);
    let quantity = Number.POSITIVE_INFINITY;
    if (options.size || options.part !== undefined) {
      const size: Size = options.size ?? { by: "units", value: open * (options.part ?? 1) };
      const sized = this.#sized(size, side, run.lastPrice(), null);
      if (sized.refusal !== null) return this.#refused(verb, sized.refusal, tag);
      quantity = sized.quantity;
    }
    return this.#send(
      {
        side,
        kind,
        price,
        limitPrice: Number.NaN,
        quantity,
        intent: "exit",
        tag,
        stopLoss: null,
        target: null,
        moves: null,
        timeInForce: lifeOf(options.goodFor, verb, run.endOf),
        group: textOf(options.group),
        owner: run.owner,
        onlyTag,
        line: run.line(),
        reason: options.at === "close" ? "session end" : run.closeReason(),
        atClose: options.at === "close",
      },
      options.goodFor !== undefined,
    );
  }

  closeAll(verb: string, options: CloseOptions): void {
    const { lots } = this.run.broker;
    for (const side of [1, -1] as const)
      if (lots.some((lot) => lot.side === side)) this.closeSide(-side as Side, "market", Number.NaN, verb, options);
  }

  /** Sends what is missing between the position and a signed target, in units or in percent of equity. */
  goTo(target: Size, tag: unknown): OrderHandle {
    const verb = "position.goTo()";
    if (typeof target?.value !== "number" || (target.by !== "units" && target.by !== "equity percent"))
      throw new PlanTesterError(
        "plan-error",
        `${verb} takes units(5) or equityPercent(20), negative for short; it got ${describe(target)}.`,
      );
    const { run } = this;
    const { broker } = run;
    const side: Side = target.value < 0 ? -1 : 1;
    const size = { by: target.by, value: Math.abs(target.value) } as Size;
    const sized = target.value === 0 ? null : this.#sized(size, side, run.lastPrice(), null);
    // Case: a share too small for one unit means nothing is held.
    const wanted = sized ? side * sized.quantity : 0;
    let units = broker.units;
    for (const order of broker.workingOrders())
      if (order.kind === "market" && Number.isFinite(order.quantity)) units += order.side * order.quantity;
    const missing = wanted - units;
    const label = textOf(tag);
    if (Math.abs(missing) < run.instrument.minQuantity / 2) return new OrderHandle(broker, null, "the position is there already", label);
    if (wanted === 0) return this.closeSide(units > 0 ? -1 : 1, "market", Number.NaN, verb, { tag: label });
    const order: Side = missing > 0 ? 1 : -1;
    const size2: Size = { by: "units", value: Math.abs(missing) };
    const isReducing = units !== 0 && Math.sign(units) === Math.sign(wanted) && Math.abs(wanted) < Math.abs(units);
    return isReducing
      ? this.closeSide(order, "market", Number.NaN, verb, { size: size2, tag: label })
      : this.#enterBy(order, "market", Number.NaN, Number.NaN, verb, { size: size2, tag: label });
  }
}
