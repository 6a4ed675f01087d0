import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

/**
 * The bundle of a part that starts in a process or thread of its own: beside the code that starts it, or in the folder that
 * PLAN_TESTER_BUNDLES names. null when running from the source.
 */
export function bundleOf(name: string, from: string): string | null {
  const file = join(process.env.PLAN_TESTER_BUNDLES ?? dirname(fileURLToPath(from)), name);
  return existsSync(file) ? file : null;
}

/** The folder of the checkout, found by its package.json from wherever this code (or its bundle) lies. */
export function workspaceRoot(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  for (;;) {
    const file = join(folder, "package.json");
    if (existsSync(file) && JSON.parse(readFileSync(file, "utf8")).name === "plan-tester-workspace") return folder;
    const parent = dirname(folder);
    if (parent === folder) throw new Error("The workspace folder was not found: start Plan Tester from its own checkout.");
    folder = parent;
  }
}
