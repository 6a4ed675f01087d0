/** Every route of the API, once. The server serves them, clients call them by name, `docs/api.md` describes them. */
import type { ExitKit } from "@plan-tester/core";
import {
  type AlertPreviewRequest,
  type AlertSecret,
  type AlertSetup,
  alertPreviewSchema,
  alertSecretSchema,
  alertSetupSchema,
  type DeliveriesQuery,
  deliveriesQuerySchema,
} from "./alerts.ts";
import { type BlendBody, type BlendChange, type BlendRunRequest, blendBodySchema, blendChangeSchema, blendRunSchema } from "./blends.ts";
import { type BundleRequest, bundleRequestSchema, type SentBundleRequest } from "./bundles.ts";
import { type OtherTrade, otherTradeSchema, type PriceJump, priceJumpSchema, type VenueFaultsChange, venueFaultsSchema } from "./faults.ts";
import { kitSchema } from "./kit-schema.ts";
import { type RepairBody, repairBodySchema } from "./repairs.ts";
import type { Replies } from "./replies.ts";
import { type BodyOf, type ParamsOf, type Route, type SentQueryOf, shape } from "./route.ts";
import {
  type AnswerPrompt,
  answerPromptSchema,
  type BarFileQuery,
  type BarsQuery,
  type BatchRequest,
  barFileQuerySchema,
  barsQuerySchema,
  batchRequestSchema,
  type ChangeWatch,
  type ComparedRequest,
  type ConditionsRequest,
  changeWatchSchema,
  comparedSchema,
  conditionsRequestSchema,
  type DescribeRequest,
  describeRequestSchema,
  type EventsQuery,
  eventsQuerySchema,
  type ImportQuery,
  type InstrumentFile,
  type InstrumentListBody,
  importQuerySchema,
  instrumentListSchema,
  instrumentSchema,
  type KeepRequest,
  type KitBody,
  keepRequestSchema,
  kitBodySchema,
  type LayoutBody,
  type LuckRequest,
  layoutBodySchema,
  luckRequestSchema,
  type MappingQuery,
  type MarkBody,
  type MarketCopyBody,
  type MarketShelfBody,
  mappingQuerySchema,
  markBodySchema,
  marketCopySchema,
  marketShelfSchema,
  type PlacebosQuery,
  type PlanCreate,
  type PlanFile,
  type PlanUpdate,
  placebosQuerySchema,
  planCreateSchema,
  planFileSchema,
  planUpdateSchema,
  type Rename,
  type RestartWatch,
  type RestoreRequest,
  type RetentionRules,
  type RunQuery,
  type RunRequestBody,
  renameSchema,
  restartWatchSchema,
  restoreSchema,
  retentionRulesSchema,
  runQuerySchema,
  runRequestSchema,
  type SourceBody,
  type StepsQuery,
  type StopWatch,
  type StudyQuery,
  type SweepRequest,
  sourceBodySchema,
  stepsQuerySchema,
  stopWatchSchema,
  studyQuerySchema,
  sweepRequestSchema,
  type TurnSource,
  turnSourceSchema,
  type VariantBody,
  type VenueClockChange,
  type VersionCreate,
  variantSchema,
  venueClockSchema,
  versionCreateSchema,
  type WalkForwardRequest,
  type WatchChartQuery,
  type WatchRequest,
  type WatchVersion,
  walkForwardRequestSchema,
  watchChartSchema,
  watchRequestSchema,
  watchVersionSchema,
} from "./schemas.ts";

/** A plan's text is compiled and its bars are read: what can be wrong with either. */
const OF_RUNS = [
  "bad-plan",
  "plan-error",
  "bad-settings",
  "bad-study",
  "bad-timeframe",
  "conflict",
  "stopped",
  "not-found",
  "limit",
] as const;
const OF_IMPORTS = ["bad-bars", "bad-calendar", "bad-instrument", "bad-timeframe", "conflict"] as const;

export const ROUTES = {
  getHealth: { method: "GET", path: "/health", summary: "How the server is, part by part", reply: "json" },
  getEvents: { method: "GET", path: "/events", summary: "What happens, as server-sent events", reply: "events" },

  listMarkets: { method: "GET", path: "/markets", summary: "Instruments with their bars", reply: "json" },
  deleteMarket: {
    method: "DELETE",
    path: "/markets/:symbol",
    summary: "Delete an instrument and its bars",
    reply: "nothing",
    errors: ["conflict"],
  },
  shelveMarkets: {
    ...{ method: "PUT", path: "/market-shelf", summary: "Put instruments out of the way, or back", reply: "nothing" },
    body: shape<MarketShelfBody>(marketShelfSchema, "what is archived"),
    errors: ["not-found"],
  },
  copyMarket: {
    ...{
      method: "POST",
      path: "/markets/:symbol/copy",
      summary: "The same facts, bars and repairs under another symbol",
      reply: "nothing",
    },
    body: shape<MarketCopyBody>(marketCopySchema, "the copy"),
    errors: ["conflict"],
  },
  getHistory: { method: "GET", path: "/markets/:symbol/history", summary: "One close per session, for the history ribbon", reply: "json" },
  getBars: {
    ...{ method: "GET", path: "/markets/:symbol/bars", summary: "Bars of a period, in any timeframe, as columns", reply: "columns" },
    query: shape<BarsQuery>(barsQuerySchema, "the query"),
    errors: ["bad-timeframe", "bad-calendar", "bad-bars", "unavailable"],
  },
  getStudy: {
    ...{ method: "GET", path: "/markets/:symbol/study", summary: "The column of a study beside the bars of a period", reply: "columns" },
    query: shape<StudyQuery>(studyQuerySchema, "the query"),
    errors: ["bad-timeframe", "bad-calendar", "bad-bars", "bad-study", "plan-error", "limit", "unavailable"],
  },
  listMarks: { method: "GET", path: "/markets/:symbol/marks", summary: "Marks made by hand on an instrument's bars", reply: "json" },
  putMark: {
    ...{ method: "PUT", path: "/markets/:symbol/marks/:id", summary: "Make a mark, or change it", reply: "nothing" },
    body: shape<MarkBody>(markBodySchema, "the mark"),
    errors: ["bad-input", "not-found", "conflict", "limit"],
  },
  deleteMark: { method: "DELETE", path: "/markets/:symbol/marks/:id", summary: "Delete a mark", reply: "nothing" },
  listLayouts: { method: "GET", path: "/layouts", summary: "Studies of charts and tables, kept under names", reply: "json" },
  putLayout: {
    ...{ method: "PUT", path: "/layouts/:id", summary: "Keep the studies of a chart under a name", reply: "nothing" },
    body: shape<LayoutBody>(layoutBodySchema, "the layout"),
    errors: ["conflict"],
  },
  deleteLayout: { method: "DELETE", path: "/layouts/:id", summary: "Delete a layout", reply: "nothing" },
  changeFacts: {
    ...{ method: "PUT", path: "/markets/:symbol/facts", summary: "Change the facts, costs or calendar of an instrument" },
    body: shape<InstrumentFile>(instrumentSchema, "the instrument"),
    reply: "nothing",
    errors: ["bad-calendar", "conflict"],
  },
  listRepairs: {
    method: "GET",
    path: "/markets/:symbol/repairs",
    summary: "Repairs of an instrument's bars, undone ones too",
    reply: "json",
  },
  makeRepair: {
    ...{ method: "POST", path: "/markets/:symbol/repairs", summary: "Repair bars, by a layer over what was imported" },
    body: shape<RepairBody>(repairBodySchema, "the repair"),
    reply: "nothing",
    errors: ["bad-bars", "bad-calendar", "limit"],
  },
  undoRepair: {
    ...{ method: "DELETE", path: "/markets/:symbol/repairs/:id", summary: "Undo a repair" },
    reply: "nothing",
    errors: ["bad-bars", "bad-calendar"],
  },
  getFoundSessions: {
    ...{ method: "GET", path: "/markets/:symbol/sessions", summary: "The sessions that an instrument's bars show" },
    reply: "json",
    errors: ["bad-calendar", "bad-bars"],
  },
  getQuality: {
    ...{ method: "GET", path: "/markets/:symbol/quality", summary: "What is doubtful about an instrument's bars, with its coverage map" },
    reply: "columns",
    errors: ["bad-calendar", "bad-bars"],
  },
  getBarFile: {
    ...{
      method: "GET",
      path: "/markets/:symbol/file",
      summary: "Bars of a period, in any timeframe, as CSV, JSON lines or Parquet, studies beside them",
      reply: "file",
    },
    query: shape<BarFileQuery, Partial<BarFileQuery>>(barFileQuerySchema, "the query"),
    errors: ["bad-timeframe", "bad-calendar", "bad-bars", "bad-study", "limit"],
  },
  importBars: {
    ...{
      method: "POST",
      path: "/imports/:id",
      summary: "Take in a file of bars or ticks: CSV, JSON or Parquet, plain, gzip or zip",
      reply: "json",
    },
    query: shape<ImportQuery>(importQuerySchema, "the import"),
    body: "file",
    errors: [...OF_IMPORTS, "stopped"],
  },
  getImportMapping: {
    ...{ method: "GET", path: "/import-mappings", summary: "How files of a shape were read last", reply: "json" },
    query: shape<MappingQuery>(mappingQuerySchema, "the query"),
  },
  listSources: { method: "GET", path: "/sources", summary: "Where new bars come from by themselves", reply: "json" },
  createSource: {
    ...{ method: "POST", path: "/sources", summary: "Let new bars of an instrument come by themselves", reply: "json", status: 201 },
    body: shape<SourceBody>(sourceBodySchema, "the source"),
    errors: ["conflict"],
  },
  turnSource: {
    ...{ method: "PATCH", path: "/sources/:id", summary: "Turn a source on or off", reply: "nothing" },
    body: shape<TurnSource>(turnSourceSchema, "the change"),
  },
  lookAtSource: { method: "POST", path: "/sources/:id/look", summary: "Look at a source now", reply: "nothing" },
  deleteSource: { method: "DELETE", path: "/sources/:id", summary: "Delete a source; the bars that came stay", reply: "nothing" },
  getSourceLog: { method: "GET", path: "/sources/:id/log", summary: "What came of the files of a source, newest first", reply: "json" },
  makeBundle: {
    ...{
      method: "POST",
      path: "/bundles",
      summary: "Put plans and kept runs with all that belongs to them into one zip file",
      reply: "file",
    },
    body: shape<BundleRequest, SentBundleRequest>(bundleRequestSchema, "the bundle"),
    errors: [...OF_RUNS, "bad-bars"],
  },
  openBundle: {
    ...{ method: "POST", path: "/bundle-imports/:id", summary: "Take a bundle in, and make its runs again", reply: "json" },
    body: "file",
    errors: [...OF_RUNS, ...OF_IMPORTS],
  },
  stopBundle: {
    method: "DELETE",
    path: "/bundle-imports/:id",
    summary: "Make no more runs of a bundle again; what was taken in stays",
    reply: "nothing",
  },
  getDemo: { method: "GET", path: "/demo", summary: "Whether the demo world is there", reply: "json" },
  makeDemo: { method: "POST", path: "/demo", summary: "Begin to make the demo world", reply: "json", status: 202 },
  removeDemo: {
    method: "DELETE",
    path: "/demo",
    summary: "Remove the demo world, with examples that were not changed",
    reply: "nothing",
    errors: ["conflict"],
  },

  listPlans: { method: "GET", path: "/plans", summary: "Plans, each with its last kept run", reply: "json" },
  createPlan: {
    ...{ method: "POST", path: "/plans", summary: "Create a plan from the skeleton, a text or a copy", reply: "json", status: 201 },
    body: shape<PlanCreate>(planCreateSchema, "the plan"),
    errors: ["not-found"],
  },
  getPlan: { method: "GET", path: "/plans/:id", summary: "A plan with its text", reply: "json" },
  updatePlan: {
    ...{ method: "PATCH", path: "/plans/:id", summary: "Change some fields of a plan", reply: "json" },
    body: shape<PlanUpdate>(planUpdateSchema, "the plan"),
    errors: ["conflict"],
  },
  deletePlan: { method: "DELETE", path: "/plans/:id", summary: "Delete a plan", reply: "nothing" },
  getPlanFile: {
    method: "GET",
    path: "/plans/:id/file",
    summary: "A plan with everything it needs, as a file",
    reply: "json",
    errors: ["bad-plan"],
  },
  createPlanFromFile: {
    ...{ method: "POST", path: "/plan-files", summary: "Create a plan from such a file", reply: "json", status: 201 },
    body: shape<PlanFile>(planFileSchema, "the plan file"),
    errors: ["conflict"],
  },
  listModules: { method: "GET", path: "/modules", summary: "Modules that plans can import", reply: "json" },
  describePlan: {
    ...{ method: "POST", path: "/describe", summary: "Title and inputs that a text declares", reply: "json" },
    body: shape<DescribeRequest>(describeRequestSchema, "the request"),
    errors: OF_RUNS,
  },
  readProgram: {
    ...{ method: "POST", path: "/readings", summary: "What a program does, in words, each act with its line", reply: "json" },
    body: shape<DescribeRequest>(describeRequestSchema, "the request"),
    errors: ["bad-plan"],
  },
  findConditions: {
    ...{ method: "POST", path: "/conditions", summary: "When the conditions that a text names hold, without a run", reply: "json" },
    body: shape<ConditionsRequest>(conditionsRequestSchema, "the request"),
    errors: OF_RUNS,
  },
  readKit: {
    ...{ method: "POST", path: "/kits/read", summary: "An exit kit with its defaults filled in", reply: "json" },
    body: shape<ExitKit>(kitSchema, "the exit kit"),
  },
  listVariants: { method: "GET", path: "/plans/:id/variants", summary: "Named sets of inputs and exit kit of a plan", reply: "json" },
  createVariant: {
    ...{ method: "POST", path: "/plans/:id/variants", summary: "Save a variant", reply: "json", status: 201 },
    body: shape<VariantBody>(variantSchema, "the variant"),
  },
  replaceVariant: {
    ...{ method: "PUT", path: "/variants/:id", summary: "Replace a variant", reply: "json" },
    body: shape<VariantBody>(variantSchema, "the variant"),
  },
  deleteVariant: { method: "DELETE", path: "/variants/:id", summary: "Delete a variant", reply: "nothing" },

  listInstrumentLists: {
    method: "GET",
    path: "/instrument-lists",
    summary: "Lists of instruments under your own names",
    reply: "json",
  },
  createInstrumentList: {
    ...{ method: "POST", path: "/instrument-lists", summary: "Make a list of instruments", reply: "json", status: 201 },
    body: shape<InstrumentListBody>(instrumentListSchema, "the list"),
    errors: ["conflict"],
  },
  replaceInstrumentList: {
    ...{ method: "PUT", path: "/instrument-lists/:id", summary: "Replace a list of instruments", reply: "json" },
    body: shape<InstrumentListBody>(instrumentListSchema, "the list"),
    errors: ["conflict"],
  },
  deleteInstrumentList: { method: "DELETE", path: "/instrument-lists/:id", summary: "Delete a list of instruments", reply: "nothing" },

  listKits: { method: "GET", path: "/kits", summary: "Exit kits of the library, and who uses them", reply: "json" },
  createKit: {
    ...{ method: "POST", path: "/kits", summary: "Put an exit kit into the library", reply: "json", status: 201 },
    body: shape<KitBody>(kitBodySchema, "the exit kit"),
    errors: ["conflict"],
  },
  replaceKit: {
    ...{ method: "PUT", path: "/kits/:id", summary: "Replace an exit kit of the library", reply: "json" },
    body: shape<KitBody>(kitBodySchema, "the exit kit"),
    errors: ["conflict"],
  },
  deleteKit: { method: "DELETE", path: "/kits/:id", summary: "Delete an exit kit of the library", reply: "nothing" },

  listBlends: { method: "GET", path: "/blends", summary: "Blends of kept runs on one account", reply: "json" },
  createBlend: {
    ...{ method: "POST", path: "/blends", summary: "Keep a blend", reply: "json", status: 201 },
    body: shape<BlendBody>(blendBodySchema, "the blend"),
    errors: ["not-found"],
  },
  getBlend: { method: "GET", path: "/blends/:id", summary: "A blend", reply: "json" },
  replaceBlend: {
    ...{ method: "PUT", path: "/blends/:id", summary: "Replace a blend, against the revision that was read", reply: "json" },
    body: shape<BlendChange>(blendChangeSchema, "the blend"),
    errors: ["conflict", "not-found"],
  },
  runBlend: {
    ...{ method: "POST", path: "/blend-runs", summary: "Run plans of kept runs on one account, as columns", reply: "columns" },
    body: shape<BlendRunRequest>(blendRunSchema, "the blend"),
    errors: OF_RUNS,
  },
  stopBlendRun: { method: "POST", path: "/blend-runs/:id/stop", summary: "Stop that; it answers with what is done", reply: "nothing" },
  deleteBlend: { method: "DELETE", path: "/blends/:id", summary: "Delete a blend", reply: "nothing" },

  getJournal: { method: "GET", path: "/plans/:id/journal", summary: "Trials of a plan, newest first", reply: "json" },
  getTrialContext: {
    method: "GET",
    path: "/plans/:id/trial-context",
    summary: "How many settings were tried, and on which periods",
    reply: "json",
  },
  listVersions: { method: "GET", path: "/plans/:id/versions", summary: "Texts that a plan had, newest first", reply: "json" },
  createVersion: {
    ...{ method: "POST", path: "/plans/:id/versions", summary: "Keep a text as a version", reply: "json", status: 201 },
    body: shape<VersionCreate>(versionCreateSchema, "the version"),
  },
  getVersion: { method: "GET", path: "/versions/:id", summary: "A version with its text", reply: "json" },
  renameVersion: {
    ...{ method: "PATCH", path: "/versions/:id", summary: "Name a version", reply: "json" },
    body: shape<Rename>(renameSchema, "the name"),
  },

  listRuns: {
    ...{ method: "GET", path: "/runs", summary: "Kept runs that a query finds, page by page", reply: "json" },
    query: shape<RunQuery, Partial<RunQuery>>(runQuerySchema, "the query"),
  },
  getRunFacets: { method: "GET", path: "/run-facets", summary: "What kept runs can be filtered by", reply: "json" },
  getLastDraft: { method: "GET", path: "/plans/:id/last-draft", summary: "The last run of a plan that was not kept", reply: "json" },
  createRun: {
    ...{ method: "POST", path: "/runs", summary: "Run a plan; the result is a draft until it is kept", reply: "json" },
    body: shape<RunRequestBody>(runRequestSchema, "the run"),
    errors: OF_RUNS,
  },
  getRun: { method: "GET", path: "/runs/:id", summary: "A run: figures, warnings, trades", reply: "json" },
  getRunOrders: { method: "GET", path: "/runs/:id/orders", summary: "Orders and fills of a run", reply: "json" },
  getRunColumns: { method: "GET", path: "/runs/:id/columns", summary: "Equity and what the plan shows, as columns", reply: "columns" },
  getRunLines: { method: "GET", path: "/runs/:id/lines", summary: "How often each statement ran", reply: "json", errors: OF_RUNS },
  getRunStrips: {
    method: "GET",
    path: "/runs/:id/strips",
    summary: "Each named condition on every bar, as columns",
    reply: "columns",
    errors: OF_RUNS,
  },
  getRunSteps: {
    ...{ method: "GET", path: "/runs/:id/steps", summary: "What happened on some bars, one thing after the other", reply: "json" },
    query: shape<StepsQuery>(stepsQuerySchema, "the query"),
    errors: OF_RUNS,
  },
  stopRun: { method: "POST", path: "/runs/:id/stop", summary: "Stop a run that is being made", reply: "nothing" },
  verifyRun: {
    method: "POST",
    path: "/runs/:id/verify",
    summary: "Run again and compare, to the last bit",
    reply: "json",
    errors: OF_RUNS,
  },
  checkChance: {
    ...{ method: "POST", path: "/runs/:id/chance", summary: "The run on 99 markets without memory", reply: "json" },
    errors: OF_RUNS,
  },
  stopChance: { method: "POST", path: "/runs/:id/chance/stop", summary: "Stop that; it answers with what is done", reply: "nothing" },
  stressRun: {
    method: "POST",
    path: "/runs/:id/stress",
    summary: "Run with perturbed inputs and worse fills",
    reply: "json",
    errors: OF_RUNS,
  },
  checkLookAhead: {
    method: "POST",
    path: "/runs/:id/look-ahead",
    summary: "Compare with a run on bars that have another future",
    reply: "json",
    errors: OF_RUNS,
  },
  checkRules: {
    ...{ method: "POST", path: "/runs/:id/rules", summary: "What each rule of the plan earns", reply: "json" },
    query: shape<PlacebosQuery>(placebosQuerySchema, "the query"),
    errors: OF_RUNS,
  },
  stopRules: { method: "POST", path: "/runs/:id/rules/stop", summary: "Stop that; it answers with what is done", reply: "nothing" },
  stopLookAhead: { method: "POST", path: "/runs/:id/look-ahead/stop", summary: "Stop that check", reply: "nothing" },
  keepRun: {
    ...{ method: "PUT", path: "/runs/:id/keep", summary: "Keep a run under a name, or rename a kept one", reply: "json" },
    body: shape<KeepRequest>(keepRequestSchema, "the run"),
    errors: ["conflict"],
  },
  deleteRun: { method: "DELETE", path: "/runs/:id", summary: "Delete a kept run", reply: "nothing" },
  noteCompared: {
    ...{
      method: "POST",
      path: "/runs/compared",
      summary: "Note that runs were set side by side: no rule clears them then",
      reply: "nothing",
    },
    body: shape<ComparedRequest>(comparedSchema, "the request"),
  },
  listQueue: { method: "GET", path: "/queue", summary: "Runs in the background", reply: "json" },
  queueRuns: {
    ...{
      method: "POST",
      path: "/queue",
      summary: "Run several settings in the background and keep the results",
      reply: "json",
      status: 202,
    },
    body: shape<BatchRequest>(batchRequestSchema, "the batch"),
    errors: OF_RUNS,
  },
  stopQueuedRun: { method: "POST", path: "/queue/:id/stop", summary: "Stop a run in the background", reply: "nothing" },
  clearQueue: { method: "DELETE", path: "/queue", summary: "Remove the runs that are done from the queue", reply: "nothing" },

  listSweeps: { method: "GET", path: "/sweeps", summary: "Sweeps, newest first", reply: "json" },
  createSweep: {
    ...{ method: "POST", path: "/sweeps", summary: "Begin a sweep", reply: "json", status: 201 },
    body: shape<SweepRequest>(sweepRequestSchema, "the sweep"),
    errors: OF_RUNS,
  },
  estimateSweep: {
    ...{ method: "POST", path: "/sweeps/estimate", summary: "Variants, time and memory that a sweep would take", reply: "json" },
    body: shape<SweepRequest>(sweepRequestSchema, "the sweep"),
    errors: OF_RUNS,
  },
  getSweep: { method: "GET", path: "/sweeps/:id", summary: "A sweep without its figures", reply: "json" },
  getSweepFigures: { method: "GET", path: "/sweeps/:id/figures", summary: "Points tried and their figures, as columns", reply: "columns" },
  getSweepDaily: { method: "GET", path: "/sweeps/:id/daily", summary: "Daily returns of the variants, as columns", reply: "columns" },
  stopSweep: { method: "POST", path: "/sweeps/:id/stop", summary: "End a sweep for good", reply: "nothing" },
  pauseSweep: { method: "POST", path: "/sweeps/:id/pause", summary: "Pause a sweep", reply: "nothing" },
  resumeSweep: { method: "POST", path: "/sweeps/:id/resume", summary: "Resume a paused sweep", reply: "nothing", errors: OF_RUNS },
  getLuck: { method: "GET", path: "/sweeps/:id/luck", summary: "The luck test of a sweep; null where it was not begun", reply: "json" },
  startLuck: {
    ...{
      method: "POST",
      path: "/sweeps/:id/luck",
      summary: "Search markets without memory as the sweep did, or go on",
      reply: "json",
      status: 202,
    },
    body: shape<LuckRequest, Partial<LuckRequest>>(luckRequestSchema, "the luck test"),
    errors: OF_RUNS,
  },
  pauseLuck: { method: "POST", path: "/sweeps/:id/luck/pause", summary: "Pause a luck test; what is done stays", reply: "nothing" },
  deleteSweep: { method: "DELETE", path: "/sweeps/:id", summary: "Delete a sweep", reply: "nothing", errors: ["conflict"] },

  listWalkForwards: { method: "GET", path: "/walk-forwards", summary: "Walk-forwards, newest first", reply: "json" },
  createWalkForward: {
    ...{ method: "POST", path: "/walk-forwards", summary: "Begin a walk-forward", reply: "json", status: 201 },
    body: shape<WalkForwardRequest>(walkForwardRequestSchema, "the walk-forward"),
    errors: OF_RUNS,
  },
  getWalkForward: { method: "GET", path: "/walk-forwards/:id", summary: "A walk-forward with its windows", reply: "json" },
  stopWalkForward: { method: "POST", path: "/walk-forwards/:id/stop", summary: "Stop a walk-forward", reply: "nothing" },
  deleteWalkForward: {
    method: "DELETE",
    path: "/walk-forwards/:id",
    summary: "Delete a walk-forward",
    reply: "nothing",
    errors: ["conflict"],
  },

  getStorage: { method: "GET", path: "/storage", summary: "What takes space in the data folder, and what is in the bin", reply: "json" },
  setRetention: {
    ...{ method: "PUT", path: "/storage/rules", summary: "Set after how many days something goes by itself", reply: "json" },
    body: shape<RetentionRules>(retentionRulesSchema, "the rules"),
  },
  restoreDeleted: {
    ...{ method: "POST", path: "/storage/bin/restore", summary: "Bring back something that was deleted", reply: "nothing" },
    body: shape<RestoreRequest>(restoreSchema, "the request"),
    errors: ["not-found"],
  },
  emptyBin: { method: "DELETE", path: "/storage/bin", summary: "Remove for good what was deleted", reply: "json" },
  compactStorage: { method: "POST", path: "/storage/compact", summary: "Give empty space of the file back to the disk", reply: "json" },

  getVenue: { method: "GET", path: "/venue", summary: "The practice venue's clock", reply: "json" },
  setVenueClock: {
    ...{ method: "PUT", path: "/venue/clock", summary: "Set how fast the venue's clock runs, and whether it holds", reply: "json" },
    body: shape<VenueClockChange>(venueClockSchema, "the clock"),
  },
  getVenueFaults: { method: "GET", path: "/venue/faults", summary: "What goes wrong at the practice venue on purpose", reply: "json" },
  setVenueFaults: {
    ...{ method: "PATCH", path: "/venue/faults", summary: "Make things go wrong at the practice venue", reply: "json" },
    body: shape<VenueFaultsChange>(venueFaultsSchema, "the faults"),
  },
  tradeBesideWatch: {
    ...{
      method: "POST",
      path: "/watches/:id/other-trades",
      summary: "Let something else trade under a watch's name, for practice",
      reply: "nothing",
    },
    body: shape<OtherTrade>(otherTradeSchema, "the trade"),
    errors: ["conflict", "not-found", "unavailable"],
  },
  jumpPrice: {
    ...{ method: "POST", path: "/venue/jumps", summary: "Let a price jump at the practice venue, with the next minute", reply: "nothing" },
    body: shape<PriceJump>(priceJumpSchema, "the jump"),
    errors: ["not-found", "unavailable"],
  },
  restartVenue: { method: "POST", path: "/venue/restart", summary: "Kill the practice venue; it starts again by itself", reply: "nothing" },
  listHoldings: {
    ...{ method: "GET", path: "/venue/holdings", summary: "What is open at the venue and belongs to no watch", reply: "json" },
  },
  closeHolding: {
    ...{
      method: "DELETE",
      path: "/venue/holdings/:account/:owner",
      summary: "Cancel and close what belongs to no watch",
      reply: "nothing",
    },
    errors: ["conflict", "not-found"],
  },
  listWatches: { method: "GET", path: "/watches", summary: "Watches", reply: "json" },
  createWatch: {
    ...{ method: "POST", path: "/watches", summary: "Arm a plan on the live feed", reply: "json", status: 201 },
    body: shape<WatchRequest>(watchRequestSchema, "the watch"),
    errors: OF_RUNS,
  },
  stopWatches: {
    ...{ method: "POST", path: "/watches/stop", summary: "Stop every watch", reply: "json" },
    body: shape<StopWatch>(stopWatchSchema, "the request"),
  },
  getWatch: { method: "GET", path: "/watches/:id", summary: "A watch with its working orders and figures", reply: "json" },
  changeWatch: {
    ...{ method: "PATCH", path: "/watches/:id", summary: "Rename, pause or resume a watch, or change its mode", reply: "nothing" },
    body: shape<ChangeWatch>(changeWatchSchema, "the change"),
    errors: ["not-found", "conflict"],
  },
  restartWatch: {
    ...{ method: "POST", path: "/watches/:id/restart", summary: "Start a watch again that has ended", reply: "json" },
    body: shape<RestartWatch>(restartWatchSchema, "the request"),
    errors: [...OF_RUNS, "conflict"],
  },
  changeWatchPlan: {
    ...{ method: "PUT", path: "/watches/:id/plan", summary: "Give a watch another version of its plan, or other inputs", reply: "nothing" },
    body: shape<WatchVersion>(watchVersionSchema, "the version"),
    errors: [...OF_RUNS, "conflict"],
  },
  deleteWatch: {
    ...{ method: "DELETE", path: "/watches/:id", summary: "Delete a watch that has ended and holds nothing", reply: "nothing" },
    errors: ["not-found", "conflict"],
  },
  getWatchEvents: {
    ...{ method: "GET", path: "/watches/:id/events", summary: "What a watch did, newest first", reply: "json" },
    query: shape<EventsQuery, Partial<EventsQuery>>(eventsQuerySchema, "the query"),
    errors: ["not-found"],
  },
  getWatchDrift: {
    ...{ method: "GET", path: "/watches/:id/drift", summary: "What a watch did against the backtest of the same bars", reply: "json" },
    errors: OF_RUNS,
  },
  openWatch: {
    ...{
      method: "POST",
      path: "/watches/:id/runs",
      summary: "Keep what a watch did, and the backtest of the same bars, as runs",
      reply: "json",
    },
    errors: [...OF_RUNS, "unavailable"],
  },
  getWatchChart: {
    ...{
      method: "GET",
      path: "/watches/:id/chart",
      summary: "Bars of a watch, the last or those up to a time, with what its plan shows",
      reply: "columns",
    },
    query: shape<WatchChartQuery, Partial<WatchChartQuery>>(watchChartSchema, "the query"),
    errors: ["conflict"],
  },
  getWatchTrades: {
    ...{ method: "GET", path: "/watches/:id/trades", summary: "Closed trades of a watch, oldest first", reply: "json" },
    errors: ["not-found"],
  },
  stopWatch: {
    ...{ method: "POST", path: "/watches/:id/stop", summary: "End a watch, and say what becomes of what is open", reply: "nothing" },
    body: shape<StopWatch>(stopWatchSchema, "the request"),
    errors: ["conflict", "not-found"],
  },
  flattenWatch: {
    ...{ method: "POST", path: "/watches/:id/flatten", summary: "Cancel a watch's orders and close what it has open", reply: "nothing" },
    errors: ["conflict", "not-found"],
  },
  cancelWatchOrder: {
    ...{ method: "DELETE", path: "/watches/:id/orders/:order", summary: "Cancel one working order of a watch", reply: "nothing" },
    errors: ["conflict", "not-found"],
  },
  answerPrompt: {
    ...{ method: "POST", path: "/watches/:id/prompts/:order", summary: "Accept or decline an order that waits", reply: "nothing" },
    body: shape<AnswerPrompt>(answerPromptSchema, "the answer"),
    errors: ["conflict", "not-found"],
  },

  getAlerts: { method: "GET", path: "/alerts", summary: "Channels and rules of alerts", reply: "json" },
  setAlerts: {
    ...{ method: "PUT", path: "/alerts", summary: "Change channels and rules of alerts", reply: "json" },
    body: shape<AlertSetup>(alertSetupSchema, "the alerts"),
    errors: ["conflict"],
  },
  setAlertSecret: {
    ...{ method: "PUT", path: "/alerts/channels/:id/secret", summary: "Set the secret of a channel; empty removes it", reply: "nothing" },
    body: shape<AlertSecret>(alertSecretSchema, "the secret"),
  },
  testAlert: {
    ...{ method: "POST", path: "/alerts/channels/:id/test", summary: "Send a test through a channel, once", reply: "json" },
  },
  previewAlert: {
    ...{ method: "POST", path: "/alerts/preview", summary: "What a channel would send for the last event", reply: "json" },
    body: shape<AlertPreviewRequest>(alertPreviewSchema, "the channel"),
  },
  listDeliveries: {
    ...{ method: "GET", path: "/alerts/deliveries", summary: "What became of alerts, newest first", reply: "json" },
    query: shape<DeliveriesQuery, Partial<DeliveriesQuery>>(deliveriesQuerySchema, "the query"),
  },
  getInbox: { method: "GET", path: "/alerts/inbox", summary: "Mails and web calls that the practice venue took", reply: "json" },
} as const satisfies Readonly<Record<string, Route>>;

export type RouteName = keyof typeof ROUTES;
export type RouteOf<Name extends RouteName> = (typeof ROUTES)[Name];
export const ROUTE_NAMES = Object.keys(ROUTES) as RouteName[];

/** Schemas of what a client may send: compiled when the server starts. */
export const REQUEST_SHAPES: readonly object[] = Object.values<Route>(ROUTES).flatMap(({ query, body }) =>
  [query, body].flatMap((part) => (part && part !== "file" ? [part.schema] : [])),
);

/** What a route answers; for columns it is their JSON head. */
export type ReplyOf<Name extends RouteName> = Name extends keyof Replies ? Replies[Name] : undefined;

type Sent<Name extends RouteName> = ParamsOf<RouteOf<Name>> & SentQueryOf<RouteOf<Name>>;
/** What a client gives a route: fields of path and query together, then the body; both are left out where there are none. */
export type CallOf<Name extends RouteName> =
  BodyOf<RouteOf<Name>> extends undefined
    ? [keyof Sent<Name>] extends [never]
      ? []
      : [fields: Sent<Name>]
    : [fields: Sent<Name>, body: BodyOf<RouteOf<Name>>];
