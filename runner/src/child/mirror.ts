/**
 * The account of a live plan as the venue last reported it, with the plan's own commands on top. The venue has the last
 * word: each report replaces lots and cash, and settles the orders it names.
 */
import { type Broker, type BrokerLot, type Instrument, type Order, type OrderRequest, type OrderTicket, toGrid } from "@plan-tester/core";
import type { AccountState, LiveCommand } from "../protocol.ts";

/** Where the plan stands: its last completed bar. */
export interface MirrorMoment {
  readonly barIndex: number;
  readonly timeMs: number;
  readonly price: number;
  /** Nominal length of the plan's bars. */
  readonly barMs: number;
}

export class AccountMirror implements Broker {
  cash: number;
  lots: BrokerLot[] = [];
  readonly #orders = new Map<number, Order>();
  readonly #instrument: Instrument;
  readonly #command: (command: LiveCommand) => void;
  readonly #now: () => MirrorMoment;
  #nextId: number;

  constructor(instrument: Instrument, account: AccountState, command: (command: LiveCommand) => void, now: () => MirrorMoment) {
    this.#instrument = instrument;
    this.#command = command;
    this.#now = now;
    this.cash = account.cash;
    this.#nextId =
      1 +
      account.orders.reduce((most, order) => Math.max(most, order.id), 0) +
      account.lots.reduce((most, lot) => Math.max(most, lot.orderId), 0);
    this.apply(account, [], 0);
  }

  /** Takes over the venue's report; `barIndex` dates lots that are new. */
  apply(account: AccountState, ended: readonly Order[], barIndex: number): void {
    this.cash = account.cash;
    const before = this.lots;
    this.lots = account.lots.map((lot) => {
      const exit = (price: number | null): { price: number } | null => (price === null ? null : { price });
      const known = before.find((candidate) => candidate.entryTime === lot.entryTime && candidate.side === lot.side);
      const { side, quantity, entryPrice, entryTime, high, low, tag } = lot;
      return {
        side,
        quantity,
        entryPrice,
        entryTime,
        high,
        low,
        order: { tag },
        entryBar: known?.entryBar ?? barIndex,
        stop: exit(lot.stop),
        target: exit(lot.target),
      };
    });
    for (const order of [...account.orders, ...ended]) {
      const own = this.#orders.get(order.id);
      if (own)
        Object.assign(own, {
          state: order.state,
          note: order.note,
          price: order.price,
          fillPrice: order.fillPrice,
          fillTime: order.fillTime,
        });
      else this.#orders.set(order.id, { ...order });
      if (order.state !== "working") this.#orders.delete(order.id);
    }
    const working = new Set(account.orders.map((order) => order.id));
    for (const [id, order] of this.#orders) if (!working.has(id) && order.submittedTime < this.#now().timeMs) this.#orders.delete(id);
  }

  get units(): number {
    return this.lots.reduce((sum, lot) => sum + lot.side * lot.quantity, 0);
  }

  get averagePrice(): number {
    const units = this.units;
    return units === 0 ? Number.NaN : this.lots.reduce((sum, lot) => sum + lot.side * lot.quantity * lot.entryPrice, 0) / units;
  }

  get equity(): number {
    return this.cash + this.profitAt(this.#now().price);
  }

  get pointMoney(): number {
    return this.#instrument.pointValue;
  }

  profitAt(price: number): number {
    return this.lots.reduce((sum, lot) => sum + lot.side * lot.quantity * (price - lot.entryPrice), 0) * this.pointMoney;
  }

  submit(request: OrderRequest, expiresBar: number, expiresTime: number): Order {
    const { barIndex, timeMs, barMs } = this.#now();
    // The venue counts no bars of the plan's timeframe: a limit in bars becomes one in time.
    const limit = request.moves?.timeLimit;
    const moves =
      request.moves && limit && "bars" in limit ? { ...request.moves, timeLimit: { milliseconds: limit.bars * barMs } } : request.moves;
    const ticket: OrderTicket = { ...request, moves, submittedBar: barIndex, submittedTime: timeMs, expiresBar, expiresTime };
    const fresh = {
      id: this.#nextId++,
      state: "working",
      note: "",
      fillPrice: Number.NaN,
      fillTime: Number.NaN,
      fillBar: -1,
      endBar: -1,
    } as const;
    const order: Order = { ...ticket, ...fresh };
    this.#orders.set(order.id, order);
    this.#command({ kind: "submit", clientId: order.id, request: ticket });
    return order;
  }

  cancel(order: Order): boolean {
    if (order.state !== "working") return false;
    order.state = "cancelled";
    this.#orders.delete(order.id);
    this.#command({ kind: "cancel", clientId: order.id });
    return true;
  }

  modify(order: Order, price?: number, quantity?: number, limitPrice?: number): string {
    if (order.state !== "working") return `it is ${order.state} (R3.9)`;
    if (price !== undefined && (order.kind === "market" || !(price > 0))) return `price ${price} can't be set (R3.9)`;
    const onGrid = (value: number, isStop: boolean): number =>
      toGrid(value, this.#instrument.tickSize, order.side > 0 === isStop ? "up" : "down");
    if (price !== undefined) order.price = onGrid(price, order.kind !== "limit");
    if (quantity !== undefined) order.quantity = quantity;
    if (limitPrice !== undefined) order.limitPrice = onGrid(limitPrice, false);
    this.#command({
      kind: "modify",
      clientId: order.id,
      change: {
        ...(price === undefined ? {} : { price: order.price }),
        ...(quantity === undefined ? {} : { quantity }),
        ...(limitPrice === undefined ? {} : { limitPrice: order.limitPrice }),
      },
    });
    return "";
  }

  setExits(which: "stop" | "target", price: number | null, mayLoosen: boolean): boolean {
    const lot = this.lots[0];
    if (!lot) return false;
    const current = lot[which]?.price ?? null;
    if (price === null) {
      if (current === null || (which === "stop" && !mayLoosen)) return false;
    } else {
      const level = toGrid(price, this.#instrument.tickSize, lot.side > 0 === (which === "stop") ? "down" : "up");
      if (level === current || (which === "stop" && !mayLoosen && current !== null && (level - current) * lot.side <= 0)) return false;
    }
    this.lots = this.lots.map((each) => ({ ...each, [which]: price === null ? null : { price } }));
    this.#command({ kind: "exit", which, price });
    return true;
  }

  /** Cancels orders whose number of bars is over as bar `barIndex` opens: the venue counts no bars of the plan's timeframe. */
  expireAt(barIndex: number): void {
    for (const order of this.workingOrders()) if (barIndex >= order.expiresBar) this.cancel(order);
  }

  workingOrders(): Order[] {
    return [...this.#orders.values()].filter((order) => order.state === "working");
  }
}
