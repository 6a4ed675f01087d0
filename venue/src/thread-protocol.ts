/** What passes between the venue's process and the thread that its exchange lives in. */
import type { OtherTrade, PriceJump } from "@plan-tester/contract";
import type { BarColumns, ErrorCode } from "@plan-tester/core";
import type { AccountFacts, OrderFaults } from "./exchange.ts";
import type { ClientMessage, OwnerHolding, VenueClock, VenueMessage } from "./protocol.ts";

/** Questions and what answers them. */
export interface Asked {
  status: { readonly ask: Record<never, never>; readonly answer: VenueClock };
  setClock: { readonly ask: { readonly speed?: number | undefined; readonly holds?: boolean | undefined }; readonly answer: VenueClock };
  bars: { readonly ask: { readonly symbol: string; readonly fromMs: number }; readonly answer: BarColumns };
  openAccount: { readonly ask: AccountFacts; readonly answer: null };
  closeAccount: { readonly ask: { readonly id: string }; readonly answer: null };
  holdings: { readonly ask: Record<never, never>; readonly answer: readonly OwnerHolding[] };
  /** Answers with what there is now. */
  orderFaults: { readonly ask: { readonly change: OrderFaults | null }; readonly answer: OrderFaults };
  cancel: { readonly ask: { readonly id: string; readonly owner: string; readonly orderId: number }; readonly answer: boolean };
  flatten: {
    readonly ask: { readonly id: string; readonly owner: string; readonly only: "everything" | "others" };
    readonly answer: null;
  };
  jump: { readonly ask: PriceJump; readonly answer: null };
  trade: { readonly ask: { readonly id: string; readonly owner: string } & OtherTrade; readonly answer: null };
}
export type AskName = keyof Asked;
export type Question = { [Name in AskName]: { readonly name: Name; readonly given: Asked[Name]["ask"] } }[AskName];

export type ToExchange =
  | { readonly type: "client"; readonly client: number; readonly message: ClientMessage }
  | { readonly type: "gone"; readonly client: number }
  | { readonly type: "ask"; readonly id: number; readonly question: Question }
  | { readonly type: "stop" };

export type FromExchange =
  /** @property clients to whom; null to everybody */
  | { readonly type: "say"; readonly clients: readonly number[] | null; readonly message: VenueMessage }
  | { readonly type: "answer"; readonly id: number; readonly answer: unknown }
  | { readonly type: "refusal"; readonly id: number; readonly code: ErrorCode; readonly message: string }
  | { readonly type: "stopped" };

/** Both are given to the thread when it starts. */
export interface ThreadStart {
  readonly stateFile: string;
  /** Counts up when a message has been posted to the thread, which may be waiting for it. */
  readonly signal: SharedArrayBuffer;
}
