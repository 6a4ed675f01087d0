// npm run bench [names]: named pairs, each asserting first that both sides give the same result, one line each.
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { build } from "esbuild";
import { ensureBuilt, ensureInstalled, external, root } from "./shared.mjs";

await ensureInstalled();
// Some of them measure the app as it is served.
ensureBuilt();
const all = [
  "engine-cross",
  "sweep",
  "finer-paths",
  "basket",
  "blend",
  "offset",
  "inside-bar",
  "heap",
  "machine",
  "scaling",
  "import",
  "import-served",
  "quality",
  "edit-to-evidence",
  "first-load",
  "evidence",
  "market-chart",
  "many-variants",
  "luck",
  "queue",
  "watches",
];
// No measures of speed, but built and run the same way: npm run study, npm run study:rules, npm run edges.
const studies = ["trust-study", "rule-study", "edges"];
// What begins with "--" is for what is run, such as the long form of a study.
const flagsOf = process.argv.slice(2).filter((word) => word.startsWith("--"));
const named = process.argv.slice(2).filter((word) => !word.startsWith("--"));
const wanted = named.length > 0 ? named : all;
const out = join(root, "dist-bench");
await build({
  entryPoints: {
    ...Object.fromEntries([...all, ...studies].map((name) => [name, join(root, "bench", `${name}.ts`)])),
    "plan-process": join(root, "runner/src/child/main.ts"),
  },
  outdir: out,
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  external: [...external, "@playwright/test"],
  logLevel: "warning",
});
// What runs plans in this process runs as a plan process does.
const flags = ["--max-semi-space-size=8", "--max-inlined-bytecode-size-cumulative=2000"];
// Its measure is what a run leaves on the heap: nothing may be collected on the way.
const heapFlags = ["--expose-gc", "--max-semi-space-size=512"];
let failed = false;
for (const name of wanted) {
  const { status } = spawnSync(process.execPath, [...(name === "heap" ? heapFlags : flags), join(out, `${name}.js`), ...flagsOf], {
    stdio: "inherit",
    cwd: root,
  });
  failed ||= status !== 0;
}
process.exit(failed ? 1 : 0);
