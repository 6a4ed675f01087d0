/** What becomes out of date by a change that this page makes, and by what the server tells. Each is said here and nowhere else. */
import type { BinKind, CallOf, RouteName, ServerEvent } from "@plan-tester/contract";
import { type Key, keyOf, type ReadRoute } from "./keys.ts";

/** Routes that change something, or begin something. */
export type ChangingRoute = Exclude<RouteName, ReadRoute>;

type Stale = readonly (Key | ReadRoute)[];
type StaleAfter = { readonly [Name in ChangingRoute]: (...given: CallOf<Name>) => Stale };

const RUN_LISTS = ["listRuns", "getRunFacets", "listPlans"] as const;
const LISTS_OF = {
  plan: ["listPlans", "getPlan", "listModules"],
  run: [...RUN_LISTS, "getRun"],
  sweep: ["listSweeps", "getSweep"],
  "walk-forward": ["listWalkForwards", "getWalkForward"],
  blend: ["listBlends", "getBlend"],
  market: ["listMarkets", "getHistory"],
  source: ["listSources", "getSourceLog"],
} as const satisfies Readonly<Record<BinKind, Stale>>;
const NOTHING = (): Stale => [];
const DEMO = (): Stale => ["getDemo", "getStorage", ...Object.values(LISTS_OF).flat()];

export const AFTER_CHANGE: StaleAfter = {
  deleteMarket: () => ["listMarkets", "getStorage"],
  importBars: () => ["listMarkets", "getHistory", "getBars", "getQuality", "getFoundSessions", "getImportMapping", "getStudy"],
  makeRepair: () => ["listMarkets", "getHistory", "getBars", "getQuality", "getStudy", "listRepairs"],
  undoRepair: () => ["listMarkets", "getHistory", "getBars", "getQuality", "getStudy", "listRepairs"],
  changeFacts: () => ["listMarkets", "getHistory", "getBars", "getQuality", "getStudy"],
  createSource: () => ["listSources"],
  turnSource: () => ["listSources"],
  lookAtSource: () => ["listSources", "getSourceLog", "listMarkets", "getHistory", "getBars", "getQuality", "getStudy"],
  deleteSource: () => ["listSources", "getStorage"],
  putMark: ({ symbol }) => [keyOf("listMarks", { symbol })],
  deleteMark: ({ symbol }) => [keyOf("listMarks", { symbol })],
  putLayout: () => ["listLayouts"],
  deleteLayout: () => ["listLayouts"],
  makeBundle: NOTHING,
  stopBundle: () => [],
  openBundle: () => ["listMarkets", "getHistory", "listKits", "listModules", ...RUN_LISTS],
  makeDemo: DEMO,
  removeDemo: DEMO,
  createPlan: () => ["listPlans"],
  updatePlan: ({ id }) => ["listPlans", "listKits", keyOf("getTrialContext", { id })],
  deletePlan: () => ["listPlans", "getStorage"],
  createPlanFromFile: () => ["listPlans", "listModules"],
  describePlan: NOTHING,
  readKit: NOTHING,
  createInstrumentList: () => ["listInstrumentLists"],
  replaceInstrumentList: () => ["listInstrumentLists"],
  deleteInstrumentList: () => ["listInstrumentLists"],
  shelveMarkets: () => ["listMarkets"],
  copyMarket: () => ["listMarkets", "getStorage"],
  createKit: () => ["listKits"],
  replaceKit: () => ["listKits"],
  deleteKit: () => ["listKits"],
  createBlend: () => ["listBlends"],
  replaceBlend: ({ id }) => ["listBlends", keyOf("getBlend", { id })],
  runBlend: NOTHING,
  stopBlendRun: NOTHING,
  deleteBlend: () => ["listBlends", "getStorage"],
  createVariant: ({ id }) => [keyOf("listVariants", { id }), "listKits"],
  replaceVariant: () => ["listVariants", "listKits"],
  deleteVariant: () => ["listVariants", "listKits"],
  createVersion: ({ id }) => [keyOf("listVersions", { id })],
  renameVersion: ({ id }) => ["listVersions", keyOf("getVersion", { id })],
  createRun: NOTHING,
  stopRun: NOTHING,
  verifyRun: NOTHING,
  checkLookAhead: NOTHING,
  stopLookAhead: NOTHING,
  stopRules: NOTHING,
  stopChance: NOTHING,
  keepRun: () => RUN_LISTS,
  deleteRun: () => [...RUN_LISTS, "getStorage"],
  noteCompared: NOTHING,
  setRetention: () => ["getStorage"],
  emptyBin: () => ["getStorage"],
  compactStorage: () => ["getStorage"],
  restoreDeleted: (_fields, { kind }) => ["getStorage", ...LISTS_OF[kind]],
  queueRuns: () => ["listQueue"],
  stopQueuedRun: () => ["listQueue"],
  clearQueue: () => ["listQueue"],
  createSweep: () => ["listSweeps"],
  stopSweep: ({ id }) => ["listSweeps", keyOf("getSweep", { id }), keyOf("getSweepFigures", { id })],
  pauseSweep: ({ id }) => ["listSweeps", keyOf("getSweep", { id }), keyOf("getSweepFigures", { id })],
  resumeSweep: ({ id }) => ["listSweeps", keyOf("getSweep", { id })],
  startLuck: ({ id }) => [keyOf("getLuck", { id })],
  pauseLuck: ({ id }) => [keyOf("getLuck", { id })],
  deleteSweep: () => ["listSweeps", "getStorage"],
  createWalkForward: () => ["listWalkForwards"],
  stopWalkForward: ({ id }) => ["listWalkForwards", keyOf("getWalkForward", { id })],
  deleteWalkForward: () => ["listWalkForwards", "getStorage"],
  setVenueClock: () => ["getVenue"],
  setVenueFaults: () => ["getVenueFaults"],
  restartVenue: () => ["getVenueFaults"],
  tradeBesideWatch: () => ["listWatches"],
  jumpPrice: () => [],
  closeHolding: () => ["listHoldings"],
  createWatch: () => ["listWatches"],
  stopWatches: () => ["listWatches", "getWatch"],
  changeWatch: ({ id }) => ["listWatches", keyOf("getWatch", { id })],
  restartWatch: ({ id }) => ["listWatches", keyOf("getWatch", { id }), "getWatchEvents"],
  changeWatchPlan: ({ id }) => ["listWatches", keyOf("getWatch", { id }), "getJournal"],
  deleteWatch: () => ["listWatches"],
  openWatch: () => RUN_LISTS,
  stopWatch: ({ id }) => ["listWatches", keyOf("getWatch", { id })],
  flattenWatch: ({ id }) => ["listWatches", keyOf("getWatch", { id })],
  cancelWatchOrder: ({ id }) => ["listWatches", keyOf("getWatch", { id })],
  setAlerts: () => ["getAlerts"],
  setAlertSecret: () => ["getAlerts"],
  testAlert: () => ["listDeliveries", "getInbox"],
  previewAlert: NOTHING,
  answerPrompt: ({ id }) => ["listWatches", keyOf("getWatch", { id })],
};

/** Figures of a running sweep are long: the page that shows them asks for them at its own pace. */
type EventsThatAge = Exclude<
  ServerEvent["type"],
  | "run-figures"
  | "run-progress"
  | "blend-progress"
  | "rules-progress"
  | "chance-progress"
  | "import-progress"
  | "sweep-progress"
  | "trouble"
>;

export const AFTER_EVENT: { readonly [Type in EventsThatAge]: (event: Extract<ServerEvent, { readonly type: Type }>) => Stale } = {
  plan: ({ id }) => ["listPlans", keyOf("getPlan", { id }), "getWatch"],
  queue: ({ queue }) => (queue.some(({ state }) => state === "kept" || state === "stopped" || state === "failed") ? RUN_LISTS : []),
  "sweep-done": ({ id }) => ["listSweeps", keyOf("getSweep", { id }), keyOf("getSweepFigures", { id }), keyOf("getSweepDaily", { id })],
  luck: ({ id, share, isRunning }) => (share === 0 || !isRunning ? [keyOf("getLuck", { id })] : []),
  "walk-forward": ({ id, status }) => ["listWalkForwards", keyOf("getWalkForward", { id }), ...(status === "running" ? [] : RUN_LISTS)],
  watch: ({ id }) => ["listWatches", "listHoldings", keyOf("getWatch", { id }), "getWatchEvents"],
  venue: () => [],
  alert: () => [],
  "rules-noted": () => ["getJournal"],
  delivery: () => ["listDeliveries", "getInbox"],
};
