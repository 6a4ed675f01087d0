/** Every query of the app: key, fetcher and type in one value. */
import type {
  HistoryThumbnail,
  LastDraft,
  LineEvidence,
  Market,
  PlanDetail,
  PlanModule,
  PlanSummary,
  PlanVersion,
  PlanVersionDetail,
  QueuedRun,
  RunEvidence,
  RunFacets,
  RunOrders,
  RunPage,
  RunQuery,
  RunSteps,
  StressAnswer,
  StripsMeta,
  SweepDetail,
  SweepSummary,
  Trial,
  TrialContext,
  Variant,
  VenueStatus,
  WalkForwardDetail,
  WalkForwardSummary,
  WatchDetail,
  WatchSummary,
} from "@plan-tester/contract";
import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api } from "./api.ts";

export interface BarsMeta {
  readonly symbol: string;
  readonly timeframe: string;
  readonly zone: string;
  readonly dates: readonly string[];
}

const RUNS_A_PAGE = 100;

/** The search part of an address; what is empty is left out. */
function searchOf(query: Readonly<Record<string, string | number | undefined>>): string {
  return new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) => (value === undefined || value === "" ? [] : [[name, String(value)]])),
  ).toString();
}

const FOREVER = Number.POSITIVE_INFINITY;

export const queries = {
  markets: () => queryOptions({ queryKey: ["markets"], queryFn: () => api.get<Market[]>("/markets") }),
  history: (symbol: string) =>
    queryOptions({
      queryKey: ["history", symbol],
      queryFn: () => api.get<HistoryThumbnail>(`/history?symbol=${encodeURIComponent(symbol)}`),
      staleTime: FOREVER,
    }),
  bars: (symbol: string, timeframe: string, from: string, to: string) =>
    queryOptions({
      queryKey: ["bars", symbol, timeframe, from, to],
      queryFn: () => api.columns<BarsMeta>(`/bars?symbol=${encodeURIComponent(symbol)}&timeframe=${timeframe}&from=${from}&to=${to}`),
      staleTime: FOREVER,
      gcTime: 120_000,
      structuralSharing: false,
    }),
  plans: () => queryOptions({ queryKey: ["plans"], queryFn: () => api.get<PlanSummary[]>("/plans") }),
  modules: () => queryOptions({ queryKey: ["modules"], queryFn: () => api.get<PlanModule[]>("/modules") }),
  plan: (id: string) => queryOptions({ queryKey: ["plans", id], queryFn: () => api.get<PlanDetail>(`/plans/${id}`), staleTime: FOREVER }),
  runPages: (query: Partial<RunQuery>) =>
    infiniteQueryOptions({
      queryKey: ["run-pages", query],
      queryFn: ({ pageParam }) => api.get<RunPage>(`/runs?${searchOf({ ...query, offset: pageParam, limit: RUNS_A_PAGE })}`),
      initialPageParam: 0,
      getNextPageParam: ({ total }, pages) => (pages.length * RUNS_A_PAGE < total ? pages.length * RUNS_A_PAGE : undefined),
      placeholderData: keepPreviousData,
    }),
  /** The runs of one batch, or the latest of all when it is ""; asked for anew as more of them are done. */
  batch: (batch: string, done: number) =>
    queryOptions({
      queryKey: ["run-pages", "batch", batch, done],
      queryFn: () => api.get<RunPage>(`/runs?${searchOf({ batch, limit: 200 })}`),
      placeholderData: keepPreviousData,
    }),
  runFacets: () => queryOptions({ queryKey: ["run-facets"], queryFn: () => api.get<RunFacets>("/run-facets") }),
  queue: () => queryOptions({ queryKey: ["queue"], queryFn: () => api.get<QueuedRun[]>("/queue") }),
  versions: (planId: string) =>
    queryOptions({ queryKey: ["versions", planId], queryFn: () => api.get<PlanVersion[]>(`/plans/${planId}/versions`) }),
  version: (id: string) =>
    queryOptions({ queryKey: ["version", id], queryFn: () => api.get<PlanVersionDetail>(`/versions/${id}`), staleTime: FOREVER }),
  variants: (planId: string) =>
    queryOptions({ queryKey: ["variants", planId], queryFn: () => api.get<Variant[]>(`/plans/${planId}/variants`) }),
  /** How many settings a plan was tried with, and on which history; asked for anew when another run is shown. */
  trials: (planId: string, runId: string) =>
    queryOptions({ queryKey: ["trials", planId, runId], queryFn: () => api.get<TrialContext>(`/plans/${planId}/trials`) }),
  walkForwards: () => queryOptions({ queryKey: ["walk-forwards"], queryFn: () => api.get<WalkForwardSummary[]>("/walk-forwards") }),
  walkForward: (id: string) =>
    queryOptions({ queryKey: ["walk-forwards", id], queryFn: () => api.get<WalkForwardDetail>(`/walk-forwards/${id}`) }),
  /** Daily returns of a sweep, for the probability of overfitting. */
  sweepDaily: (id: string) =>
    queryOptions({
      queryKey: ["sweeps", id, "daily"],
      queryFn: () => api.columns<{ settings: number; dailyStride: number }>(`/sweeps/${id}/daily`),
      gcTime: 60_000,
      structuralSharing: false,
    }),
  /** What was tried with a plan; asked for anew when another run is shown. */
  journal: (planId: string, runId: string) =>
    queryOptions({ queryKey: ["journal", planId, runId], queryFn: () => api.get<Trial[]>(`/plans/${planId}/journal`) }),
  lastDraft: (planId: string) =>
    queryOptions({
      queryKey: ["last-draft", planId],
      queryFn: () => api.get<LastDraft>(`/plans/${planId}/last-draft`),
      staleTime: FOREVER,
    }),
  run: (id: string) =>
    queryOptions({
      queryKey: ["runs", id],
      queryFn: () => api.get<RunEvidence>(`/runs/${id}`),
      staleTime: FOREVER,
      structuralSharing: false,
    }),
  runLines: (id: string) =>
    queryOptions({ queryKey: ["runs", id, "lines"], queryFn: () => api.get<LineEvidence>(`/runs/${id}/lines`), staleTime: FOREVER }),
  runStrips: (id: string) =>
    queryOptions({
      queryKey: ["runs", id, "strips"],
      queryFn: () => api.columns<StripsMeta>(`/runs/${id}/strips`),
      staleTime: FOREVER,
      gcTime: 120_000,
      structuralSharing: false,
    }),
  /** Asked for by a button: it runs the plan some forty times. */
  runStress: (id: string) =>
    queryOptions({
      queryKey: ["runs", id, "stress"],
      queryFn: () => api.post<StressAnswer>(`/runs/${id}/stress`),
      enabled: false,
      staleTime: FOREVER,
      retry: false,
    }),
  runSteps: (id: string, from: number, to: number) =>
    queryOptions({
      queryKey: ["runs", id, "steps", from],
      queryFn: () => api.get<RunSteps>(`/runs/${id}/steps?from=${from}&to=${to}`),
      staleTime: FOREVER,
      gcTime: 120_000,
      structuralSharing: false,
    }),
  runColumns: (id: string) =>
    queryOptions({
      queryKey: ["runs", id, "columns"],
      queryFn: () => api.columns<object>(`/runs/${id}/columns`),
      staleTime: FOREVER,
      gcTime: 120_000,
      structuralSharing: false,
    }),
  runOrders: (id: string) =>
    queryOptions({
      queryKey: ["runs", id, "orders"],
      queryFn: () => api.get<RunOrders>(`/runs/${id}/orders`),
      staleTime: FOREVER,
      structuralSharing: false,
    }),
  sweeps: () => queryOptions({ queryKey: ["sweeps"], queryFn: () => api.get<SweepSummary[]>("/sweeps") }),
  sweep: (id: string) =>
    queryOptions({
      queryKey: ["sweeps", id],
      queryFn: () => api.get<SweepDetail>(`/sweeps/${id}`),
      // Besides the event stream, which may connect after a short sweep is over.
      refetchInterval: (query) => (query.state.data?.status === "running" ? 1000 : false),
    }),
  sweepFigures: (id: string) =>
    queryOptions({
      queryKey: ["sweeps", id, "figures"],
      queryFn: () => api.columns<object>(`/sweeps/${id}/figures`),
      structuralSharing: false,
    }),
  venue: () => queryOptions({ queryKey: ["venue"], queryFn: () => api.get<VenueStatus>("/venue") }),
  watches: () => queryOptions({ queryKey: ["watches"], queryFn: () => api.get<WatchSummary[]>("/watches") }),
  watch: (id: string) => queryOptions({ queryKey: ["watches", id], queryFn: () => api.get<WatchDetail>(`/watches/${id}`) }),
};
