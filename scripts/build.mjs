// Builds the server, the plan process, the venue, the import thread, the worker and the command line with esbuild, and the web client with Vite.
import { readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { buildServerSide } from "./bundles.mjs";
import { root } from "./shared.mjs";

const out = join(root, "dist");
rmSync(out, { recursive: true, force: true });
const began = performance.now();
await buildServerSide(out);
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
