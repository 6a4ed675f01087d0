/** Messages between the server and the processes that run plans. Structured-clone safe; nothing here is executable. */
import type { ConditionEvidence, FirstFigures } from "@plan-tester/contract";
import type {
  AccountLimits,
  AccountReport,
  Alteration,
  BarColumns,
  BarSeries,
  ChartNote,
  Drift,
  DriftLeg,
  DriftMark,
  EngineSettings,
  ExitKit,
  Fill,
  InputSpec,
  InputValues,
  Instrument,
  KitMemory,
  LiveView,
  LogLine,
  LookAheadReport,
  LookedAt,
  MatchedTrade,
  Order,
  OwnFigure,
  PlanCommand,
  PlanFailure,
  ReplayFeed,
  RetryLimits,
  RunResult,
  Slip,
  Strip,
  TraceSteps,
  Trade,
  VenueWord,
} from "@plan-tester/core";
import type { PieceMessage } from "./pieces.ts";
import type { TracePlaces } from "./trace-marks.ts";

export interface FinerData {
  readonly series: BarSeries;
  readonly first: Int32Array;
}

/** Bars by a key of the sender's choosing, between the threads of a plan process; to the process they come in pieces. */
export interface DataMessage {
  readonly type: "data";
  readonly key: string;
  readonly series: BarSeries;
  /** Bars of the series that lie ahead of the period, for warm-up. */
  readonly lead: number;
  readonly finer: FinerData | null;
}

/** How a market without memory is made. */
export interface Surrogate {
  /** The key of the bars it is made of. */
  readonly of: string;
  readonly tickSize: number;
  readonly seed: number;
}

/** One that is to be made of bars that are there, under a key of its own. */
export interface SurrogateMessage extends Surrogate {
  readonly type: "surrogate";
  readonly key: string;
}

/** Bars that nobody is going to ask for without sending them anew. */
export interface ForgetMessage {
  readonly type: "forget";
  readonly key: string;
}

export interface DescribeMessage {
  readonly type: "describe";
  readonly id: number;
  readonly source: string;
}

export interface RunMessage {
  readonly type: "run";
  readonly id: number;
  readonly source: string;
  readonly inputs: InputValues;
  /** The plan's own instrument first. */
  readonly feeds: readonly FeedKey[];
  readonly settings: EngineSettings;
  /** A result as it is; or a report, judged, hashed and written as bytes, for one who only hands it on; or its head alone. */
  readonly answer: "result" | "report" | "head";
}

/** Several plans on one account. */
export interface BlendMessage {
  readonly type: "blend";
  readonly id: number;
  readonly cash: number;
  readonly limits: AccountLimits | null;
  readonly members: readonly (Pick<RunMessage, "source" | "inputs" | "feeds" | "settings"> & {
    readonly runId: string;
    readonly name: string;
    readonly rate: number;
  })[];
}

/** Trades of a part of a run that is put together: JSON text of an array, and how many bars lie before the part. */
export interface TradesPiece {
  readonly text: Uint8Array;
  readonly barOffset: number;
}

/** A report of a run put together from its trades and its equity: what is left where its process died, or later periods in a row. */
export interface AssembleMessage extends Omit<RunMessage, "type" | "inputs" | "answer"> {
  readonly type: "assemble";
  /** Bars that `equity` has values of. */
  readonly done: number;
  /** Why it ended early; "" where it did not. */
  readonly message: string;
  readonly trades: readonly TradesPiece[];
  /** null: worked out from the trades. */
  readonly equity: readonly Float64Array[] | null;
}

/** Long parts of a report. */
export type ReportPart = "trades" | "orders" | "columns";

/** Everything of a result that doesn't grow with trades, orders and bars. */
export interface ReportHead extends Omit<RunResult, ReportPart | "fills" | "equity" | "plots"> {
  readonly plots: readonly { readonly label: string; readonly pane: "price" | "own"; readonly shift: number }[];
  readonly slips: readonly Slip[];
  readonly resultHash: string;
}

/** An instrument of a run, and the key of its bars. */
export interface FeedKey {
  readonly instrument: Instrument;
  readonly dataKey: string;
}

/** Variants of one plan, each run on every stretch; answered with figures only. */
export interface SweepMessage {
  readonly type: "sweep";
  readonly id: number;
  readonly source: string;
  readonly variants: readonly InputValues[];
  /** The exit kit of each variant, where kits differ between them; null for that of the settings. */
  readonly kits: readonly (ExitKit | null)[] | null;
  /** For each stretch its instruments. */
  readonly stretches: readonly (readonly FeedKey[])[];
  readonly settings: EngineSettings;
  /** Variants, by their number in the batch, whose daily returns on the first stretch are wanted too. */
  readonly dailyOf: readonly number[];
  /** For each variant the conditions that are another in it, where they are in any. */
  readonly changes: readonly (RuleChange | null)[] | null;
  /** Variants, by their number in the batch, whose trades on the first stretch are wanted too. */
  readonly tradesOf: readonly number[];
}

/** Conditions of a plan, by the names that it gives to them, in whose place others are put. */
export interface RuleChange {
  readonly names: readonly string[];
  readonly alteration: Alteration;
}

/** Compares the plan with itself on bars that have another future, at many places (R7.1). */
export interface LookAheadMessage extends Omit<RunMessage, "type" | "answer"> {
  readonly type: "look-ahead";
}

/** Runs the plan once more and looks into it: to the end, or to the end of a stretch of bars that is wanted step by step. */
export interface TraceMessage extends Omit<RunMessage, "type" | "answer"> {
  readonly type: "trace";
  readonly stretch: { readonly from: number; readonly to: number } | null;
}

/** What the conditions that a plan names are on the bars of a period, without a run of it. */
export interface HoldingsMessage extends Omit<RunMessage, "type" | "answer"> {
  readonly type: "holdings";
  /** Equal parts of the period of which each share is told. */
  readonly parts: number;
}

/** What a traced pass has found out. */
export interface TraceFindings {
  readonly places: TracePlaces;
  /** How often each statement ran. */
  readonly counts: readonly number[];
  readonly strips: readonly Strip[];
  readonly steps: TraceSteps | null;
}

export interface StopMessage {
  readonly type: "stop";
  readonly id: number;
}

/** One instrument of a plan on a live feed. */
export interface LiveFeedData {
  readonly instrument: Instrument;
  /** Completed bars of the plan's timeframe, as far back as was asked for. */
  readonly history: BarSeries;
  /** Whether there are bars ahead of them. */
  readonly hasMore: boolean;
  /** Minutes since. */
  readonly minutes: BarColumns;
}

/** Starts a plan on a live feed; answered with "live", or with "live-needs" where it takes more bars to warm its studies. */
export interface LiveStartMessage extends LiveMode {
  readonly type: "live-start";
  readonly id: number;
  readonly source: string;
  readonly inputs: InputValues;
  readonly feeds: readonly LiveFeedData[];
  readonly settings: EngineSettings;
  /** UTC milliseconds of the venue's clock. */
  readonly nowMs: number;
  readonly account: AccountReport;
  readonly lastReport: number;
  /** A bar that is older than this, of the venue's clock, sends no entry (R8.3). */
  readonly patienceMs: number;
  /** It was at work before: what its start sends is not sent again. */
  readonly isResumed: boolean;
  /** What the limits of its kit had counted, one for each instrument; null where it begins, or has no kit. */
  readonly kit: readonly KitMemory[] | null;
}

/** Something that the venue has said. */
export interface LiveWordMessage {
  readonly type: "live-word";
  readonly id: number;
  /** Words ahead of it that nobody had to answer. */
  readonly before: readonly VenueWord[];
  readonly word: VenueWord;
  /** How old what it says was when it was passed on, of the venue's clock; and that clock's speed since. */
  readonly ageMs: number;
  readonly speed: number;
  /** Date.now() when it was passed on. */
  readonly sentMs: number;
}

/** Which orders wait for somebody's word before they are sent. */
export type AskFor = "nothing" | "entries" | "everything";

/** How a plan at work may act. */
export interface LiveMode {
  /** Why it may send no entries; "" where it may. */
  readonly noEntries: string;
  readonly askFor: AskFor;
  /** How often an order that the venue refuses is sent again. */
  readonly retries: RetryLimits;
}

/** How the plan may act from here on. */
export interface LiveModeMessage extends LiveMode {
  readonly type: "live-mode";
  readonly id: number;
}

/** Somebody has said whether an order is to be sent. */
export interface LiveSettleMessage {
  readonly type: "live-settle";
  readonly id: number;
  readonly orderId: number;
  readonly isAccepted: boolean;
  /** Why it was not sent. */
  readonly note: string;
}

/** An order that waits for somebody's word. */
export interface AskedOrder {
  readonly symbol: string;
  readonly order: Order;
}

export interface HeldOrder extends AskedOrder {
  readonly reason: string;
  /** Its mode, or that it is paused; that it was resumed; the age of the bar; or that the entry before it was not confirmed. */
  readonly cause: "mode" | "restart" | "lag" | "connection";
}

/** Bars are to be looked at, with what the plan shows on them. */
export interface LiveViewMessage {
  readonly type: "live-view";
  readonly id: number;
  readonly lookedAt: LookedAt;
}

/** What a watch did against the backtest of what it has seen since it began is wanted. */
export interface ReplayMessage {
  readonly type: "replay";
  readonly id: number;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: EngineSettings;
  readonly feeds: readonly ReplayFeed[];
  readonly startMs: number;
  readonly endMs: number;
  /** Trades of the watch, and what is open on it. */
  readonly traded: readonly DriftLeg[];
  readonly marks: readonly DriftMark[];
  /** Length of its bars, milliseconds. */
  readonly barMs: number;
}

/** The drift of a watch, as of the last bar that is complete on every instrument. */
export interface Compared extends Drift {
  readonly untilMs: number;
}

/** The plan is to end: it hears of it. */
export interface LiveEndMessage {
  readonly type: "live-end";
  readonly id: number;
}

export type ToChild =
  | DataMessage
  | PieceMessage
  | SurrogateMessage
  | ForgetMessage
  | DescribeMessage
  | RunMessage
  | BlendMessage
  | AssembleMessage
  | SweepMessage
  | LookAheadMessage
  | TraceMessage
  | HoldingsMessage
  | StopMessage
  | ReplayMessage
  | LiveStartMessage
  | LiveWordMessage
  | LiveModeMessage
  | LiveSettleMessage
  | LiveViewMessage
  | LiveEndMessage;

export interface PlanDescription {
  readonly title: string;
  readonly inputs: readonly InputSpec[];
}

export type FromChild =
  | { readonly type: "ready" }
  | { readonly type: "traced"; readonly id: number; readonly findings: TraceFindings }
  | { readonly type: "held"; readonly id: number; readonly bars: number; readonly holdings: readonly ConditionEvidence[] }
  /** The columns have gone ahead as parts. */
  | { readonly type: "blended"; readonly id: number }
  | { readonly type: "looked"; readonly id: number; readonly report: LookAheadReport }
  | { readonly type: "described"; readonly id: number; readonly description: PlanDescription }
  | {
      readonly type: "progress";
      readonly id: number;
      readonly done: number;
      readonly total: number;
      /** JSON text of an array of the trades since the last message, or empty. */
      readonly trades: Uint8Array;
      readonly equity: Float64Array;
    }
  | { readonly type: "figures"; readonly id: number; readonly figures: FirstFigures }
  | { readonly type: "part"; readonly id: number; readonly part: ReportPart; readonly bytes: Uint8Array }
  | {
      readonly type: "report";
      readonly id: number;
      readonly description: PlanDescription;
      readonly inputs: InputValues;
      readonly head: ReportHead;
      readonly elapsedMs: number;
    }
  | {
      readonly type: "result";
      readonly id: number;
      readonly description: PlanDescription;
      readonly inputs: InputValues;
      readonly result: RunResult;
      readonly elapsedMs: number;
    }
  | {
      readonly type: "swept";
      readonly id: number;
      readonly figures: Float64Array;
      /** Daily returns on the first stretch, a row for each of `dailyOf`; one that failed has zeros. null where there are none. */
      readonly daily: Float32Array | null;
      /** Trades on the first stretch, a list for each of `tradesOf`. */
      readonly trades: readonly (readonly MatchedTrade[])[];
      readonly failures: readonly { readonly variant: number; readonly message: string }[];
      /** Memory that the process holds, bytes. */
      readonly memoryBytes: number;
    }
  /** Its studies matter to so many bars of its timeframe; Infinity for all there are. */
  | { readonly type: "live-needs"; readonly id: number; readonly bars: number }
  | { readonly type: "replayed"; readonly id: number; readonly compared: Compared }
  /** null after the plan has failed. */
  | { readonly type: "live-viewed"; readonly id: number; readonly view: LiveView | null; readonly notes: readonly ChartNote[] }
  /** Answers a start, a word and an end, each with what came of it. */
  | {
      readonly type: "live";
      readonly id: number;
      readonly commands: readonly PlanCommand[];
      readonly log: readonly LogLine[];
      readonly fills: readonly Fill[];
      readonly trades: readonly Trade[];
      readonly notes: readonly ChartNote[];
      readonly figures: readonly OwnFigure[];
      readonly failure: PlanFailure | null;
      /** Orders that wait for somebody's word. */
      readonly asked: readonly AskedOrder[];
      /** Entries that were not let through, with the reason. */
      readonly held: readonly HeldOrder[];
      readonly wantsPrice: boolean;
      /** What the limits of its kit have counted, where that has changed since the last answer; null where it has not. */
      readonly kit: readonly KitMemory[] | null;
      /** Openings and closings of minutes before this time bring nothing about, unless something else is heard first. */
      readonly quietUntilMs: number;
      /** How old what it answers was when the plan's handlers ran, of the venue's clock. */
      readonly ageMs: number;
    }
  | { readonly type: "error"; readonly id: number; readonly code: string; readonly message: string; readonly failure: PlanFailure | null };

/** What passes between the server and a plan process: to a thread, and from one. */
export type ToThread =
  | { readonly thread: number; readonly message: ToChild }
  /** Its thread is to be ended, and why. */
  | { readonly thread: number; readonly end: string };

export type FromThread =
  | { readonly thread: number; readonly message: FromChild }
  /** Its thread has ended, and why; a new one takes its place. */
  | { readonly thread: number; readonly died: string };

/** How a plan process answers; settles when the message has gone out. */
export type Send = (message: FromChild) => Promise<void>;
