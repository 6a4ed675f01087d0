/**
 * Own modules of a workspace. A module is a text whose first line is `//! module "name"`. A plan that imports modules is
 * linked before it runs: their texts are put behind its own, so that one text holds everything that a run was made of.
 */
import { PlanTesterError } from "@plan-tester/core";
import { init, parse } from "es-module-lexer";

const HEADER = /^\/\/! module "([a-z][a-z0-9-]{0,59})"[ \t]*$/m;
/** The head of a statement that takes in types alone, which are gone before a plan runs. */
const TYPES_ONLY = /^(?:import|export)\s+type\s*(?!from\b)[{*\w]/;
const HEAD_LENGTH = 40;
const MOST_MODULES = 40;

/** The name that a text declares for itself when it is a module, else null. */
export function moduleName(text: string): string | null {
  const found = HEADER.exec(text);
  return found?.index === 0 ? found[1]! : null;
}

/** A linked text in its parts; the plan's own text comes first and keeps its lines. */
export function splitModules(text: string): { readonly plan: string; readonly modules: ReadonlyMap<string, string> } {
  const modules = new Map<string, string>();
  const parts = text.split(/^(?=\/\/! module ")/m);
  const plan = parts[0] !== undefined && moduleName(parts[0]) === null ? parts.shift()! : "";
  for (const part of parts) {
    const name = moduleName(part);
    if (name) modules.set(name, part);
  }
  return { plan, modules };
}

/** Names that a text imports, in order of appearance; none while it can't be read. The time it takes grows as the text. */
export async function importsOf(text: string): Promise<string[]> {
  if (!text.includes("import") && !text.includes("from")) return [];
  await init;
  const names = new Set<string>();
  try {
    for (const { n: name, d: dynamic, ss: start } of parse(text)[0])
      if (name !== undefined && dynamic === -1 && !TYPES_ONLY.test(text.slice(start, start + HEAD_LENGTH))) names.add(name);
  } catch {
    // What is wrong with it is said where it is compiled.
    return [];
  }
  return [...names];
}

/**
 * Puts the modules that a text imports, and those that they import, behind it. `find` gives a module's text by name.
 * @param namesIn where names of imports are looked for: a thread of its own, on a server
 * @throws PlanTesterError bad-plan when one is not there.
 */
export async function linkModules(
  text: string,
  find: (name: string) => Promise<string | null>,
  namesIn: (text: string) => Promise<string[]> = importsOf,
): Promise<string> {
  const { modules } = splitModules(text);
  const missing = [text];
  const added: string[] = [];
  for (let part = missing.pop(); part !== undefined; part = missing.pop()) {
    for (const name of await namesIn(part)) {
      if (modules.has(name) || added.some((module) => moduleName(module) === name)) continue;
      const found = await find(name);
      if (found === null)
        throw new PlanTesterError(
          "bad-plan",
          `There is no module "${name}". A module is a text of the workspace whose first line is //! module "${name}".`,
          { module: name },
        );
      if (added.length >= MOST_MODULES) throw new PlanTesterError("bad-plan", `The plan takes in more than ${MOST_MODULES} modules.`, {});
      added.push(found.endsWith("\n") ? found : `${found}\n`);
      missing.push(found);
    }
  }
  return added.length === 0 ? text : `${text.endsWith("\n") ? text : `${text}\n`}${added.join("")}`;
}
