/** Events a plan can listen to, and what it gets with each: fresh plain objects, so that nothing of the engine is exposed. */
import type { Lot } from "../engine/lots.ts";
import type { ExitReason, Fill, Order, Trade } from "../engine/orders.ts";
import { PlanTesterError } from "../errors.ts";
import { describe } from "./columns.ts";
import type { RunScope } from "./scope.ts";

export const EVENTS = [
  "start",
  "sessionOpen",
  "sessionClose",
  "price",
  "accepted",
  "filled",
  "cancelled",
  "refused",
  "expired",
  "opened",
  "changed",
  "closed",
  "end",
] as const;
export type EventName = (typeof EVENTS)[number];

type Listener = (event: unknown) => void;

/** Listeners by event, and the reason that a close ordered in one of them gives its trade. */
export class Events {
  readonly #listeners = new Map<EventName, Listener[]>();
  readonly #run: RunScope;
  phase: ExitReason = "signal";

  constructor(run: RunScope) {
    this.#run = run;
  }

  has(name: EventName): boolean {
    return this.#listeners.has(name);
  }

  listen(name: EventName, handler: unknown): void {
    checkHandler(this.#run, `on.${name}()`, handler);
    const list = this.#listeners.get(name);
    if (list) list.push(handler as Listener);
    else this.#listeners.set(name, [handler as Listener]);
  }

  emit(name: EventName, phase: ExitReason, event: () => unknown): void {
    const listeners = this.#listeners.get(name);
    if (!listeners) return;
    for (let k = 0; k < listeners.length; k++) this.during(phase, () => listeners[k]!(event()));
  }

  during(phase: ExitReason, action: () => void): void {
    const before = this.phase;
    this.phase = phase;
    try {
      action();
    } finally {
      this.phase = before;
    }
  }
}

/** @throws PlanTesterError plan-error when it is no function, or build() is over. */
export function checkHandler(run: RunScope, verb: string, handler: unknown): void {
  if (run.sealed) throw new PlanTesterError("plan-error", `${verb} in a handler: register handlers in build(), once.`);
  if (typeof handler !== "function")
    throw new PlanTesterError("plan-error", `${verb} takes a function to run; it got ${describe(handler)}.`);
}

export const orderEvent = (order: Order, symbol: string) => ({
  id: order.id,
  symbol,
  side: order.side,
  kind: order.kind,
  price: order.price,
  quantity: order.quantity,
  tag: order.tag,
  reason: order.note,
});

export const fillEvent = (fill: Fill, symbol: string) => ({ ...fill, symbol });

export const lotEvent = (lot: Lot, symbol: string) => ({
  symbol,
  side: lot.side > 0 ? "long" : "short",
  quantity: lot.quantity,
  entryPrice: lot.entryPrice,
  tag: lot.order.tag,
});

/** A trade without the memory of its rails. */
export const tradeEvent = ({ rails: _rails, ...trade }: Trade) => trade;
