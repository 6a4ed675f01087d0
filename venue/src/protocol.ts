/** What the practice venue and its clients say to each other on the WebSocket; see docs/venues.md. Times are UTC milliseconds of the venue's clock. */
import type { AccountReport, EventReport, MinuteBar, PlanCommand } from "@plan-tester/core";

/** Where the venue's clock stands. */
export interface VenueClock {
  readonly nowMs: number;
  /** Market minutes for a real one, as wanted. */
  readonly speed: number;
  /** The same as reached of late. */
  readonly pace: number;
  /** The clock holds until what was said has been answered; else the market waits for nobody. */
  readonly holds: boolean;
  /** Why its state is not written down at present; "" while it is. */
  readonly trouble: string;
}

/** What is answered when a client asks how the venue is. */
export interface VenueAnswer extends VenueClock {
  /** Real time by the venue's own clock, UTC milliseconds: by it a client knows how far that is wrong. */
  readonly saidMs: number;
  /** false where it gives data alone: watches are in the mode "alerts only" then. */
  readonly takesOrders: boolean;
}

/** An account as one of its owners sees it. */
export interface OwnerReport {
  readonly account: string;
  readonly owner: string;
  readonly report: AccountReport;
}

export interface SymbolMinute {
  readonly symbol: string;
  readonly bar: MinuteBar;
}

/** When a word was said: its number, and the real time. */
interface Numbered {
  readonly seq: number;
  /** Real time, UTC milliseconds, when it was said. */
  readonly saidMs: number;
}

/** What has to be acknowledged by its number once everything that it brought about has been sent. */
export type VenueWordMessage = Numbered &
  (
    | {
        readonly type: "opening";
        readonly timeMs: number;
        readonly symbols: readonly string[];
        readonly accounts: readonly OwnerReport[];
      }
    | {
        readonly type: "closing";
        readonly timeMs: number;
        readonly minutes: readonly SymbolMinute[];
        readonly accounts: readonly OwnerReport[];
      }
    | {
        readonly type: "price";
        readonly timeMs: number;
        readonly symbol: string;
        readonly price: number;
        readonly accounts: readonly OwnerReport[];
      }
    | ({ readonly type: "report"; readonly timeMs: number; readonly to: Address } & EventReport)
  );

/** One owner on one account. */
export interface Address {
  readonly account: string;
  readonly owner: string;
}

/** Answers "follow": the account as it is, and reports that the client has not had. */
export interface FollowedMessage extends Address {
  readonly type: "followed";
  readonly timeMs: number;
  readonly report: AccountReport;
  readonly lastReport: number;
  /** Another one after each start of the venue: what it had told before, and not written down, it knows no longer. */
  readonly epoch: string;
  /** The owner's last report that was written down when the venue started; null where the account is younger than that. */
  readonly restored: number | null;
  /** Reports after the one that the client named; null where they are not kept any more. */
  readonly missed: readonly (EventReport & { readonly timeMs: number })[] | null;
}

export type VenueMessage =
  | ({ readonly type: "status" } & VenueClock)
  /** Minutes that are open, as far as their prices have gone: to look at, not to be answered. */
  | { readonly type: "forming"; readonly timeMs: number; readonly minutes: readonly SymbolMinute[] }
  | VenueWordMessage
  | FollowedMessage
  /** Commands were not taken: others are awaited first, or the account is not there. */
  | ({ readonly type: "refused"; readonly awaited: number; readonly reason: string } & Address);

export type ClientMessage =
  /** @property answers whether the clock is to wait for this client */
  | { readonly type: "hello"; readonly answers: boolean }
  | ({ readonly type: "follow"; readonly after: number; readonly prices: boolean } & Address)
  | ({ readonly type: "leave" } & Address)
  | ({ readonly type: "commands"; readonly first: number; readonly commands: readonly PlanCommand[] } & Address)
  | { readonly type: "ack"; readonly seq: number };

/** What is open and waiting at the venue, of one owner. */
export interface OwnerHolding extends OwnerReport {
  readonly equity: number;
}
