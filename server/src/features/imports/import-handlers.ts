import { join } from "node:path";
import type { HandlersOf } from "../../http/serve.ts";
import { withUpload } from "../../http/upload.ts";
import type { ImportService } from "./import-service.ts";

const MAX_BYTES = 2 * 1024 * 1024 * 1024;

export function importHandlers(imports: ImportService, dataFolder: string): HandlersOf<"importBars" | "getImportMapping" | "deleteMarket"> {
  return {
    importBars: ({ params: { id }, query: { spec } }, request) =>
      withUpload(request, join(dataFolder, "incoming"), `${id}.csv`, MAX_BYTES, (file, gone) => imports.import(id, file, spec, gone)),
    getImportMapping: async ({ query: { shape } }) => ({ mapping: await imports.mapping(shape) }),
    deleteMarket: ({ params }) => imports.delete(params.symbol),
  };
}
