import type { HandlersOf } from "../../http/serve.ts";
import type { Linker } from "../../modules/linker.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { PlanFiles } from "./plan-files.ts";
import type { PlanService } from "./plan-service.ts";
import type { VariantRepository } from "./variants.ts";

type Names =
  | "listPlans"
  | "createPlan"
  | "getPlan"
  | "updatePlan"
  | "deletePlan"
  | "getPlanFile"
  | "createPlanFromFile"
  | "listModules"
  | "describePlan"
  | "readProgram"
  | "readKit"
  | "listVariants"
  | "createVariant"
  | "replaceVariant"
  | "deleteVariant";

export interface PlanParts {
  readonly plans: PlanService;
  readonly files: PlanFiles;
  readonly variants: VariantRepository;
  readonly linker: Linker;
  readonly thread: WorkThread;
}

export function planHandlers({ plans, files, variants, linker, thread }: PlanParts): HandlersOf<Names> {
  return {
    listPlans: () => plans.list(),
    createPlan: ({ body }) => plans.create(body),
    getPlan: ({ params }) => plans.get(params.id),
    updatePlan: ({ params, body }) => plans.update(params.id, body),
    deletePlan: ({ params }) => plans.delete(params.id),
    getPlanFile: ({ params }) => files.write(params.id),
    createPlanFromFile: ({ body }) => files.read(body),
    listModules: () => plans.modules(),
    describePlan: async ({ body }) => plans.describe(await linker.link(body.source)),
    readProgram: async ({ body }) => ({ acts: await thread.read(body.source) }),
    // Checked and filled in on its way here.
    readKit: ({ body }) => body,
    listVariants: ({ params }) => variants.list(params.id),
    createVariant: ({ params, body }) => variants.insert(params.id, body),
    replaceVariant: ({ params, body }) => variants.replace(params.id, body),
    deleteVariant: ({ params }) => variants.delete(params.id),
  };
}
