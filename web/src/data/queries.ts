/** Every query of the app: key, fetcher and type in one value. */
import {
  type CallOf,
  type ConditionsRequest,
  type DeliveriesQuery,
  type EventsQuery,
  type RunEvidence,
  type RunQuery,
  runOrdersOf,
  type SweepRequest,
} from "@plan-tester/contract";
import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { type Called, call } from "./api.ts";
import { keyOf, type ReadRoute } from "./keys.ts";

const RUNS_A_PAGE = 100;
const EVENTS_A_PAGE = 200;
const A_BATCH = 200;
const FOREVER = Number.POSITIVE_INFINITY;

/** What never changes once it is there. */
const FIXED = { staleTime: FOREVER } as const;
/** As that, and long: not compared with what was there before, and soon let go where it is not shown. */
const LONG = { staleTime: FOREVER, gcTime: 120_000, structuralSharing: false } as const;

/** What is told of a text while it is written: the answer on the last one stays until there is another. */
const OF_A_TEXT = { staleTime: FOREVER, gcTime: 60_000, placeholderData: keepPreviousData, retry: false } as const;

/** The answer of one route, as it is. */
function ask<Name extends ReadRoute>(name: Name, ...given: CallOf<Name>) {
  const [fields] = given as readonly [fields?: Readonly<Record<string, unknown>>];
  return queryOptions({ queryKey: keyOf(name, fields), queryFn: (): Promise<Called<Name>> => call(name, ...given) });
}

/** As that, read again when `asOf` changes. */
function askAgain<Name extends ReadRoute>(asOf: string, name: Name, ...given: CallOf<Name>) {
  const [fields] = given as readonly [fields?: Readonly<Record<string, unknown>>];
  return queryOptions({ queryKey: keyOf(name, fields, asOf), queryFn: (): Promise<Called<Name>> => call(name, ...given) });
}

const LOOK_EVERY_MS = 2000;
const CHART_MS = 1000;
/** So many bars of a chart are read again in that time. */
const CHART_BARS = 2000;

export const queries = {
  demo: () => ({
    ...ask("getDemo"),
    refetchInterval: ({ state }: { readonly state: { readonly data?: Called<"getDemo"> | undefined } }) =>
      state.data?.state === "making" ? LOOK_EVERY_MS : (false as const),
  }),
  markets: () => ask("listMarkets"),
  instrumentLists: () => ask("listInstrumentLists"),
  history: (symbol: string) => ({ ...ask("getHistory", { symbol }), ...FIXED }),
  /** Asked for by a button: the sessions that the bars of an instrument show. */
  foundSessions: (symbol: string) => ({ ...ask("getFoundSessions", { symbol }), ...FIXED, enabled: false, retry: false }),
  study: (symbol: string, timeframe: string, from: string, to: string, study: string) => ({
    ...ask("getStudy", { symbol, timeframe, from, to, study }),
    ...LONG,
    retry: false,
  }),
  marks: (symbol: string) => ask("listMarks", { symbol }),
  layouts: () => ask("listLayouts"),
  sources: () => ({ ...ask("listSources"), refetchInterval: LOOK_EVERY_MS }),
  sourceLog: (id: string) => ({ ...ask("getSourceLog", { id }), refetchInterval: LOOK_EVERY_MS }),
  importMapping: (shape: string) => ask("getImportMapping", { shape }),
  repairs: (symbol: string) => ask("listRepairs", { symbol }),
  /** What is doubtful about the bars of an instrument. */
  quality: (symbol: string) => ({ ...ask("getQuality", { symbol }), ...LONG }),
  bars: (symbol: string, timeframe: string, from: string, to: string) => ({ ...ask("getBars", { symbol, timeframe, from, to }), ...LONG }),
  /** Bars of a stretch of time. */
  barsBetween: (symbol: string, timeframe: string, fromMs: number, toMs: number) => {
    const dateOf = (ms: number): string => new Date(ms).toISOString().slice(0, 10);
    return { ...ask("getBars", { symbol, timeframe, from: dateOf(fromMs), to: dateOf(toMs), fromMs, toMs }), ...LONG };
  },
  /** Of a watch's run: those that the watch saw. */
  barsOf: ({ settings: { symbol, timeframe, from, to }, watched }: Pick<RunEvidence, "settings" | "watched">, other = "") => {
    const stretch = watched && { fromMs: watched.fromMs, toMs: watched.toMs };
    return { ...ask("getBars", { symbol, timeframe: other || timeframe, from, to, ...stretch }), ...LONG };
  },

  plans: () => ask("listPlans"),
  modules: () => ask("listModules"),
  plan: (id: string) => ({ ...ask("getPlan", { id }), ...FIXED }),
  versions: (planId: string) => ask("listVersions", { id: planId }),
  version: (id: string) => ({ ...ask("getVersion", { id }), ...FIXED }),
  kits: () => ask("listKits"),
  blends: () => ask("listBlends"),
  blend: (id: string) => ask("getBlend", { id }),
  variants: (planId: string) => ask("listVariants", { id: planId }),
  /** How many settings a plan was tried with, and on which history. */
  trials: (planId: string, runId: string) => askAgain(runId, "getTrialContext", { id: planId }),
  journal: (planId: string, runId: string) => askAgain(runId, "getJournal", { id: planId }),
  lastDraft: (planId: string) => ({ ...ask("getLastDraft", { id: planId }), ...FIXED }),

  runPages: (query: Partial<RunQuery>) =>
    infiniteQueryOptions({
      queryKey: keyOf("listRuns", query),
      queryFn: ({ pageParam }) => call("listRuns", { ...query, offset: pageParam, limit: RUNS_A_PAGE }),
      initialPageParam: 0,
      getNextPageParam: ({ total }, pages) => (pages.length * RUNS_A_PAGE < total ? pages.length * RUNS_A_PAGE : undefined),
      placeholderData: keepPreviousData,
    }),
  /** The runs of one batch, or the latest of all when it is ""; read again as more of them are done. */
  batch: (batch: string, done: number) => ({
    ...askAgain(`batch ${done}`, "listRuns", { batch, limit: A_BATCH }),
    placeholderData: keepPreviousData<Called<"listRuns">>,
  }),
  runFacets: () => ask("getRunFacets"),
  queue: () => ask("listQueue"),
  run: (id: string) => ({ ...ask("getRun", { id }), ...FIXED, structuralSharing: false }),
  runLines: (id: string) => ({ ...ask("getRunLines", { id }), ...FIXED }),
  runStrips: (id: string) => ({ ...ask("getRunStrips", { id }), ...LONG }),
  /** Asked for by a button: it runs the plan some forty times. */
  /** Asked for by a button: 99 runs. */
  runChance: (id: string) => ({ ...ask("checkChance", { id }), ...FIXED, enabled: false, retry: false }),
  runStress: (id: string) => ({ ...ask("stressRun", { id }), ...FIXED, enabled: false, retry: false }),
  /** Asked for by a button, as long as a sweep with placebos. */
  runRules: (id: string, placebos: number) => ({ ...ask("checkRules", { id, placebos }), ...FIXED, enabled: false, retry: false }),
  runSteps: (id: string, from: number, to: number) => ({ ...ask("getRunSteps", { id, from, to }), ...LONG }),
  runColumns: (id: string) => ({ ...ask("getRunColumns", { id }), ...LONG }),
  runOrders: (id: string) =>
    queryOptions({
      queryKey: keyOf("getRunOrders", { id }),
      queryFn: async () => runOrdersOf(await call("getRunOrders", { id })),
      ...FIXED,
      structuralSharing: false,
    }),

  sweeps: () => ask("listSweeps"),
  sweep: (id: string) => ({
    ...ask("getSweep", { id }),
    // Besides the event stream, which may connect after a short sweep is over.
    refetchInterval: ({ state }: { readonly state: { readonly data?: Called<"getSweep"> | undefined } }) =>
      state.data?.status === "running" ? 1000 : (false as const),
  }),
  sweepFigures: (id: string) => ({ ...ask("getSweepFigures", { id }), structuralSharing: false }),
  /** Daily returns of a sweep, for the probability of overfitting. */
  sweepDaily: (id: string) => ({ ...ask("getSweepDaily", { id }), gcTime: 60_000, structuralSharing: false }),
  luck: (id: string) => ({
    ...ask("getLuck", { id }),
    // Besides the event stream, as above.
    refetchInterval: ({ state }: { readonly state: { readonly data?: Called<"getLuck"> | undefined } }) =>
      state.data?.status === "running" ? 2000 : (false as const),
  }),
  sweepEstimate: (request: SweepRequest) =>
    queryOptions({
      queryKey: keyOf("estimateSweep", { ...request }),
      queryFn: () => call("estimateSweep", {}, request),
      retry: false,
      staleTime: 60_000,
    }),
  /** When the conditions of a text hold; those of the text before stay until then. */
  conditions: ({ source, inputs, settings }: ConditionsRequest) =>
    queryOptions({
      queryKey: keyOf("findConditions", { source, inputs, settings }),
      queryFn: () => call("findConditions", {}, { source, inputs, settings }),
      ...OF_A_TEXT,
    }),
  reading: (source: string) =>
    queryOptions({ queryKey: keyOf("readProgram", { source }), queryFn: () => call("readProgram", {}, { source }), ...OF_A_TEXT }),
  walkForwards: () => ask("listWalkForwards"),
  walkForward: (id: string) => ask("getWalkForward", { id }),

  storage: () => ask("getStorage"),
  venue: () => ask("getVenue"),
  watches: () => ask("listWatches"),
  watch: (id: string) => ask("getWatch", { id }),
  /** It runs a backtest: read when it is looked at, and when that is asked for. */
  watchDrift: (id: string) => ({ ...ask("getWatchDrift", { id }), staleTime: FOREVER, retry: false }),
  /** @param bars so many of the last: read again as they grow, the less often the more they are */
  /** @param until bars that open by this time; 0 for the last ones, which are followed */
  watchChart: (id: string, bars: number, until = 0) => ({
    ...ask("getWatchChart", { id, bars, ...(until > 0 && { until }) }),
    ...{ placeholderData: keepPreviousData, structuralSharing: false, retry: false },
    refetchInterval: until > 0 ? (false as const) : CHART_MS * Math.ceil(bars / CHART_BARS),
  }),
  /** What a watch did, newest first, as far back as one scrolls. */
  watchEvents: (id: string, query: Pick<EventsQuery, "kind" | "search" | "level">) =>
    infiniteQueryOptions({
      queryKey: keyOf("getWatchEvents", { id, ...query }),
      queryFn: ({ pageParam }) => call("getWatchEvents", { id, ...query, offset: pageParam, limit: EVENTS_A_PAGE }),
      initialPageParam: 0,
      getNextPageParam: ({ total }, pages) => (pages.length * EVENTS_A_PAGE < total ? pages.length * EVENTS_A_PAGE : undefined),
      placeholderData: keepPreviousData,
    }),
  /** @param trades how many there are: read again when one more has closed */
  watchTrades: (id: string, trades: number) => ({
    ...askAgain(String(trades), "getWatchTrades", { id }),
    ...{ placeholderData: keepPreviousData, staleTime: FOREVER },
  }),
  faults: () => ({ ...ask("getVenueFaults"), refetchInterval: CHART_MS }),
  holdings: () => ask("listHoldings"),

  alerts: () => ask("getAlerts"),
  deliveries: (query: Pick<DeliveriesQuery, "state" | "watchId">) =>
    infiniteQueryOptions({
      queryKey: keyOf("listDeliveries", query),
      queryFn: ({ pageParam }) => call("listDeliveries", { ...query, offset: pageParam, limit: EVENTS_A_PAGE }),
      initialPageParam: 0,
      getNextPageParam: ({ total }, pages) => (pages.length * EVENTS_A_PAGE < total ? pages.length * EVENTS_A_PAGE : undefined),
      placeholderData: keepPreviousData,
    }),
  inbox: () => ({ ...ask("getInbox"), refetchInterval: LOOK_EVERY_MS }),
};
