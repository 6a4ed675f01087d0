// Type-checks every workspace and the example plans against the shipped plan language.
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { root } from "./shared.mjs";

const projects = ["core", "contract", "runner", "venue", "server", "cli", "demo", "demo/plans", "web", "e2e", "bench", "scripts"];
let failed = 0;
for (const project of projects) {
  const { status, stdout } = spawnSync(join(root, "node_modules", ".bin", "tsc"), ["-p", project], { cwd: root, encoding: "utf8" });
  if (status === 0) continue;
  failed++;
  console.error(stdout);
}
if (failed > 0) process.exit(1);
console.log(`types: ${projects.length} projects agree`);
