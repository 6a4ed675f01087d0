/** What the practice venue says on its own network interface. */
import type { Fill, LotState, Order, Trade } from "@plan-tester/core";

export interface VenueBar {
  readonly time: number;
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number;
  readonly spread: number;
}

export interface AccountReport {
  readonly id: string;
  readonly symbol: string;
  readonly cash: number;
  readonly equity: number;
  readonly lastPrice: number | null;
  readonly lots: readonly LotState[];
  readonly orders: readonly Order[];
}

/** Where the venue's clock stands. */
export interface VenueClock {
  readonly nowMs: number;
  readonly speed: number;
  /** Why its state is not written down at present; "" while it is. */
  readonly trouble: string;
}

export type VenueMessage =
  | ({ readonly type: "status" } & VenueClock)
  | { readonly type: "bar"; readonly symbol: string; readonly bar: VenueBar }
  | {
      readonly type: "account";
      readonly account: AccountReport;
      readonly fills: readonly Fill[];
      readonly trades: readonly Trade[];
      readonly ended: readonly Order[];
    };
