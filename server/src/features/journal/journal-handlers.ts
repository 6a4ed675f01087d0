import type { HandlersOf } from "../../http/serve.ts";
import type { Journal } from "./journal.ts";
import type { VersionRepository } from "./versions.ts";

type Names = "getJournal" | "getTrialContext" | "listVersions" | "createVersion" | "getVersion" | "renameVersion";

export function journalHandlers(journal: Journal, versions: VersionRepository): HandlersOf<Names> {
  return {
    getJournal: ({ params }) => journal.trials(params.id),
    getTrialContext: ({ params }) => journal.context(params.id),
    listVersions: ({ params }) => versions.list(params.id),
    createVersion: ({ params, body }) => versions.keep(params.id, body),
    getVersion: ({ params }) => versions.get(params.id),
    async renameVersion({ params: { id }, body }) {
      await versions.get(id);
      await versions.rename(id, body.name);
      return versions.get(id);
    },
  };
}
