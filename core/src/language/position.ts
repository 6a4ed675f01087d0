/**
 * What a plan holds of its orders and its position. The objects have no properties of their own: what is behind them is out
 * of a plan's reach.
 */
import type { Order } from "../engine/orders.ts";
import type { Size } from "../engine/sizing.ts";
import type { Broker } from "./broker.ts";
import { checkPrice, type Trading } from "./trading.ts";

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

  get quantity(): number {
    return this.#order?.quantity ?? 0;
  }

  get side(): "buy" | "sell" | "" {
    return this.#order ? (this.#order.side > 0 ? "buy" : "sell") : "";
  }

  get kind(): Order["kind"] | "" {
    return this.#order?.kind ?? "";
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
    return this.#order ? this.#broker.modify(this.#order, price) === "" : false;
  }

  resize(quantity: number): boolean {
    return this.#order ? this.#broker.modify(this.#order, undefined, quantity) === "" : false;
  }

  moveLimitTo(price: number): boolean {
    return this.#order ? this.#broker.modify(this.#order, undefined, undefined, price) === "" : false;
  }
}

export class Position {
  readonly #trading: Trading;
  readonly #broker: Broker;

  constructor(trading: Trading) {
    this.#trading = trading;
    this.#broker = trading.run.broker;
  }

  get flat(): boolean {
    return this.#broker.units === 0;
  }

  get long(): boolean {
    return this.#broker.units > 0;
  }

  get short(): boolean {
    return this.#broker.units < 0;
  }

  get units(): number {
    return Math.abs(this.#broker.units);
  }

  get entryPrice(): number {
    return this.#broker.averagePrice;
  }

  get barsHeld(): number {
    const first = this.#broker.lots[0];
    return first ? this.#trading.run.barIndex() - first.entryBar : 0;
  }

  /** Open profit at the last close, money. */
  get profit(): number {
    return this.#broker.profitAt(this.#trading.run.lastPrice());
  }

  get stop(): number {
    return this.#broker.lots[0]?.stop?.price ?? Number.NaN;
  }

  get target(): number {
    return this.#broker.lots[0]?.target?.price ?? Number.NaN;
  }

  get highest(): number {
    this.#broker.settleExtremes?.();
    return this.#broker.lots.reduce((most, lot) => Math.max(most, lot.high), this.#broker.lots[0]?.high ?? Number.NaN);
  }

  get lowest(): number {
    this.#broker.settleExtremes?.();
    return this.#broker.lots.reduce((least, lot) => Math.min(least, lot.low), this.#broker.lots[0]?.low ?? Number.NaN);
  }

  /** The open lots, oldest first, as plain data. */
  get lots(): readonly object[] {
    const now = this.#trading.run.barIndex();
    return this.#broker.lots.map(({ side, quantity, entryPrice, entryBar, order, stop, target }) => ({
      side: side > 0 ? "long" : "short",
      units: quantity,
      entryPrice,
      barsHeld: now - entryBar,
      tag: order.tag,
      stop: stop?.price ?? Number.NaN,
      target: target?.price ?? Number.NaN,
    }));
  }

  close(tag?: string): void {
    this.#trading.closeAll("position.close()", tag === undefined ? {} : { tag });
  }

  reduce(quantity: number, tag?: string): void {
    const { units } = this.#broker;
    if (units === 0) return;
    this.#trading.closeSide(units > 0 ? -1 : 1, "market", Number.NaN, "position.reduce()", {
      size: { by: "units", value: quantity },
      ...(tag === undefined ? {} : { tag }),
    });
  }

  goTo(target: Size, tag?: string): OrderHandle {
    return this.#trading.goTo(target, tag);
  }

  tightenStop(price: number): boolean {
    if (this.#trading.exitsAreOff) return false;
    return this.#broker.setExits("stop", checkPrice(price, "position.tightenStop()"), false);
  }

  setStop(price: number | null): boolean {
    if (this.#trading.exitsAreOff) return false;
    return this.#broker.setExits("stop", price === null ? null : checkPrice(price, "position.setStop()"), true);
  }

  setTarget(price: number | null): boolean {
    if (this.#trading.exitsAreOff) return false;
    return this.#broker.setExits("target", price === null ? null : checkPrice(price, "position.setTarget()"), true);
  }
}

/** The orders of one market. */
export class Orders {
  readonly #broker: Broker;

  constructor(broker: Broker) {
    this.#broker = broker;
  }

  get working(): OrderHandle[] {
    return this.#broker.workingOrders().map((order) => new OrderHandle(this.#broker, order));
  }

  cancelAll(): void {
    for (const order of this.#broker.workingOrders()) this.#broker.cancel(order);
  }
}

export class AccountView {
  readonly #broker: Broker;

  constructor(broker: Broker) {
    this.#broker = broker;
  }

  /** Cash and open profit at the last closes. */
  get equity(): number {
    return this.#broker.equity;
  }

  get cash(): number {
    return this.#broker.cash;
  }
}
