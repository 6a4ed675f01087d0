/** Runs plans that are not trusted, in processes of their own. */

export { type BlendRequest, blendPlans } from "./blend-plans.ts";
export { inSharedMemory, sharedColumn } from "./child/shared-memory.ts";
export { compilePlan, planScript } from "./compile.ts";
export { fingerprintOf, hashBars, hashText, shortHash, unnamedDays } from "./fingerprint.ts";
export { importsOf, linkModules, moduleName, splitModules } from "./modules.ts";
export { limits } from "./parent/limits.ts";
export { PlanProcess, PlanProcessError, sharedThreads } from "./parent/plan-process.ts";
export { nextTaskId, ProcessPool } from "./parent/pool.ts";
export type * from "./protocol.ts";
export { readProgram } from "./reading/read-program.ts";
export { type PlanRule, rulesOf } from "./reading/rules.ts";
export { assemblePlan, headOfPlan, type PlanReport, reportPlan } from "./report-plan.ts";
export { isCurrentHash, resultHashOf } from "./result-hash.ts";
export {
  checkPlanLookAhead,
  type DataSet,
  describePlan,
  type FeedData,
  holdingsOfPlan,
  instrumentsOf,
  type RunOutcome,
  type RunRequest,
  replayPlan,
  runChanged,
  runPlan,
  type SweepAnswer,
  type SweepBatch,
  sweepPlan,
  tracePlan,
} from "./run-plan.ts";
export { findSlips } from "./slips.ts";
export { estimateSweep } from "./sweep/estimate.ts";
export { embeddedExecutor, type SweepExecutor } from "./sweep/executor.ts";
export { countAhead, type SweepFailure, SweepJob, type SweepState, type SweepTask } from "./sweep/job.ts";
export { type SweepMarket, SweepWork } from "./sweep/work.ts";
export type { NamedPlace, SourcePlace, TestPlace, TracePlaces } from "./trace-marks.ts";
