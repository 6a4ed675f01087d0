// npm run worker: runs batches of sweeps that come over a queue. PLAN_TESTER_QUEUE says where it is.
import { companion, ensureBuilt, ensureInstalled } from "./shared.mjs";

await ensureInstalled();
ensureBuilt();
const worker = companion(process.execPath, ["--enable-source-maps", "dist/worker.js"], {
  env: { ...process.env, NODE_ENV: "production" },
});
worker.on("exit", (code) => process.exit(code ?? 0));
