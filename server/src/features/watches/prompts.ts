/** Orders of a plan that wait for the user's word, and what silence does: they lapse. */
import type { WatchPrompt } from "@plan-tester/contract";
import type { Distance, Instrument } from "@plan-tester/core";
import type { AskedOrder } from "@plan-tester/runner";
import { orNull } from "./account-view.ts";
import { orderWords } from "./watch-texts.ts";

/** A prompt, and what it asks in words. */
export interface AskedPrompt extends WatchPrompt {
  readonly words: string;
}

function distanceWords(distance: Distance | null): string {
  if (!distance) return "";
  // Of what a plan has worked out, such as twice an average range, nobody reads more digits.
  const value = Number(distance.value.toPrecision(6));
  return distance.unit === "price" ? String(value) : `${value} ${distance.unit}`;
}

/** What an order trades, and account money for a move of one price unit of one unit. */
interface Traded {
  readonly instrument: Instrument;
  readonly pointMoney: number;
}

/** Account money lost at a stop; null where that can't be told before the fill. */
function riskOf({ order }: AskedOrder, { instrument, pointMoney }: Traded): number | null {
  const { stopLoss, quantity, price } = order;
  if (!stopLoss || !Number.isFinite(quantity)) return null;
  const money = quantity * pointMoney;
  switch (stopLoss.unit) {
    case "ticks":
      return stopLoss.value * instrument.tickSize * money;
    case "pips":
      return stopLoss.value * instrument.pipSize * money;
    case "points":
      return stopLoss.value * money;
    case "money":
      return stopLoss.value;
    case "money per unit":
      return stopLoss.value * quantity;
    case "percent":
      return Number.isFinite(price) ? (stopLoss.value / 100) * price * money : null;
    case "price":
      return Number.isFinite(price) ? Math.abs(price - stopLoss.value) * money : null;
    case "R":
      return null;
  }
}

export class Prompts {
  readonly #settle: (orderId: number, isAccepted: boolean, note: string) => void;
  #open: AskedPrompt[] = [];
  /** Answered; the plan has not been told yet. */
  readonly #answered = new Set<number>();

  constructor(settle: (orderId: number, isAccepted: boolean, note: string) => void) {
    this.#settle = settle;
  }

  get list(): readonly WatchPrompt[] {
    return this.#open.map(({ words: _words, ...prompt }) => prompt);
  }

  find(orderId: number): WatchPrompt | undefined {
    return this.#open.find((prompt) => prompt.orderId === orderId);
  }

  /**
   * The orders that wait by the plan's word.
   * @param lastMs how long a prompt stands @param barMs after which its bar is over
   * @returns those that are new
   */
  take(
    asked: readonly AskedOrder[],
    nowMs: number,
    lastMs: number,
    barMs: number,
    tradedBy: (asked: AskedOrder) => Traded,
  ): readonly AskedPrompt[] {
    const ids = new Set(asked.map(({ order }) => order.id));
    for (const id of this.#answered) if (!ids.has(id)) this.#answered.delete(id);
    this.#open = this.#open.filter(({ orderId }) => ids.has(orderId));
    const fresh = asked
      .filter(({ order }) => !this.#answered.has(order.id) && !this.find(order.id))
      .map((one): AskedPrompt => {
        const { order, symbol } = one;
        const traded = tradedBy(one);
        return {
          ...{ orderId: order.id, symbol, side: order.side > 0 ? "buy" : "sell", intent: order.intent, kind: order.kind },
          ...{ quantity: orNull(order.quantity), price: orNull(order.price), tag: order.tag, line: order.line },
          ...{ stop: distanceWords(order.stopLoss), target: distanceWords(order.target), risk: riskOf(one, traded) },
          ...{ sentMs: nowMs, barOverMs: nowMs + barMs, deadlineMs: nowMs + lastMs },
          words: `may order ${order.id} be sent? ${orderWords(order, traded.instrument)}`,
        };
      });
    this.#open.push(...fresh);
    return fresh;
  }

  answer(orderId: number, isAccepted: boolean, note: string): void {
    this.#open = this.#open.filter((prompt) => prompt.orderId !== orderId);
    this.#answered.add(orderId);
    this.#settle(orderId, isAccepted, note);
  }

  /** It is this time: what nobody has answered by its deadline is not sent. */
  lapse(nowMs: number): void {
    for (const { orderId, deadlineMs } of this.#open) if (nowMs >= deadlineMs) this.answer(orderId, false, "lapsed: nobody answered");
  }

  clear(): void {
    this.#open = [];
  }
}
