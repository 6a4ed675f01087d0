import type { HandlersOf } from "../../http/serve.ts";
import type { LayoutRepository } from "./layout-repository.ts";

export function layoutHandlers(layouts: LayoutRepository): HandlersOf<"listLayouts" | "putLayout" | "deleteLayout"> {
  return {
    listLayouts: () => layouts.list(),
    putLayout: ({ params, body }) => layouts.put(params.id, body),
    deleteLayout: ({ params }) => layouts.delete(params.id),
  };
}
