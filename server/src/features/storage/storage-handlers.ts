import type { Bin } from "../../db/bin.ts";
import type { HandlersOf } from "../../http/serve.ts";
import type { StorageService } from "./storage-service.ts";

type Names = "getStorage" | "setRetention" | "emptyBin" | "compactStorage" | "restoreDeleted";

export function storageHandlers(storage: StorageService, bin: Bin, restored: (kind: string) => void): HandlersOf<Names> {
  return {
    getStorage: () => storage.report(),
    setRetention: ({ body }) => storage.setRules(body),
    emptyBin: () => storage.emptyBin(),
    compactStorage: () => storage.compact(),
    async restoreDeleted({ body: { kind, id } }) {
      await bin.restore(kind, id);
      restored(kind);
    },
  };
}
