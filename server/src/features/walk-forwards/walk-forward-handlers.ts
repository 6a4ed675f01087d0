import type { HandlersOf } from "../../http/serve.ts";
import type { Linker } from "../../modules/linker.ts";
import type { WalkForwardService } from "./walk-forward-service.ts";

type Names = "listWalkForwards" | "createWalkForward" | "getWalkForward" | "stopWalkForward" | "deleteWalkForward";

export function walkForwardHandlers(walks: WalkForwardService, linker: Linker): HandlersOf<Names> {
  return {
    listWalkForwards: () => walks.list(),
    createWalkForward: async ({ body }) => walks.start(await linker.linked(body)),
    getWalkForward: ({ params }) => walks.get(params.id),
    stopWalkForward: ({ params }) => walks.stop(params.id),
    deleteWalkForward: ({ params }) => walks.delete(params.id),
  };
}
