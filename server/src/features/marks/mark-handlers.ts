import type { HandlersOf } from "../../http/serve.ts";
import type { MarkRepository } from "./mark-repository.ts";

export function markHandlers(marks: MarkRepository): HandlersOf<"listMarks" | "putMark" | "deleteMark"> {
  return {
    listMarks: ({ params }) => marks.list(params.symbol),
    putMark: ({ params, body }) => marks.put(params.symbol, { ...body, id: params.id }),
    deleteMark: ({ params }) => marks.delete(params.symbol, params.id),
  };
}
