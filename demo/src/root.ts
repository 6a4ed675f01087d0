import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

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
