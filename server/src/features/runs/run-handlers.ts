import type { Bin } from "../../db/bin.ts";
import { type HandlersOf, Pieces } from "../../http/serve.ts";
import type { RequestReader } from "../../request-reader.ts";
import type { ChanceChecks } from "./chance-check.ts";
import type { RuleChecks } from "./rule-checks.ts";
import type { RunChecks } from "./run-checks.ts";
import type { RunQueue } from "./run-queue.ts";
import { evidencePieces } from "./run-repository.ts";
import type { RunService } from "./run-service.ts";

type Runs = "listRuns" | "getRunFacets" | "getLastDraft" | "createRun" | "getRun" | "getRunOrders" | "getRunColumns" | "stopRun";
type Kept = "keepRun" | "deleteRun" | "noteCompared";
type Checks =
  | "findConditions"
  | "getRunLines"
  | "getRunStrips"
  | "getRunSteps"
  | "verifyRun"
  | "stressRun"
  | "checkChance"
  | "stopChance"
  | "checkLookAhead"
  | "stopLookAhead"
  | "checkRules"
  | "stopRules";
type Queue = "listQueue" | "queueRuns" | "stopQueuedRun" | "clearQueue";

export interface RunParts {
  readonly runs: RunService;
  readonly checks: RunChecks;
  readonly rules: RuleChecks;
  readonly chance: ChanceChecks;
  readonly queue: RunQueue;
  readonly reader: RequestReader;
  readonly bin: Bin;
}

export function runHandlers({ runs, checks, rules, chance, queue, reader, bin }: RunParts): HandlersOf<Runs | Kept | Checks | Queue> {
  return {
    listRuns: ({ query }) => runs.list(query),
    getRunFacets: () => runs.facets(),
    getLastDraft: async ({ params }) => ({ runId: await runs.lastDraft(params.id) }),
    async createRun({ body }) {
      const { head, trades } = await runs.run(await reader.read(body));
      return new Pieces(evidencePieces(head, trades));
    },
    getRun: async ({ params }) => new Pieces(await runs.evidenceText(params.id)),
    getRunOrders: async ({ params }) => new Pieces(await runs.part(params.id, "orders")),
    getRunColumns: async ({ params }) => new Pieces(await runs.part(params.id, "columns")),
    stopRun: ({ params }) => runs.stop(params.id),
    keepRun: ({ params, body }) => runs.keep(params.id, body),
    deleteRun: ({ params }) => bin.put("run", params.id),
    noteCompared: ({ body }) => runs.compared(body.ids),

    findConditions: async ({ body }) => checks.conditions(await reader.read(body)),
    getRunLines: async ({ params }) => checks.lines(await runs.head(params.id)),
    getRunStrips: async ({ params }) => new Pieces([await checks.strips(await runs.head(params.id))]),
    getRunSteps: async ({ params, query }) => checks.steps(await runs.head(params.id), query.from, query.to),
    verifyRun: async ({ params }) => checks.verify(await runs.head(params.id)),
    stressRun: async ({ params }) => checks.stress(await runs.head(params.id)),
    checkChance: async ({ params }) => chance.check(await runs.head(params.id)),
    stopChance: ({ params }) => chance.stop(params.id),
    checkLookAhead: async ({ params }) => checks.lookAhead(await runs.head(params.id)),
    stopLookAhead: ({ params }) => checks.stopLookAhead(params.id),
    checkRules: async ({ params, query }) => rules.check(await runs.head(params.id), query.placebos),
    stopRules: ({ params }) => rules.stop(params.id),

    listQueue: () => queue.list(),
    queueRuns: async ({ body }) => ({
      batch: await queue.add({ ...body, runs: await Promise.all(body.runs.map((run) => reader.read(run))) }),
    }),
    stopQueuedRun: ({ params }) => queue.stop(params.id),
    clearQueue: () => queue.clear(),
  };
}
