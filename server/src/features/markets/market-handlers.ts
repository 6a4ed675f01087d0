import { type BarsMeta, packColumns, type QualityMeta, type StudyMeta } from "@plan-tester/contract";
import type { BarSeries } from "@plan-tester/core";
import { type HandlersOf, Pieces } from "../../http/serve.ts";
import type { FactsService } from "./facts-service.ts";
import type { MarketService } from "./market-service.ts";
import type { MarketShelf } from "./market-shelf.ts";
import type { RepairService } from "./repair-service.ts";

/** Bars as columns, with the session of each bar as an index into the sessions' dates. */
function packBars(symbol: string, series: BarSeries): Uint8Array {
  const used = new Map<number, number>();
  const session = Float64Array.from(series.session, (s) => {
    if (!used.has(s)) used.set(s, used.size);
    return used.get(s)!;
  });
  const { sessions, timeframe, time, closeTime, open, high, low, close, volume, spread } = series;
  const meta: BarsMeta = { symbol, timeframe, zone: sessions.zone, dates: [...used.keys()].map((s) => sessions.dates[s]!) };
  const columns = Object.entries({ time, closeTime, open, high, low, close, volume, session, ...(spread && { spread }) });
  return packColumns(
    meta,
    columns.map(([name, values]) => ({ name, values })),
  );
}

function packQuality({ findings, bars, expected, doubtful, map, series }: Awaited<ReturnType<MarketService["quality"]>>): Uint8Array {
  const meta: QualityMeta = {
    ...{ findings, bars, expected, doubtful, zone: series.sessions.zone, timeframe: series.timeframe },
    ...{ dates: map?.dates ?? [], cells: map?.cells ?? 0, cellMinutes: map?.cellMinutes ?? 0 },
  };
  return packColumns(meta, [
    { name: "openMs", values: map?.openMs ?? new Float64Array(0) },
    { name: "present", values: map?.present ?? new Uint8Array(0) },
    { name: "doubt", values: map?.doubt ?? new Uint8Array(0) },
  ]);
}

export function marketHandlers(
  markets: MarketService,
  facts: FactsService,
  repairs: RepairService,
  shelf: MarketShelf,
): HandlersOf<
  | "listMarkets"
  | "getHistory"
  | "getBars"
  | "getStudy"
  | "getBarFile"
  | "getQuality"
  | "changeFacts"
  | "shelveMarkets"
  | "copyMarket"
  | "getFoundSessions"
  | "listRepairs"
  | "makeRepair"
  | "undoRepair"
> {
  return {
    listMarkets: () => markets.list(),
    getHistory: ({ params }) => markets.thumbnail(params.symbol),
    getBars: async ({ params: { symbol }, query: { timeframe, from, to, fromMs, toMs } }) => {
      const wanted = fromMs === undefined || toMs === undefined ? { from, to } : { fromMs, toMs };
      return new Pieces([packBars(symbol, await markets.period(symbol, timeframe, wanted))]);
    },
    getStudy: async ({ params: { symbol }, query: { timeframe, from, to, study } }) => {
      const { kind, values } = await markets.study(symbol, timeframe, { from, to }, study);
      return new Pieces([packColumns({ study, kind } satisfies StudyMeta, [{ name: "values", values }])]);
    },
    listRepairs: ({ params }) => repairs.list(params.symbol),
    makeRepair: ({ params, body }) => repairs.make(params.symbol, body),
    undoRepair: ({ params }) => repairs.undo(params.symbol, Number(params.id)),
    shelveMarkets: ({ body }) => shelf.archive(body.symbols, body.isArchived),
    copyMarket: ({ params, body }) => shelf.copy(params.symbol, body.symbol),
    changeFacts: ({ params, body }) => facts.change(params.symbol, body),
    getFoundSessions: ({ params }) => facts.findSessions(params.symbol),
    getBarFile: async ({ params: { symbol }, query: { timeframe, from, to, form, studies } }) =>
      new Pieces(await markets.file(symbol, timeframe, { from, to }, form, studies)),
    getQuality: async ({ params: { symbol } }) => new Pieces([packQuality(await markets.quality(symbol))]),
  };
}
