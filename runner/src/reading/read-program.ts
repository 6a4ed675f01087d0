/**
 * A program read back in words: when it enters, with what order, size and exits, when it leaves, each with its line. It is
 * read from the text alone; what can't be put into words is quoted.
 */
import type { ProgramAct } from "@plan-tester/contract";
import { planTree } from "../compile.ts";
import { splitModules } from "../modules.ts";
import { ActReader } from "./acts.ts";
import { namesOf } from "./names.ts";
import { Speaker } from "./say.ts";
import { unfoldMirrored } from "./unfold-mirrored.ts";

/** @throws PlanTesterError bad-plan with line and column when the text can't be read */
export function readProgram(source: string): readonly ProgramAct[] {
  const { script, tree } = planTree(splitModules(source).plan);
  unfoldMirrored(tree);
  const names = namesOf(tree);
  if (!names.build) return [];
  const reader = new ActReader(new Speaker(script, names), names);
  reader.read(names.build);
  return reader.acts;
}
