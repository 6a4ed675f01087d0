/** What a plan holds of one of its orders, of all that work, and of its account. Nothing behind them is within its reach. */
import type { Order } from "../engine/orders.ts";
import type { Broker } from "./broker.ts";

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

/** The plan's orders of one market. */
export class Orders {
  readonly #broker: Broker;
  readonly #working: () => readonly Order[];

  /** @param working those that wait or work now */
  constructor(broker: Broker, working: () => readonly Order[]) {
    this.#broker = broker;
    this.#working = working;
  }

  get working(): OrderHandle[] {
    return this.#working().map((order) => new OrderHandle(this.#broker, order));
  }

  cancelAll(): void {
    for (const order of this.#working()) this.#broker.cancel(order);
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
