/** Orders that the venue did not take, sent again at the opens that follow where the failure policy has it so. */
import type { Order } from "../engine/orders.ts";
import type { AccountEvent } from "./messages.ts";

/** How often an order is sent again after the venue has refused it; 0 for never, Infinity without end. */
export interface RetryLimits {
  readonly entries: number;
  readonly exits: number;
}

export const NO_RETRIES: RetryLimits = Object.freeze({ entries: 0, exits: 0 });

export interface Retry {
  readonly feed: number;
  readonly order: Order;
  /** Which try the next one is, the first after the refusal being 1. */
  readonly attempt: number;
  readonly most: number;
}

export class Retries {
  limits: RetryLimits;
  #due: Retry[] = [];
  /** What an order that was sent again is the n-th try of. */
  readonly #attempts = new Map<number, number>();

  constructor(limits: RetryLimits) {
    this.limits = limits;
  }

  /** The venue has refused an order. @returns whether it was the last of its tries */
  refused(feed: number, order: Order): boolean {
    const most = order.intent === "exit" ? this.limits.exits : this.limits.entries;
    const before = this.#attempts.get(order.id) ?? 0;
    this.#attempts.delete(order.id);
    if (before >= most) return before > 0;
    this.#due.push({ feed, order, attempt: before + 1, most });
    return false;
  }

  /** Those of an instrument, which opens. */
  get isEmpty(): boolean {
    return this.#due.length === 0;
  }

  take(feed: number): readonly Retry[] {
    if (this.#due.length === 0) return this.#due;
    const due = this.#due.filter((one) => one.feed === feed);
    this.#due = this.#due.filter((one) => one.feed !== feed);
    return due;
  }

  /** A try has been sent as an order of its own number. */
  sent({ attempt }: Retry, order: Order): void {
    this.#attempts.set(order.id, attempt);
  }

  /** Something has become of an order: where it was taken, its tries are over. */
  told(event: AccountEvent): void {
    if (event.kind === "filled") this.#attempts.delete(event.fill.orderId);
    else if (event.kind === "ended" && event.order.state !== "refused") this.#attempts.delete(event.order.id);
  }
}
