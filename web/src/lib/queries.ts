/** Every query of the app: key, fetcher and type in one value. */
import type {
  HistoryThumbnail,
  LineEvidence,
  Market,
  PlanDetail,
  PlanModule,
  PlanSummary,
  RunEvidence,
  RunOrders,
  RunSummary,
  SweepDetail,
  SweepSummary,
  VenueStatus,
  WatchDetail,
  WatchSummary,
} from "@plan-tester/contract";
import { queryOptions } from "@tanstack/react-query";
import { api } from "./api.ts";

export interface BarsMeta {
  readonly symbol: string;
  readonly timeframe: string;
  readonly zone: string;
  readonly dates: readonly string[];
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
  runs: () => queryOptions({ queryKey: ["runs"], queryFn: () => api.get<RunSummary[]>("/runs") }),
  run: (id: string) =>
    queryOptions({
      queryKey: ["runs", id],
      queryFn: () => api.get<RunEvidence>(`/runs/${id}`),
      staleTime: FOREVER,
      structuralSharing: false,
    }),
  runLines: (id: string) =>
    queryOptions({ queryKey: ["runs", id, "lines"], queryFn: () => api.get<LineEvidence>(`/runs/${id}/lines`), staleTime: FOREVER }),
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
