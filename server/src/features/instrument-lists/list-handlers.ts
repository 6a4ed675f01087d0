import type { HandlersOf } from "../../http/serve.ts";
import type { InstrumentListRepository } from "./list-repository.ts";

type Names = "listInstrumentLists" | "createInstrumentList" | "replaceInstrumentList" | "deleteInstrumentList";

export function instrumentListHandlers(lists: InstrumentListRepository): HandlersOf<Names> {
  return {
    listInstrumentLists: () => lists.list(),
    createInstrumentList: ({ body }) => lists.insert(body),
    replaceInstrumentList: ({ params, body }) => lists.replace(params.id, body),
    deleteInstrumentList: ({ params }) => lists.delete(params.id),
  };
}
