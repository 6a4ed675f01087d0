/**
 * What fills do to an account: the fill with its costs, lots opened and closed first in, first out, and the money of each
 * trade (R5.1 to R5.4).
 */
import type { BookState } from "./book-state.ts";
import { tradeOf } from "./closed-trade.ts";
import { firstExits } from "./exits.ts";
import type { LotExits } from "./lot-exits.ts";
import { dueOf, isClosedBy, type Lot, withoutNoise } from "./lots.ts";
import { commissionOf } from "./money.ts";
import type { ExitReason, Fill, Order, Side, StopReason } from "./orders.ts";
import type { WorkingOrders } from "./working-orders.ts";

export class Ledger {
  readonly #state: BookState;
  readonly #orders: WorkingOrders;
  readonly #exits: LotExits;
  readonly #slip: number;

  constructor(state: BookState, orders: WorkingOrders, exits: LotExits) {
    this.#state = state;
    this.#orders = orders;
    this.#exits = exits;
    this.#slip = state.costs.slippageTicks * state.instrument.tickSize;
  }

  /** Slippage of a market or stop fill at this moment, price units (R5.4). */
  slipNow(): number {
    const { costs, barRange, outcome, account, instrument } = this.#state;
    const { slippageRange, slippageRandomTicks } = costs;
    let slip = this.#slip;
    if (slippageRange > 0) slip += slippageRange * barRange;
    if (slippageRandomTicks > 0) slip += (outcome ? 0.5 : account.draw()) * slippageRandomTicks * instrument.tickSize;
    return slip;
  }

  /** A fill with its costs; its commission is paid. */
  fill(order: Order, source: Fill["source"], side: Side, quantity: number, price: number, slip: number, tag: string): Fill {
    const state = this.#state;
    const { pointMoney, triggers, costs, totals } = state;
    const money = quantity * pointMoney;
    const offset = triggers.spreadPaid(side);
    const commission = commissionOf(costs, quantity, price, pointMoney);
    state.account.cash -= commission;
    const scratch = this.#scratch;
    if (scratch && totals) {
      scratch.orderId = order.id;
      scratch.source = source;
      scratch.side = side;
      scratch.quantity = quantity;
      scratch.price = price;
      scratch.commission = commission;
      scratch.spread = offset * money;
      scratch.slippage = slip * money;
      return scratch;
    }
    const fill = {
      orderId: order.id,
      source,
      side,
      quantity,
      price,
      timeMs: state.timeMs,
      barIndex: state.barIndex,
      commission,
      spread: offset * money,
      slippage: slip * money,
      tag,
      line: order.line,
    };
    if (totals) this.#scratch = fill;
    return fill;
  }

  /** The one fill of a book that only keeps sums. */
  #scratch: { -readonly [Field in keyof Fill]: Fill[Field] } | null = null;

  /** Closes lots first in, first out (R5.1). */
  reduce(order: Order, quantity: number, fill: Fill, reason: ExitReason): void {
    const { lots, instrument } = this.#state;
    let left = quantity;
    for (let k = 0; left > 0 && k < lots.length; ) {
      const lot = lots[k]!;
      if (!isClosedBy(lot, order)) {
        k++;
        continue;
      }
      const part = Math.min(left, lot.quantity);
      this.#closePart(lot, part, fill, reason, order.tag, order.line);
      left = withoutNoise(left - part, instrument);
      if (lots[k] === lot && left > 0) break;
    }
  }

  /** @param x path price of the fill */
  open(order: Order, quantity: number, fill: Fill, x: number): Lot {
    const state = this.#state;
    const { barIndex, timeMs, dependent } = state;
    state.settleQuiet?.();
    const per = 1 / fill.quantity;
    const { side } = order;
    const entry = { price: fill.price, side, quantity, pointValue: state.pointMoney, risk: Number.NaN };
    const exits = firstExits(order, entry, state.triggers.quote(-side as Side, x), state.instrument);
    const limit = order.moves?.timeLimit;
    const due = limit ? dueOf(limit, barIndex, timeMs) : null;
    const lot: Lot = {
      order,
      side,
      quantity,
      entryPrice: fill.price,
      entryTime: timeMs,
      entryBar: barIndex,
      high: x,
      low: x,
      commissionPerUnit: fill.commission * per,
      spreadPerUnit: fill.spread * per,
      slippagePerUnit: fill.slippage * per,
      financingPerUnit: 0,
      riskPerUnit: exits.risk,
      stop: null,
      stopReason: "stop",
      target: null,
      trail: exits.trail,
      pendingMoves: exits.pendingMoves,
      moveTrigger: null,
      dueBar: due ? due.bar : Number.POSITIVE_INFINITY,
      dueTime: due ? due.time : Number.POSITIVE_INFINITY,
      targetIsOff: false,
      stopIsHit: false,
      isOnEntryPath: false,
      pathDependent: dependent?.has(order.id) ?? false,
      atStake: dependent?.get(order.id) ?? 0,
      rails: [],
    };
    state.lots.push(lot);
    this.recount();
    this.#exits.begin(lot, exits);
    return lot;
  }

  /** Closes all of a lot: its stop or target, or its time limit. */
  close(lot: Lot, quoted: number, slip: number, source: StopReason | "target" | "time"): void {
    const state = this.#state;
    const side = -lot.side as Side;
    const price = quoted + side * slip;
    const { order } = lot;
    const fill = this.fill(order, source, side, lot.quantity, price, slip, order.tag);
    if (state.outcome) state.report(order.id, `${source} ${price}`, -fill.commission);
    this.#closePart(lot, lot.quantity, fill, source, "", order.line);
    this.#orders.cancelOrphans();
    state.listener?.filled(fill, order);
  }

  #closePart(lot: Lot, quantity: number, fill: Fill, reason: ExitReason, exitTag: string, exitLine: number): void {
    const state = this.#state;
    const { pointMoney, account, lots, totals, dependent, instrument } = state;
    if (state.isLean && lots.length === 1 && quantity >= lot.quantity) state.dropQuiet?.();
    else state.settleQuiet?.();
    const share = fill.quantity > 0 ? quantity / fill.quantity : 0;
    const commission = lot.commissionPerUnit * quantity + fill.commission * share;
    const spread = lot.spreadPerUnit * quantity + fill.spread * share;
    const slippage = lot.slippagePerUnit * quantity + fill.slippage * share;
    const financing = lot.financingPerUnit * quantity;
    const realised = lot.side * (fill.price - lot.entryPrice) * quantity * pointMoney;
    const net = realised - commission - financing;
    state.counts.trades++;
    account.trades++;
    if (totals)
      totals.add(
        net,
        commission,
        spread,
        slippage,
        financing,
        lot.pathDependent || (dependent?.has(lot.order.id) ?? false),
        instrument.tickSize * instrument.pointValue * quantity,
        (lot.riskPerUnit ?? 0) * quantity * pointMoney,
      );
    const trade = totals
      ? null
      : tradeOf(
          lot,
          quantity,
          { reason, exitTag, exitLine, commission, spread, slippage, financing, net },
          {
            id: account.trades,
            symbol: instrument.symbol,
            price: fill.price,
            timeMs: state.timeMs,
            barIndex: state.barIndex,
            pointMoney,
            atStake: dependent?.get(lot.order.id),
          },
        );
    account.cash += realised;
    lot.quantity = withoutNoise(lot.quantity - quantity, instrument);
    if (!(lot.quantity > 0)) {
      this.#exits.detachAll(lot);
      if (lots.length === 1) lots.pop();
      else lots.splice(lots.indexOf(lot), 1);
    }
    this.recount();
    this.#orders.shrinkExits(lot);
    if (state.outcome) state.report(lot.order.id, `close ${quantity} ${fill.price}`, realised);
    if (trade) state.listener?.closed(trade);
  }

  /** Units and basis, after the lots have changed. */
  recount(): void {
    let units = 0;
    let gross = 0;
    let money = 0;
    const state = this.#state;
    const { lots } = state;
    for (let k = 0; k < lots.length; k++) {
      const lot = lots[k]!;
      gross += lot.quantity;
      units += lot.side * lot.quantity;
      money += lot.side * lot.quantity * lot.entryPrice;
    }
    if (units !== state.units || money !== state.basisMoney) state.account.staleRuin();
    state.units = units;
    state.grossUnits = gross;
    state.basisMoney = money;
  }

  /** Charges open lots for nights held (R5.4). */
  chargeNights(nights: number): void {
    const { costs, lots, account, triggers } = this.#state;
    const { financingLong, financingShort } = costs;
    for (const lot of lots) {
      const perUnit = nights * (lot.side > 0 ? financingLong : financingShort);
      lot.financingPerUnit += perUnit;
      account.cash -= perUnit * lot.quantity;
    }
    account.staleRuin();
    triggers.changed();
  }

  /** Marks open positions out at a price without costs (R5.6). */
  markOut(price: number): void {
    const state = this.#state;
    for (const lot of [...state.lots]) {
      const { cash } = state.account;
      const fill: Fill = {
        ...this.fill(lot.order, "end of data", -lot.side as Side, lot.quantity, price, 0, ""),
        ...{ commission: 0, spread: 0, line: 0 },
      };
      // Nothing was traded: nothing is paid.
      state.account.cash = cash;
      this.#closePart(lot, lot.quantity, fill, "end of data", "", 0);
    }
    this.#orders.leaveOrphans();
  }
}
