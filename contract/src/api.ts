/** What the server answers. Requests and everything a user can write are in `schemas.ts`. */
import type {
  BenchmarkFigures,
  ChartNote,
  CsvLayout,
  Drift,
  DriftMark,
  Examined,
  ExitKit,
  Fill,
  FoundCalendar,
  InputSpec,
  InputValue,
  InputValues,
  Instrument,
  LogLine,
  LookAheadReport,
  Order,
  Overlap,
  OwnFigure,
  Period,
  PlanFailure,
  RuleEarnings,
  RunFigures,
  RunStatus,
  Slip,
  SweepFigure,
  TraceSteps,
  Trade,
  TradeFigures,
  Warning,
} from "@plan-tester/core";
import type { AlertLevel } from "./alerts.ts";
import type { BinKind, RetentionRules, RunSettings, SweepSetup, VariantMarket, WalkForwardSetup, WatchOptions } from "./schemas.ts";

export interface ApiError {
  readonly error: { readonly code: string; readonly message: string; readonly details: Readonly<Record<string, unknown>> };
}

/** The facts of an instrument were changed: when, and what. */
export interface FactsChange {
  readonly atMs: number;
  readonly changes: readonly string[];
}

/** Sessions that the bars of an instrument show; null where there is too little to tell from. */
export interface FoundSessions {
  readonly found: FoundCalendar | null;
  /** Calendars of the other instruments, those that fit best first; of equal ones that of the first instrument. */
  readonly known: readonly (FoundCalendar & { readonly symbol: string })[];
}

export interface Market {
  /** Newest last. */
  readonly factsChanges: readonly FactsChange[];
  /** Whether the data carry a spread of their own for each bar. */
  readonly hasSpreadColumn: boolean;
  readonly instrument: Instrument;
  /** Put out of the way: it is there, and offered nowhere. */
  readonly isArchived: boolean;
  readonly origin: "demo" | "import";
  readonly timeframe: string;
  readonly bars: number;
  readonly firstMs: number;
  readonly lastMs: number;
  readonly firstDate: string;
  readonly lastDate: string;
  readonly sessions: number;
  readonly dataHash: string;
}

/** Instruments under a name of one's own. One that is not there any more may come back. */
export interface InstrumentList {
  readonly id: string;
  readonly name: string;
  readonly symbols: readonly string[];
}

/** One close a session: for the history ribbon. */
export interface HistoryThumbnail {
  readonly dates: readonly string[];
  readonly closes: readonly number[];
  /** Bars of each session in the data's own timeframe. */
  readonly bars: readonly number[];
}

export interface PlanSummary {
  readonly id: string;
  readonly title: string;
  readonly symbol: string;
  readonly timeframe: string;
  readonly updatedMs: number;
  readonly note: string;
  /** Main figures of the last kept run. */
  readonly lastRun: RunSummary | null;
}

export interface PlanDetail {
  readonly id: string;
  readonly title: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
  readonly note: string;
  readonly updatedMs: number;
  /** First session date that no run or sweep may reach; empty where none is kept back. */
  readonly reservedFrom: string;
  /** Counts its saves. */
  readonly revision: number;
}

/** The last draft run of a plan: the evidence that its Bench shows again. */
export interface LastDraft {
  readonly runId: string | null;
}

/** A module of the workspace: plans import it by name. */
export interface PlanModule {
  readonly name: string;
  readonly source: string;
}

export interface PlanDescriptionBody {
  readonly title: string;
  readonly inputs: readonly InputSpec[];
}

export interface RunSummary {
  readonly id: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly name: string;
  readonly note: string;
  readonly settings: RunSettings;
  readonly status: RunStatus;
  readonly createdMs: number;
  readonly netProfit: number;
  readonly maxDrawdown: number;
  readonly trades: number;
  readonly sharpe: number | null;
  readonly profitFactor: number | null;
  readonly winRate: number | null;
  readonly averageTrade: number | null;
  readonly returnToDrawdown: number | null;
  readonly totalReturn: number | null;
  readonly tags: readonly string[];
  /** Runs that were asked for together share it; empty for one by itself. */
  readonly batch: string;
  /** Set where it is stitched from the windows of a walk-forward; empty for a run that was made as one. */
  readonly walkForwardId: string;
  /** Up to 60 equity values, evenly spread. */
  readonly spark: readonly number[];
}

/** One page of the kept runs that a query finds. */
export interface RunPage {
  readonly total: number;
  readonly runs: readonly RunSummary[];
}

export interface Facet {
  readonly value: string;
  readonly label: string;
  readonly runs: number;
}

/** What kept runs can be filtered by. */
export interface RunFacets {
  readonly plans: readonly Facet[];
  readonly symbols: readonly Facet[];
  readonly tags: readonly Facet[];
}

export type QueuedState = "waiting" | "running" | "kept" | "stopped" | "failed";

/** How the server is. */
export interface Health {
  /** Whether everything below is as it should be. */
  readonly ok: boolean;
  readonly database: "ok" | "unreadable";
  readonly venue: "connected" | "not connected";
  /** Processes for what users wait for and threads for sweeps: how many there are and how many work. */
  readonly processes: Readonly<Record<"runs" | "sweeps", { readonly size: number; readonly busy: number }>>;
  /** Free bytes of the disk of the data folder; null where it can't be asked. */
  readonly freeBytes: number | null;
  readonly queue: { readonly waiting: number; readonly running: number };
  /** What failed by itself, newest first. */
  readonly troubles: readonly Trouble[];
}

/** Something that the server did by itself and that failed. */
export interface Trouble {
  readonly atMs: number;
  readonly text: string;
}

/** A run in the background. */
export interface QueuedRun {
  readonly id: string;
  readonly batch: string;
  readonly planId: string;
  readonly name: string;
  readonly symbol: string;
  readonly state: QueuedState;
  readonly message: string;
  readonly netProfit: number | null;
}

/** A text that a plan had. */
export interface PlanVersion {
  readonly id: string;
  readonly planId: string;
  readonly createdMs: number;
  readonly name: string;
  readonly lines: number;
}

export interface PlanVersionDetail extends PlanVersion {
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
}

/** A set of inputs and exit kit under a name, on a market of its own or on any. */
export interface Variant {
  readonly id: string;
  readonly planId: string;
  readonly createdMs: number;
  readonly name: string;
  readonly inputs: InputValues;
  readonly kit: ExitKit | null;
  readonly market: VariantMarket | null;
}

/** An exit kit of the workspace's library. Whoever uses it has a copy: a change here changes no plan. */
export interface LibraryKit {
  readonly id: string;
  readonly name: string;
  readonly description: string;
  readonly kit: ExitKit;
  readonly createdMs: number;
  readonly updatedMs: number;
  /** Plans with a kit of this name in their settings or in so many of their variants. */
  readonly usedBy: readonly { readonly planId: string; readonly title: string; readonly variants: number }[];
}

export const TRIAL_KINDS = ["run", "sweep", "walk-forward", "reserve", "watch", "rules", "blend"] as const;
/** What a plan's journal tells of. The last four are no trials: nothing was chosen by them. */
export type TrialKind = (typeof TRIAL_KINDS)[number];

/** Something that was tried with a plan: what was changed since the trial before it, and what came of it. */
export interface Trial {
  readonly id: number;
  readonly planId: string;
  readonly createdMs: number;
  readonly kind: TrialKind;
  readonly runId: string;
  readonly versionId: string;
  readonly settings: RunSettings;
  readonly changes: readonly string[];
  /** How many settings were tried: one for a run. */
  readonly variants: number;
  readonly status: string;
  readonly netProfit: number | null;
  readonly maxDrawdown: number | null;
  readonly trades: number | null;
  readonly sharpe: number | null;
}

/** Figures that came later than the first kept runs. */
type LaterFigure = "worstLosingStreak" | "tradedValue" | "sessionsPerYear" | "pathAtStake" | "openAtEndNet";

/** Figures of a run that may be an old one: null is not known, or not defined. */
export type FiguresBody<Figures> = {
  readonly [Name in keyof Figures]: Name extends LaterFigure ? Figures[Name] | null : Figures[Name];
};

/** A run without its long columns. */
export interface RunEvidence {
  readonly id: string;
  readonly planId: string;
  readonly kept: { readonly name: string; readonly note: string; readonly tags: readonly string[] } | null;
  readonly title: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly inputSpecs: readonly InputSpec[];
  readonly settings: RunSettings;
  readonly fingerprint: string;
  /** Hash of every fill, trade and equity value; empty for runs of before there was one. */
  readonly resultHash: string;
  readonly dataHash: string;
  readonly createdMs: number;
  readonly elapsedMs: number;
  readonly status: RunStatus;
  readonly failure: PlanFailure | null;
  readonly bars: number;
  readonly barsDone: number;
  /** First bar on which handlers could run. */
  readonly firstBar: number;
  readonly firstMs: number;
  readonly lastMs: number;
  readonly figures: FiguresBody<RunFigures>;
  readonly long: FiguresBody<TradeFigures>;
  readonly short: FiguresBody<TradeFigures>;
  readonly benchmarkFigures: BenchmarkFigures;
  readonly months: readonly Period[];
  readonly years: readonly Period[];
  readonly warnings: readonly Warning[];
  /** Set where the run is stitched from the windows of a walk-forward, which has no single setting of inputs; "" for any other. */
  readonly walkForwardId: string;
  /** Set where the run is that of a watch. */
  readonly watched: WatchedRun | null;
  /** Likely slips in the program, by line. */
  readonly slips: readonly Slip[];
  readonly trades: readonly Trade[];
  readonly log: readonly LogLine[];
  /** Texts that the plan put on the chart. */
  readonly notes: readonly ChartNote[];
  /** Figures that the plan worked out itself. */
  readonly ownFigures: readonly OwnFigure[];
  /** `shift` bars to the right of where a value is known is where a chart draws it. */
  readonly plots: readonly { readonly label: string; readonly pane: "price" | "own"; readonly shift: number }[];
  readonly daily: { readonly dates: readonly string[]; readonly equity: readonly number[] };
}

/** What a run came to, told ahead of the rest of its evidence. */
export type FirstFigures = Pick<RunEvidence, "figures" | "benchmarkFigures">;

/** Of the demo world: not made yet, being made, there, or removed. */
export type DemoState = "none" | "making" | "there" | "removed";

export interface DemoStanding {
  readonly state: DemoState;
}

/** Head of bars as columns: time, closeTime, open, high, low, close, volume, and session, an index into `dates`. */
export interface BarsMeta {
  readonly symbol: string;
  readonly timeframe: string;
  readonly zone: string;
  readonly dates: readonly string[];
}

/**
 * Head of what is doubtful about an instrument's bars. Columns of its map, one row a session: `openMs`; `present` (percent of
 * the expected bars of each cell, 255 where none is expected); `doubt` (one more than the place in `DOUBTS`, or 0).
 */
export interface QualityMeta extends Examined {
  readonly zone: string;
  readonly timeframe: string;
  /** Sessions of the map; none for weeks and months, and where the calendar is assumed. */
  readonly dates: readonly string[];
  readonly cells: number;
  readonly cellMinutes: number;
}

/** Head of the daily returns of a sweep: how many settings it compares, and of every how many variants returns are kept. */
export interface DailyReturnsMeta {
  readonly settings: number;
  readonly dailyStride: number;
}

/** Runs that were put into the queue together. */
export interface BatchBegun {
  readonly batch: string;
}

/** Evidence without what grows with the run. */
export type RunHead = Omit<RunEvidence, "trades">;

/** Every statement of a plan - lines and columns from 1, the end not included - and how often it ran. */
export interface LineEvidence {
  readonly statements: readonly { readonly line: number; readonly column: number; readonly endLine: number; readonly endColumn: number }[];
  readonly counts: readonly number[];
}

/** A name that the plan gives to a value, or a test by which it decides, with the line on which it stands. */
export interface TracedPlace {
  readonly text: string;
  readonly line: number;
}

/** One thing that a program does, in words, with its line. */
export interface ProgramAct {
  readonly line: number;
  readonly kind: "entry" | "exit" | "change" | "alert";
  readonly what: string;
  /** What has to hold for it; "" for nothing. */
  readonly when: string;
}

export interface ProgramReading {
  readonly acts: readonly ProgramAct[];
}

/** What a condition that a plan names is on the bars of a period, without a run of it. */
export interface ConditionEvidence extends TracedPlace {
  /** Bars on which it is known, on which it holds, and on which it begins to hold. */
  readonly known: number;
  readonly held: number;
  readonly began: number;
  /** Of equal parts of the period, the share of bars on which it holds: 0 to 1. */
  readonly shares: readonly number[];
}

export interface ConditionsAnswer {
  /** Bars of the period. */
  readonly bars: number;
  readonly conditions: readonly ConditionEvidence[];
}

/** Meta of the strips of a run; the columns are bytes by `strip0`, `strip1` …: 0 not known, 1 no, 2 yes. */
export interface StripsMeta {
  readonly strips: readonly (TracedPlace & {
    /** `holds` on every bar, or `asked` only when a handler worked it out. */
    readonly kind: "holds" | "asked";
  })[];
}

/** A stretch of a run, step by step. Events name their place by number. */
export interface RunSteps extends TraceSteps {
  readonly names: readonly TracedPlace[];
  readonly tests: readonly TracedPlace[];
}

/** Whether a run came out again, in a sentence. */
export interface VerifyAnswer {
  readonly same: boolean;
  readonly text: string;
}

/** A run treated worse: with its inputs shaken, and with worse fills. */
export interface StressAnswer {
  readonly jitter: readonly {
    readonly inputs: InputValues;
    readonly net: number;
    readonly sharpe: number | null;
    readonly trades: number;
  }[];
  /** By how much each input was shaken at most, as a share. */
  readonly reach: number;
  readonly seed: number;
  readonly slippage: readonly { readonly ticks: number; readonly net: number }[];
}

/** Moments in place of whole sessions, UTC milliseconds: bars that are over after the first and by the last. */
export interface Stretch {
  readonly fromMs: number;
  readonly toMs: number;
}

/** A run that was made of a watch. */
export interface WatchedRun extends Stretch {
  readonly watchId: string;
  /** Whether it is the backtest of the bars that the watch saw; else what the watch did. */
  readonly isBacktest: boolean;
  /** The other of the two. */
  readonly besideId: string;
}

/** What a watch was opened as: what it did, and the backtest of the same bars. */
export interface OpenedWatch {
  readonly runId: string;
  readonly backtestId: string;
}

/** What is known of the history that a plan has been tried on. */
export interface TrialContext {
  /** Distinct settings tried, runs and variants of sweeps together; a setting that was run again is one. */
  readonly trials: number;
  /** Distinct settings by the periods on which they were tried. */
  readonly tried: readonly {
    /** By hand, by a sweep, or in the windows of a walk-forward. */
    readonly kind: "run" | "sweep" | "walk-forward";
    readonly symbol: string;
    readonly periods: readonly { readonly from: string; readonly to: string }[];
    readonly variants: number;
    /** Independent settings that they amount to, as far as that is known: where returns of a sweep are kept. */
    readonly independent: number;
    /** The walk-forward in whose windows they were tried; empty for none. */
    readonly walkForwardId: string;
  }[];
  /** Each stretch once for each kind of use, the last used first. */
  readonly stretches: readonly {
    readonly symbol: string;
    readonly from: string;
    readonly to: string;
    readonly kind: "run" | "sweep" | "walk-forward";
    readonly variants: number;
  }[];
  /** First date of the stretch that is kept unseen; empty where none is. */
  readonly reservedFrom: string;
}

export type LookAheadAnswer = LookAheadReport;

/** The plan with a rule and without it. Money in account currency. */
export interface RuleFigures {
  readonly netProfit: number;
  readonly maxDrawdown: number;
  readonly trades: number;
  /** null without trades. */
  readonly averageTrade: number | null;
}

/** What a rule earns. */
export interface RuleAnswer extends RuleEarnings {
  /** Of a sheet's row its part and id, "longEntry:a"; else the name of its condition. */
  readonly key: string;
  readonly label: string;
  /** Names of its conditions in the plan's program. */
  readonly names: readonly string[];
  readonly line: number;
  /** What it was taken for in the run without it. */
  readonly without: "always" | "never";
  readonly figures: RuleFigures;
}

export interface RulesAnswer {
  readonly rules: readonly RuleAnswer[];
  /** Rules without which the plan can't be run, and why. */
  readonly failed: readonly { readonly label: string; readonly line: number; readonly message: string }[];
  /** Figures of the run itself. */
  readonly figures: RuleFigures;
  /** Placebos of each rule that were wanted. */
  readonly placebos: number;
  /** Whether it was stopped before all were run. */
  readonly isStopped: boolean;
  /** Rules of the plan that were too many to be looked at. */
  readonly left: number;
}

/** What an order doesn't have. */
type Missing = "quantity" | "price" | "limitPrice" | "expiresBar" | "expiresTime" | "fillPrice" | "fillTime";

/** An order on its way: JSON has no NaN and no infinity, so a number that it doesn't have is null. */
export interface OrderBody extends Omit<Order, Missing> {
  /** null: all that is open. */
  readonly quantity: number | null;
  readonly price: number | null;
  readonly limitPrice: number | null;
  readonly expiresBar: number | null;
  readonly expiresTime: number | null;
  readonly fillPrice: number | null;
  readonly fillTime: number | null;
}

export interface RunOrdersBody {
  readonly orders: readonly OrderBody[];
  readonly fills: readonly Fill[];
}

/** With its orders as the core has them. */
export interface RunOrders {
  readonly orders: readonly Order[];
  readonly fills: readonly Fill[];
}

export interface SweepEstimate {
  readonly variants: number;
  readonly bars: number;
  readonly seconds: number;
  readonly processes: number;
  /** In all processes together, bytes. */
  readonly memoryBytes: number;
}

export type SweepStatus = "running" | "paused" | "complete" | "stopped" | "failed";

export interface SweepSummary {
  readonly id: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly status: SweepStatus;
  readonly request: SweepSetup;
  /** At most, while a search goes on. */
  readonly variants: number;
  readonly done: number;
  readonly failed: number;
  readonly createdMs: number;
  readonly elapsedMs: number;
  readonly error: string;
}

export interface SweepDetail extends SweepSummary {
  readonly source: string;
  readonly inputSpecs: readonly InputSpec[];
  /** The first of them, each with what was wrong. */
  readonly failures: readonly { readonly variant: number; readonly message: string }[];
  readonly figures: readonly SweepFigure[];
}

/** One step of a walk-forward: what was chosen on one stretch, and what became of it on the next. */
export interface WalkForwardWindow {
  readonly inSample: { readonly from: string; readonly to: string; readonly sessions: number };
  readonly outOfSample: { readonly from: string; readonly to: string; readonly sessions: number };
  /** null where no setting made enough trades. */
  readonly inputs: InputValues | null;
  /** By `SWEEP_FIGURES`; null is undefined. */
  readonly inFigures: readonly (number | null)[];
  readonly outFigures: readonly (number | null)[];
  /** Net a session out-of-sample over net a session in-sample; null where nothing was made in-sample. */
  readonly efficiency: number | null;
}

export interface WalkForwardSummary {
  readonly id: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly status: "running" | "complete" | "stopped" | "failed";
  readonly request: WalkForwardSetup;
  readonly windows: readonly WalkForwardWindow[];
  readonly total: number;
  readonly variants: number;
  readonly createdMs: number;
  readonly elapsedMs: number;
  readonly error: string;
  /** The stitched out-of-sample curve as a run of its own; empty until it is there. */
  readonly runId: string;
  /** Over all windows, net a session out-of-sample over net a session in-sample (Pardo 2008). */
  readonly efficiency: number | null;
}

export interface WalkForwardDetail extends WalkForwardSummary {
  readonly source: string;
  readonly inputSpecs: readonly InputSpec[];
}

export type WatchState = "starting" | "armed" | "in position" | "waiting for you" | "paused" | "ended";

/** What a watch has open on one instrument. */
export interface WatchPosition {
  readonly symbol: string;
  /** Below zero when short. */
  readonly units: number;
  readonly entryPrice: number;
  /** At the last price, in account money. */
  readonly value: number;
  readonly stop: number | null;
  readonly target: number | null;
  /** At the last price, in account money. */
  readonly profit: number;
  /** The same in multiples of the initial risk; null where there was no stop. */
  readonly r: number | null;
}

/** An order that waits for the user's word. */
export interface WatchPrompt {
  readonly orderId: number;
  readonly symbol: string;
  readonly side: "buy" | "sell";
  readonly intent: "enter" | "exit" | "reverse";
  readonly kind: "market" | "stop" | "limit" | "stop-limit";
  /** null: all that is open. */
  readonly quantity: number | null;
  /** null for a market order. */
  readonly price: number | null;
  readonly stop: string;
  readonly target: string;
  /** Money lost at its stop; null where it has none. */
  readonly risk: number | null;
  readonly tag: string;
  /** Line of the plan that sent it. */
  readonly line: number;
  readonly sentMs: number;
  /** The bar that followed it is over then: it is late. */
  readonly barOverMs: number;
  /** It lapses then. */
  readonly deadlineMs: number;
}

export interface WatchSummary {
  readonly id: string;
  readonly name: string;
  readonly planId: string;
  readonly planTitle: string;
  readonly settings: RunSettings;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly options: WatchOptions;
  readonly isPaused: boolean;
  readonly state: WatchState;
  readonly endReason: string;
  readonly createdMs: number;
  readonly currency: string;
  readonly equity: number;
  readonly positions: readonly WatchPosition[];
  readonly openProfit: number;
  readonly lastPrice: number | null;
  readonly lastTimeMs: number | null;
  readonly trades: number;
  readonly net: number;
  /** Of trades that closed in the present session; 0 for one that had ended before the server began. */
  readonly netToday: number;
  readonly prompts: readonly WatchPrompt[];
  /** Real milliseconds from the venue's word to the plan's answer: the last, and 95 of 100. */
  readonly lagMs: number | null;
  readonly slowLagMs: number | null;
  /** How old the last bar was when the plan saw it, of the venue's clock. */
  readonly ageMs: number | null;
  /** When it last sent an order. */
  readonly lastSignalMs: number | null;
  readonly alerts: AlertCounts;
}

/** Alerts of one watch by what became of them, one for each channel; of the outcomes that are kept. */
export interface AlertCounts {
  readonly sent: number;
  /** Failed or left out. */
  readonly failed: number;
}

export interface WatchEvent {
  readonly id: number;
  /** Of the venue's clock. */
  readonly timeMs: number;
  /** Real time; 0 where it was not noted. */
  readonly atMs: number;
  readonly kind: "state" | "order" | "fill" | "trade" | "log" | "error" | "prompt";
  /** Who or what did it: the plan with its line, the user, a policy, the venue. */
  readonly by: string;
  /** What of a difference from the backtest of the same bars it explains; "" where nothing. */
  readonly cause: "" | DriftMark["cause"];
  /** Of a line of the plan's log. */
  readonly level: "" | "info" | "notice" | "warning" | "alert";
  readonly text: string;
}

export interface WatchEventsPage {
  readonly total: number;
  /** Newest first. */
  readonly events: readonly WatchEvent[];
}

export interface WatchOrder extends OrderBody {
  readonly symbol: string;
}

export interface WatchDetail extends WatchSummary {
  readonly source: string;
  readonly workingOrders: readonly WatchOrder[];
  /** How the plan's text, as it is saved now, differs from the one at work; null where it does not, or is not wanted. */
  readonly newer: readonly string[] | null;
  /** How what takes over when nothing is open differs from what is at work; null where nothing waits. */
  readonly pending: readonly string[] | null;
  /** Figures of the plan's own. */
  readonly figures: readonly { readonly label: string; readonly value: number; readonly unit: string }[];
}

/** What a watch did against the backtest of the same bars. */
export interface WatchDrift extends Drift {
  /** Of the venue's clock: what is compared. */
  readonly sinceMs: number;
  readonly untilMs: number;
}

/** Columns: time, closeTime, open, high, low, close, session, plot0 and so on, strip0 and so on. */
export interface WatchChartMeta {
  /** Whether the last bar is still forming. */
  readonly isForming: boolean;
  /** Whether there are none behind them. */
  readonly isLast: boolean;
  /** Whether there are earlier ones. */
  readonly hasMore: boolean;
  readonly plots: readonly { readonly label: string; readonly pane: "price" | "own"; readonly shift: number }[];
  /** Of conditions that the plan waits for. */
  readonly strips: readonly string[];
  readonly notes: readonly { readonly timeMs: number; readonly price: number | null; readonly text: string }[];
}

export interface VenueStatus {
  readonly connected: boolean;
  /** Market time for real time, as wanted. */
  readonly speed: number;
  /** As reached of late. */
  readonly pace: number;
  /** The clock holds until plans have answered; else the market waits for nobody. */
  readonly holds: boolean;
  readonly nowMs: number;
  /** Why the venue does not write its state down at present; "" while it does. */
  readonly trouble: string;
}

/** Something open or waiting at the venue that belongs to no watch. */
export interface VenueHolding {
  readonly account: string;
  readonly owner: string;
  readonly positions: readonly { readonly symbol: string; readonly units: number; readonly entryPrice: number }[];
  readonly orders: number;
}

/** What came of a file of a source. */
export interface SourceLogEntry {
  readonly item: string;
  readonly outcome: "added" | "nothing new" | "nothing" | "failed";
  readonly text: string;
  readonly atMs: number;
}

/** Where new bars of an instrument come from by themselves. */
export interface Source {
  readonly id: string;
  readonly name: string;
  readonly kind: "folder" | "web";
  readonly place: string;
  readonly symbol: string;
  readonly everyMinutes: number;
  readonly overlap: "replace" | "keep";
  readonly allowsPrivate: boolean;
  readonly isOn: boolean;
  /** When it was looked at last; 0 for never. */
  readonly lookedMs: number;
  readonly isLooking: boolean;
  readonly last: SourceLogEntry | null;
}

/** A study's column beside bars: for a condition 1 and 0, NaN where it is not known yet. */
export interface StudyMeta {
  readonly study: string;
  readonly kind: "number" | "condition" | "crossing";
}

/** Studies of a chart and a table, under a name. */
export interface ChartLayout {
  readonly id: string;
  readonly name: string;
  readonly studies: readonly string[];
  readonly changedMs: number;
}

/** How files of a shape were read last: their columns, and what was said of the instrument. */
export interface ImportMapping {
  readonly format: CsvLayout;
  readonly timeframe: string;
  readonly symbol: string;
  readonly currency: string;
  readonly tickSize: number;
  readonly pointValue: number;
  readonly minQuantity: number;
  readonly quantityStep: number;
}

export interface ImportReport {
  /** Whether the bars are there now: not, where what comes differs from what is there and it was not said which is to stay. */
  readonly isDone: boolean;
  /** Bars that came to others; null where they took the place of all. */
  readonly overlap: Overlap | null;
  /** Of the symbol: those that lie over these bars, and those that were undone since they leave no valid ones of them. */
  readonly repairs: { readonly kept: number; readonly undone: number };
  readonly symbol: string;
  readonly rows: number;
  readonly bars: number;
  readonly rejected: number;
  readonly firstMs: number;
  readonly lastMs: number;
  readonly problems: readonly { readonly line: number; readonly text: string }[];
  readonly outsideSessions: number;
  readonly elapsedMs: number;
}

/** The search of a sweep again on markets without memory. */
export interface LuckTest {
  readonly status: "running" | "paused" | "complete" | "failed";
  /** How many markets it is to be. */
  readonly asked: number;
  /** Largest annual Sharpe ratio of the sweep, in-sample. */
  readonly best: number;
  /** The same on each market that is through, in their order. */
  readonly ratios: readonly number[];
  readonly elapsedMs: number;
  readonly error: string;
}

/** A run on markets without memory. */
export interface ChanceAnswer {
  /** Annual Sharpe ratio of the run. */
  readonly best: number;
  /** The same on each market, in ascending order. */
  readonly ratios: readonly number[];
  readonly isStopped: boolean;
}

/** Something that was deleted and can still come back. */
export interface BinEntry {
  readonly kind: BinKind;
  /** An id; of a market its symbol. */
  readonly id: string;
  readonly name: string;
  readonly deletedMs: number;
}

/** What of the data folder takes how much. */
export interface StoragePart {
  readonly kind: "bars" | "runs" | "drafts" | "sweeps" | "versions" | "deleted";
  readonly count: number;
  readonly bytes: number;
}

export interface StorageReport {
  readonly fileBytes: number;
  /** Of the file, what holds nothing: compacting gives it back. */
  readonly emptyBytes: number;
  /** Of the disk; null where it can't be asked. */
  readonly freeBytes: number | null;
  readonly parts: readonly StoragePart[];
  /** The last deleted first. */
  readonly bin: readonly BinEntry[];
  readonly rules: RetentionRules;
}

/** What the server tells on its event stream. */
export type ServerEvent =
  | ({ readonly type: "run-figures"; readonly id: string } & FirstFigures)
  | { readonly type: "run-progress"; readonly id: string; readonly done: number; readonly total: number }
  | { readonly type: "blend-progress"; readonly id: string; readonly done: number; readonly total: number }
  | { readonly type: "chance-progress"; readonly id: string; readonly done: number; readonly total: number }
  | { readonly type: "rules-progress"; readonly id: string; readonly done: number; readonly total: number }
  /** What each rule of a run earns is in the journal of its plan. */
  | { readonly type: "rules-noted"; readonly id: string }
  | {
      readonly type: "sweep-progress";
      readonly id: string;
      readonly done: number;
      readonly variants: number;
      readonly perSecond: number;
      readonly secondsLeft: number;
      readonly memoryBytes: number;
    }
  /** A luck test: markets that are through, and how far the next one is. */
  | {
      readonly type: "luck";
      readonly id: string;
      readonly done: number;
      readonly asked: number;
      readonly share: number;
      readonly isRunning: boolean;
    }
  | { readonly type: "sweep-done"; readonly id: string; readonly status: SweepStatus }
  | { readonly type: "walk-forward"; readonly id: string; readonly status: WalkForwardSummary["status"] }
  | ({ readonly type: "trouble" } & Trouble)
  | { readonly type: "queue"; readonly queue: readonly QueuedRun[] }
  | { readonly type: "plan"; readonly id: string; readonly revision: number }
  | { readonly type: "watch"; readonly id: string }
  | { readonly type: "alert"; readonly watchId: string; readonly watchName: string; readonly level: AlertLevel; readonly text: string }
  | { readonly type: "delivery" }
  | { readonly type: "venue"; readonly status: VenueStatus }
  | { readonly type: "import-progress"; readonly id: string; readonly done: number; readonly total: number };
