// Everything that runs in Node, bundled with esbuild.
import { join } from "node:path";
import { build } from "esbuild";
import { external, root } from "./shared.mjs";

export function buildServerSide(outdir) {
  return build({
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
    outdir,
    bundle: true,
    // What is only loaded when it is asked for stays in files of its own.
    splitting: true,
    platform: "node",
    format: "esm",
    target: "node20",
    external,
    logLevel: "warning",
  });
}
