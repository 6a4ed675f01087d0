/** Messages between the server and the processes that run plans. Structured-clone safe; nothing here is executable. */
import type { FirstFigures } from "@plan-tester/contract";
import type {
  BarSeries,
  EngineSettings,
  ExitKit,
  Fill,
  InputSpec,
  InputValues,
  Instrument,
  LogLine,
  LookAheadReport,
  LotState,
  Order,
  OrderChange,
  OrderTicket,
  PlanFailure,
  RunResult,
  Slip,
  Strip,
  TraceSteps,
  Trade,
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
  readonly equity: readonly Float64Array[];
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

/** Starts a plan on a live feed: history first, then bars one by one. */
export interface LiveStartMessage {
  readonly type: "live-start";
  readonly id: number;
  readonly source: string;
  readonly inputs: InputValues;
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
  readonly series: BarSeries;
  readonly account: AccountState;
}

/** The venue's word on an account. */
export interface AccountState {
  readonly cash: number;
  readonly lots: readonly LotState[];
  readonly orders: readonly Order[];
}

/** A bar of the plan's timeframe has completed. */
export interface LiveBarMessage {
  readonly type: "live-bar";
  readonly id: number;
  readonly series: BarSeries;
}

/** Time goes on without a bar of the plan's timeframe being complete: clock actions may be due. */
export interface LiveClockMessage {
  readonly type: "live-clock";
  readonly id: number;
  readonly timeMs: number;
}

/** Something happened on the account. */
export interface LiveAccountMessage {
  readonly type: "live-account";
  readonly id: number;
  readonly account: AccountState;
  readonly fills: readonly Fill[];
  readonly trades: readonly Trade[];
  readonly ended: readonly Order[];
}

export type ToChild =
  | DataMessage
  | PieceMessage
  | ForgetMessage
  | DescribeMessage
  | RunMessage
  | AssembleMessage
  | SweepMessage
  | LookAheadMessage
  | TraceMessage
  | StopMessage
  | LiveStartMessage
  | LiveBarMessage
  | LiveClockMessage
  | LiveAccountMessage;

export interface PlanDescription {
  readonly title: string;
  readonly inputs: readonly InputSpec[];
}

/** What a plan asks of its account. */
export type LiveCommand =
  | {
      readonly kind: "submit";
      readonly clientId: number;
      readonly request: OrderTicket;
    }
  | { readonly kind: "cancel"; readonly clientId: number }
  | { readonly kind: "modify"; readonly clientId: number; readonly change: OrderChange }
  | { readonly kind: "exit"; readonly which: "stop" | "target"; readonly price: number | null };

export type FromChild =
  | { readonly type: "ready" }
  | { readonly type: "traced"; readonly id: number; readonly findings: TraceFindings }
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
      readonly failures: readonly { readonly variant: number; readonly message: string }[];
      /** Memory that the process holds, bytes. */
      readonly memoryBytes: number;
    }
  | {
      readonly type: "live";
      readonly id: number;
      readonly commands: readonly LiveCommand[];
      readonly log: readonly LogLine[];
      readonly failure: PlanFailure | null;
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
