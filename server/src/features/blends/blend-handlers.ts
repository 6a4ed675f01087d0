import type { Bin } from "../../db/bin.ts";
import type { HandlersOf } from "../../http/serve.ts";
import type { BlendRepository } from "./blend-repository.ts";

type Served = "listBlends" | "createBlend" | "getBlend" | "replaceBlend" | "deleteBlend";

export function blendHandlers(blends: BlendRepository, bin: Bin): HandlersOf<Served> {
  return {
    listBlends: () => blends.list(),
    createBlend: ({ body }) => blends.insert(body),
    getBlend: ({ params }) => blends.get(params.id),
    replaceBlend: ({ params, body }) => blends.replace(params.id, body),
    deleteBlend: ({ params }) => bin.put("blend", params.id),
  };
}
