/** Entry of the command line. Exit codes: 0 done, 1 the plan failed, 2 the arguments are wrong. */
import { PlanTesterError } from "@plan-tester/core";
import { PlanProcessError } from "@plan-tester/runner";
import { CommanderError } from "commander";
import { endQuietlyWhenUnread, exitWith } from "./output.ts";
import { makeProgram } from "./program.ts";

const PLAN_CODES = new Set(["bad-plan", "plan-error"]);

endQuietlyWhenUnread();
try {
  await makeProgram().parseAsync();
} catch (error) {
  if (error instanceof CommanderError) await exitWith(error.exitCode === 0 ? 0 : 2);
  const message = error instanceof Error ? error.message : String(error);
  const planFailed = error instanceof PlanProcessError || (error instanceof PlanTesterError && PLAN_CODES.has(error.code));
  const place =
    error instanceof PlanProcessError && error.failure?.line ? ` (line ${error.failure.line}, column ${error.failure.column})` : "";
  process.stderr.write(`plan-tester: ${message}${message.startsWith("Line ") ? "" : place}\n`);
  await exitWith(planFailed && !(error instanceof PlanTesterError && error.code === "bad-input") ? 1 : 2);
}
await exitWith(Number(process.exitCode ?? 0));
