/** What a watch is, what is remembered of it, and what it needs of the server around it. */
import type { RunSettings, WatchOptions } from "@plan-tester/contract";
import type { AccountReport, EngineSettings, InputValues, Instrument, KitMemory, Trade, VenueWord } from "@plan-tester/core";
import type { LiveFeedData } from "@plan-tester/runner";
import type { WorkingPlan } from "./plan-at-work.ts";
import type { VenueClient } from "./venue-client.ts";
import type { NewEvent } from "./watch-texts.ts";

export interface WatchFacts {
  readonly id: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
  readonly createdMs: number;
}

/** What a watch runs. */
export type WatchedPlan = Pick<WatchFacts, "source" | "inputs">;

/** What of a watch can be changed while it is at work, or was written down of it. */
export interface WatchMemory {
  name: string;
  options: WatchOptions;
  isPaused: boolean;
  lastReport: number;
  /** Of the venue's process that told it; "" before there was one. */
  epoch: string;
  held: AccountReport | null;
  trades: number;
  net: number;
  endReason: string;
  hasEnded: boolean;
  /** What the limits of its kit have counted, one for each instrument; null before there is something. */
  kit: readonly KitMemory[] | null;
  /** What takes over when nothing is open. */
  pending: WatchedPlan | null;
  /** Hash of the plan's text that is not wanted. */
  declined: string;
}

/** What is to be written down together. */
export interface WatchNews {
  readonly events?: readonly NewEvent[];
  readonly trades?: readonly Trade[];
  readonly memory?: Partial<
    Pick<
      WatchMemory,
      "name" | "options" | "isPaused" | "lastReport" | "epoch" | "held" | "kit" | "endReason" | "hasEnded" | "pending" | "declined"
    >
  >;
  /** The venue has lost what it told after this report: trades of it are struck out first. */
  readonly lostAfter?: number;
  /** It runs something else from now on. */
  readonly plan?: WatchedPlan;
}

export interface WatchParts {
  readonly venue: Pick<VenueClient, "send" | "flatten" | "cancel">;
  /** Starts a process for the plan. @param onEnd told once, when it ends by itself */
  readonly plan: (onEnd: (reason: string) => void) => WorkingPlan;
  readonly instruments: readonly Instrument[];
  readonly engine: EngineSettings;
  /** So many bars of history of each instrument, and the minutes since up to a time of the venue's clock. */
  readonly feeds: (bars: number, nowMs: number) => Promise<readonly LiveFeedData[]>;
  /** Minutes of an instrument that are over, from one time to another. */
  readonly minutes: (fromMs: number, toMs: number) => Promise<readonly Extract<VenueWord, { type: "closing" }>[]>;
  readonly happened: (news: WatchNews) => void;
  /** Its trades, once all that happened is written down. */
  readonly trades: () => Promise<readonly Trade[]>;
  /** It runs something else than before. */
  readonly renewed: (before: WatchFacts, now: WatchFacts) => void;
  /** Where the venue's clock stands, and how fast it goes. */
  readonly clock: () => { readonly nowMs: number; readonly speed: number; readonly holds: boolean };
}
