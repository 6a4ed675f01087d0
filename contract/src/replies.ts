/**
 * What each route answers, by the route's name. `replies.schema.json` is made from these types: types and schemas have one
 * definition. For columns it is the JSON head; routes that answer nothing are left out.
 */
import type { ExitKit, Mark, Trade } from "@plan-tester/core";
import type { AlertDelivery, AlertPreview, AlertsView, DeliveriesPage, PracticeInbox } from "./alerts.ts";
import type {
  BarsMeta,
  BatchBegun,
  ChanceAnswer,
  ChartLayout,
  ConditionsAnswer,
  DailyReturnsMeta,
  DemoStanding,
  FoundSessions,
  Health,
  HistoryThumbnail,
  ImportMapping,
  ImportReport,
  InstrumentList,
  LastDraft,
  LibraryKit,
  LineEvidence,
  LookAheadAnswer,
  LuckTest,
  Market,
  OpenedWatch,
  PlanDescriptionBody,
  PlanDetail,
  PlanModule,
  PlanSummary,
  PlanVersion,
  PlanVersionDetail,
  ProgramReading,
  QualityMeta,
  QueuedRun,
  RulesAnswer,
  RunEvidence,
  RunFacets,
  RunOrdersBody,
  RunPage,
  RunSteps,
  RunSummary,
  ServerEvent,
  Source,
  SourceLogEntry,
  StorageReport,
  StressAnswer,
  StripsMeta,
  StudyMeta,
  SweepDetail,
  SweepEstimate,
  SweepSummary,
  Trial,
  TrialContext,
  Variant,
  VenueHolding,
  VenueStatus,
  VerifyAnswer,
  WalkForwardDetail,
  WalkForwardSummary,
  WatchChartMeta,
  WatchDetail,
  WatchDrift,
  WatchEventsPage,
  WatchSummary,
} from "./api.ts";
import type { Blend, BlendRunMeta } from "./blends.ts";
import type { BundleReport } from "./bundles.ts";
import type { VenueFaults } from "./faults.ts";
import type { MadeRepair } from "./repairs.ts";
import type { PlanFile } from "./schemas.ts";

/** Columns that need no words. */
export type PlainColumns = Readonly<Record<string, never>>;

export interface Replies {
  readonly getHealth: Health;
  /** Each event of the stream. */
  readonly getEvents: ServerEvent;

  readonly listMarkets: readonly Market[];
  readonly getHistory: HistoryThumbnail;
  readonly getBars: BarsMeta;
  readonly getStudy: StudyMeta;
  readonly listMarks: readonly Mark[];
  readonly listLayouts: readonly ChartLayout[];
  readonly getQuality: QualityMeta;
  readonly listRepairs: readonly MadeRepair[];
  readonly getFoundSessions: FoundSessions;
  readonly listSources: readonly Source[];
  readonly createSource: { readonly id: string };
  readonly getSourceLog: readonly SourceLogEntry[];
  readonly importBars: ImportReport;
  readonly getImportMapping: { readonly mapping: ImportMapping | null };
  readonly openBundle: BundleReport;
  readonly getDemo: DemoStanding;
  readonly makeDemo: DemoStanding;

  readonly listPlans: readonly PlanSummary[];
  readonly createPlan: PlanDetail;
  readonly getPlan: PlanDetail;
  readonly updatePlan: PlanDetail;
  readonly getPlanFile: PlanFile;
  readonly createPlanFromFile: PlanDetail;
  readonly listModules: readonly PlanModule[];
  readonly describePlan: PlanDescriptionBody;
  readonly readProgram: ProgramReading;
  readonly findConditions: ConditionsAnswer;
  readonly readKit: ExitKit;
  readonly listVariants: readonly Variant[];
  readonly createVariant: Variant;
  readonly replaceVariant: Variant;

  readonly listBlends: readonly Blend[];
  readonly createBlend: Blend;
  readonly getBlend: Blend;
  readonly replaceBlend: Blend;
  readonly runBlend: BlendRunMeta;
  readonly listInstrumentLists: readonly InstrumentList[];
  readonly createInstrumentList: InstrumentList;
  readonly replaceInstrumentList: InstrumentList;
  readonly listKits: readonly LibraryKit[];
  readonly createKit: LibraryKit;
  readonly replaceKit: LibraryKit;

  readonly getJournal: readonly Trial[];
  readonly getTrialContext: TrialContext;
  readonly listVersions: readonly PlanVersion[];
  readonly createVersion: PlanVersion;
  readonly getVersion: PlanVersionDetail;
  readonly renameVersion: PlanVersionDetail;

  readonly listRuns: RunPage;
  readonly getRunFacets: RunFacets;
  readonly getLastDraft: LastDraft;
  readonly createRun: RunEvidence;
  readonly getRun: RunEvidence;
  readonly getRunOrders: RunOrdersBody;
  readonly getRunColumns: PlainColumns;
  readonly getRunLines: LineEvidence;
  readonly getRunStrips: StripsMeta;
  readonly getRunSteps: RunSteps;
  readonly verifyRun: VerifyAnswer;
  readonly stressRun: StressAnswer;
  readonly checkChance: ChanceAnswer;
  readonly checkLookAhead: LookAheadAnswer;
  readonly checkRules: RulesAnswer;
  readonly keepRun: RunSummary;
  readonly listQueue: readonly QueuedRun[];
  readonly queueRuns: BatchBegun;

  readonly listSweeps: readonly SweepSummary[];
  readonly createSweep: SweepSummary;
  readonly estimateSweep: SweepEstimate;
  readonly getSweep: SweepDetail;
  readonly getSweepFigures: PlainColumns;
  readonly getSweepDaily: DailyReturnsMeta;
  readonly getLuck: LuckTest | null;
  readonly startLuck: LuckTest;

  readonly listWalkForwards: readonly WalkForwardSummary[];
  readonly createWalkForward: WalkForwardSummary;
  readonly getWalkForward: WalkForwardDetail;

  readonly getStorage: StorageReport;
  readonly setRetention: StorageReport;
  readonly emptyBin: StorageReport;
  readonly compactStorage: StorageReport;

  readonly getVenue: VenueStatus;
  readonly setVenueClock: VenueStatus;
  readonly listHoldings: readonly VenueHolding[];
  readonly listWatches: readonly WatchSummary[];
  readonly createWatch: WatchSummary;
  readonly restartWatch: WatchSummary;
  readonly getWatch: WatchDetail;
  readonly getWatchEvents: WatchEventsPage;
  readonly getWatchDrift: WatchDrift;
  readonly openWatch: OpenedWatch;
  readonly getWatchChart: WatchChartMeta;
  readonly getWatchTrades: readonly Trade[];
  readonly stopWatches: readonly WatchSummary[];

  readonly getVenueFaults: VenueFaults;
  readonly setVenueFaults: VenueFaults;

  readonly getAlerts: AlertsView;
  readonly setAlerts: AlertsView;
  readonly testAlert: AlertDelivery;
  readonly previewAlert: AlertPreview;
  readonly listDeliveries: DeliveriesPage;
  readonly getInbox: PracticeInbox;
}
