import type { HandlersOf } from "../../http/serve.ts";
import type { KitRepository } from "./kit-repository.ts";

export function kitHandlers(kits: KitRepository): HandlersOf<"listKits" | "createKit" | "replaceKit" | "deleteKit"> {
  return {
    listKits: () => kits.list(),
    createKit: ({ body }) => kits.insert(body),
    replaceKit: ({ params, body }) => kits.replace(params.id, body),
    deleteKit: ({ params }) => kits.delete(params.id),
  };
}
