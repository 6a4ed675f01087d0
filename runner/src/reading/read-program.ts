/**
 * A program read back in words: when it enters, with what order, size and exits, when it leaves, each with its line. It is
 * read from the text alone; what can't be put into words is quoted.
 */
import { PlanTesterError } from "@plan-tester/core";
import { parse } from "acorn";
import { planScript } from "../compile.ts";
import { splitModules } from "../modules.ts";
import { ActReader, type ProgramAct } from "./acts.ts";
import { namesOf } from "./names.ts";
import { Speaker } from "./say.ts";

/** @throws PlanTesterError bad-plan with line and column when the text can't be read */
export function readProgram(source: string): readonly ProgramAct[] {
  try {
    return actsOf(source);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new PlanTesterError("bad-plan", "The program has too many levels inside each other to be read.", {});
  }
}

function actsOf(source: string): readonly ProgramAct[] {
  const script = planScript(splitModules(source).plan);
  const tree = parse(script, { ecmaVersion: 2023, sourceType: "script", locations: true });
  const names = namesOf(tree);
  if (!names.build) return [];
  const reader = new ActReader(new Speaker(script, names), names);
  reader.read(names.build);
  return reader.acts;
}
