/** A plan's door to a mirrored book: what the book does at once, or leaves for the next open, is also sent to the venue. */
import type { Book } from "../engine/book.ts";
import type { Order } from "../engine/orders.ts";
import { BookBroker } from "../language/broker.ts";
import type { PlanCommand } from "./messages.ts";

export class SendingBroker extends BookBroker {
  readonly #book: Book;
  readonly #send: (command: PlanCommand) => void;

  /** @param send sends nothing about an order that the venue does not know of */
  constructor(book: Book, send: (command: PlanCommand) => void) {
    super(book);
    this.#book = book;
    this.#send = send;
  }

  get #symbol(): string {
    return this.#book.instrument.symbol;
  }

  override cancel(order: Order): boolean {
    const isDone = super.cancel(order);
    // Case: the book is asleep. What is cancelled at once is sent by the book's listener.
    if (isDone && order.state === "working")
      this.#send({ kind: "cancel", symbol: this.#symbol, orderId: order.id, note: "cancelled by the plan", isExpiry: false });
    return isDone;
  }

  override modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    const problem = super.modify(order, price, quantity, limitPrice);
    if (problem) return problem;
    const isDone = !this.#book.isAsleep;
    this.#send({
      kind: "modify",
      symbol: this.#symbol,
      orderId: order.id,
      change: {
        ...(price !== undefined && { price: isDone ? order.price : price }),
        ...(quantity !== undefined && { quantity: isDone ? order.quantity : quantity }),
        ...(limitPrice !== undefined && { limitPrice: isDone ? order.limitPrice : limitPrice }),
      },
    });
    return "";
  }

  override setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    const hasChanged = super.setExits(which, price, mayLoosen);
    if (hasChanged) this.#send({ kind: "exits", symbol: this.#symbol, which, price, mayLoosen });
    return hasChanged;
  }
}
