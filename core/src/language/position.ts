/** What a plan holds of its position. The object has no properties of its own: what is behind it is out of a plan's reach. */
import type { Side } from "../engine/orders.ts";
import type { Size } from "../engine/sizing.ts";
import type { Broker } from "./broker.ts";
import { checkPrice } from "./check-price.ts";
import type { OrderHandle } from "./order-handle.ts";

/** What a position asks of whoever trades for the plan. */
export interface PositionActs {
  readonly run: { readonly broker: Broker; barIndex(): number; lastPrice(): number };
  /** Whether the exit kit alone sets exits. */
  readonly exitsAreOff: boolean;
  closeAll(verb: string, options: object): unknown;
  closeSide(side: Side, kind: "market", price: number, verb: string, options: object): unknown;
  goTo(target: Size, tag: string | undefined): OrderHandle;
}

export class Position {
  readonly #trading: PositionActs;
  readonly #broker: Broker;

  constructor(trading: PositionActs) {
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
