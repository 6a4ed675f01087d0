import type { HandlersOf } from "../../http/serve.ts";
import type { RequestReader } from "../../request-reader.ts";
import type { WalkForwardService } from "./walk-forward-service.ts";

type Names = "listWalkForwards" | "createWalkForward" | "getWalkForward" | "stopWalkForward" | "deleteWalkForward";

export function walkForwardHandlers(walks: WalkForwardService, reader: RequestReader): HandlersOf<Names> {
  return {
    listWalkForwards: () => walks.list(),
    createWalkForward: async ({ body }) => walks.start(await reader.read(body)),
    getWalkForward: ({ params }) => walks.get(params.id),
    stopWalkForward: ({ params }) => walks.stop(params.id),
    deleteWalkForward: ({ params }) => walks.delete(params.id),
  };
}
