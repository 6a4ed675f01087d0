// Builds the server, the plan process, the venue, the import thread, the worker and the command line with esbuild, and the web client with Vite.
import { readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { build } from "esbuild";
import { external, root } from "./shared.mjs";

const out = join(root, "dist");
rmSync(out, { recursive: true, force: true });
const began = performance.now();
await build({
  entryPoints: {
    server: join(root, "server/src/main.ts"),
    "import-worker": join(root, "server/src/features/imports/import-worker.ts"),
    "work-tasks": join(root, "server/src/work/tasks.ts"),
    "plan-process": join(root, "runner/src/child/main.ts"),
    worker: join(root, "server/src/queue/worker.ts"),
    venue: join(root, "venue/src/main.ts"),
    "exchange-thread": join(root, "venue/src/exchange-thread.ts"),
    "plan-tester": join(root, "cli/src/main.ts"),
  },
  outdir: out,
  bundle: true,
  // What is only loaded when it is asked for stays in files of its own.
  splitting: true,
  platform: "node",
  format: "esm",
  target: "node20",
  external,
  logLevel: "warning",
});
if (!process.argv.includes("--no-web")) {
  const { build: buildWeb } = await import("vite");
  await buildWeb({ root: join(root, "web"), logLevel: "warn" });
  // Packed once here, so that the server packs nothing.
  for (const entry of readdirSync(join(out, "web"), { recursive: true, withFileTypes: true })) {
    const file = join(entry.parentPath, entry.name);
    if (entry.isFile() && /\.(js|css|html|svg)$/.test(entry.name)) writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }));
  }
}
console.log(`Built in ${((performance.now() - began) / 1000).toFixed(1)} s`);
