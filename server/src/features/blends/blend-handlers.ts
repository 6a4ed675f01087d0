import type { Bin } from "../../db/bin.ts";
import { type HandlersOf, Pieces } from "../../http/serve.ts";
import type { BlendRepository } from "./blend-repository.ts";
import type { BlendRuns } from "./blend-runs.ts";

type Served = "listBlends" | "createBlend" | "getBlend" | "replaceBlend" | "deleteBlend" | "runBlend" | "stopBlendRun";

export function blendHandlers(blends: BlendRepository, runs: BlendRuns, bin: Bin): HandlersOf<Served> {
  return {
    listBlends: () => blends.list(),
    createBlend: ({ body }) => blends.insert(body),
    getBlend: ({ params }) => blends.get(params.id),
    replaceBlend: ({ params, body }) => blends.replace(params.id, body),
    runBlend: async ({ body }) => new Pieces(await runs.run(body)),
    stopBlendRun: ({ params }) => runs.stop(params.id),
    deleteBlend: ({ params }) => bin.put("blend", params.id),
  };
}
