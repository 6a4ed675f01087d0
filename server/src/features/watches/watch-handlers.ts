import { type HandlersOf, Pieces } from "../../http/serve.ts";
import type { Linker } from "../../modules/linker.ts";
import type { RequestReader } from "../../request-reader.ts";
import type { WatchService } from "./watch-service.ts";

type Names =
  | "getVenue"
  | "setVenueClock"
  | "getVenueFaults"
  | "setVenueFaults"
  | "restartVenue"
  | "jumpPrice"
  | "tradeBesideWatch"
  | "listHoldings"
  | "closeHolding"
  | "listWatches"
  | "createWatch"
  | "stopWatches"
  | "getWatch"
  | "changeWatch"
  | "restartWatch"
  | "changeWatchPlan"
  | "deleteWatch"
  | "getWatchEvents"
  | "getWatchDrift"
  | "openWatch"
  | "getWatchChart"
  | "getWatchTrades"
  | "stopWatch"
  | "flattenWatch"
  | "cancelWatchOrder"
  | "answerPrompt";

/** @param watches throws PlanTesterError unavailable before the server watches. */
export function watchHandlers(watches: () => WatchService, linker: Linker, reader: RequestReader): HandlersOf<Names> {
  return {
    getVenue: () => watches().venueStatus,
    setVenueClock: ({ body }) => watches().setClock(body),
    getVenueFaults: () => watches().faults(),
    setVenueFaults: ({ body }) => watches().setFaults(body),
    tradeBesideWatch: ({ params, body }) => watches().tradeBeside(params.id, body),
    jumpPrice: ({ body }) => watches().jump(body),
    restartVenue: () => watches().killVenue(),
    listHoldings: () => watches().holdings(),
    closeHolding: ({ params }) => watches().closeHolding(params.account, params.owner),
    listWatches: () => watches().list(),
    createWatch: async ({ body }) => watches().start(await reader.read(body)),
    stopWatches: ({ body }) => watches().stopAll(body.leaving),
    getWatch: ({ params }) => watches().get(params.id),
    changeWatch: ({ params, body }) => watches().change(params.id, body),
    restartWatch: ({ params, body }) => watches().restart(params.id, body.open),
    changeWatchPlan: async ({ params, body }) => {
      const { source } = body;
      return watches().changePlan(params.id, source === undefined ? body : { ...body, source: await linker.link(source) });
    },
    deleteWatch: ({ params }) => watches().delete(params.id),
    getWatchEvents: ({ params, query }) => watches().events(params.id, query),
    getWatchDrift: ({ params }) => watches().drift(params.id),
    openWatch: ({ params }) => watches().open(params.id),
    getWatchChart: async ({ params, query }) => new Pieces([await watches().chart(params.id, query)]),
    getWatchTrades: ({ params }) => watches().trades(params.id),
    stopWatch: ({ params, body }) => watches().stop(params.id, body.leaving),
    flattenWatch: ({ params }) => watches().flatten(params.id),
    cancelWatchOrder: ({ params }) => watches().cancelOrder(params.id, Number(params.order)),
    answerPrompt: ({ params, body }) => watches().answerPrompt(params.id, Number(params.order), body.accept, body.late),
  };
}
