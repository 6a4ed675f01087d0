import type { Bin } from "../../db/bin.ts";
import type { HandlersOf } from "../../http/serve.ts";
import type { SourceRepository } from "./source-repository.ts";
import type { SourceService } from "./source-service.ts";

export function sourceHandlers(
  sources: SourceService,
  repository: SourceRepository,
  bin: Bin,
): HandlersOf<"listSources" | "createSource" | "turnSource" | "lookAtSource" | "deleteSource" | "getSourceLog"> {
  return {
    listSources: () => sources.list(),
    createSource: async ({ body }) => ({ id: await sources.create(body) }),
    turnSource: ({ params, body }) => sources.turn(params.id, body.isOn),
    lookAtSource: ({ params }) => sources.lookAt(params.id),
    deleteSource: ({ params }) => bin.put("source", params.id),
    getSourceLog: ({ params }) => repository.log(params.id),
  };
}
