export type { Fill, Order, Trade } from "@plan-tester/core";

/** An open lot as the venue reports it. */
export interface LotState {
  readonly orderId: number;
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly entryPrice: number;
  readonly entryTime: number;
  readonly tag: string;
  readonly high: number;
  readonly low: number;
  readonly stop: number | null;
  readonly target: number | null;
}
