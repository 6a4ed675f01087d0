/** How to start a plan process: the bundle beside this one or where PLAN_TESTER_BUNDLES says, or the TypeScript source when running unbundled. */
import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export function childCommand(): { readonly file: string; readonly execArgv: readonly string[] } {
  const here = dirname(fileURLToPath(import.meta.url));
  const bundled = join(process.env.PLAN_TESTER_BUNDLES ?? here, "plan-process.js");
  if (existsSync(bundled)) return { file: bundled, execArgv: [] };
  return { file: join(here, "..", "child", "main.ts"), execArgv: ["--import", import.meta.resolve("tsx")] };
}
