/** How a venue tells of an account, and what can be asked of one of its orders. */
import type { Side } from "./orders.ts";

/** An open lot as a venue tells of it. */
export interface LotState {
  readonly orderId: number;
  readonly side: Side;
  readonly quantity: number;
  readonly entryPrice: number;
  /** UTC milliseconds. */
  readonly entryTime: number;
  readonly tag: string;
  /** Highest and lowest path price since the entry. */
  readonly high: number;
  readonly low: number;
  readonly stop: number | null;
  readonly target: number | null;
}

/** What is left out stays as it is. */
export interface OrderChange {
  readonly price?: number;
  readonly quantity?: number;
  readonly limitPrice?: number;
}
