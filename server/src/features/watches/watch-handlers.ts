import type { HandlersOf } from "../../http/serve.ts";
import type { Linker } from "../../modules/linker.ts";
import type { WatchService } from "./watch-service.ts";

type Names = "getVenue" | "setVenueSpeed" | "listWatches" | "createWatch" | "getWatch" | "stopWatch" | "flattenWatch";

/** @param watches throws PlanTesterError unavailable before the server watches. */
export function watchHandlers(watches: () => WatchService, linker: Linker): HandlersOf<Names> {
  return {
    getVenue: () => watches().venueStatus,
    setVenueSpeed: ({ body }) => watches().setSpeed(body.speed),
    listWatches: () => watches().list(),
    createWatch: async ({ body }) => watches().start(await linker.linked(body)),
    getWatch: ({ params }) => watches().get(params.id),
    stopWatch: ({ params, query }) => watches().stop(params.id, query.flatten),
    flattenWatch: ({ params }) => watches().flatten(params.id),
  };
}
