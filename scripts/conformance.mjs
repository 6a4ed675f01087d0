// npm run conformance -- ADDRESS SYMBOL: holds a venue to what docs/venues.md asks of it. The instrument is one of the demo world's.
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { build } from "esbuild";
import { ensureInstalled, external, root } from "./shared.mjs";

ensureInstalled();
const [address = "http://127.0.0.1:4178", symbol = "KELP"] = process.argv.slice(2);
const outfile = join(root, "dist-bench", "conformance.js");
await build({
  stdin: {
    contents: `export { conform } from "./venue/src/conformance.ts"; export { instrumentNamed } from "./demo/src/index.ts";`,
    resolveDir: root,
  },
  ...{ outfile, bundle: true, platform: "node", format: "esm", target: "node20", external, logLevel: "warning" },
});
const { conform, instrumentNamed } = await import(pathToFileURL(outfile).href);
const results = await conform(address, instrumentNamed(symbol));
for (const { promise, problem } of results) console.log(problem ? `BROKEN  ${promise}: ${problem}` : `kept    ${promise}`);
process.exit(results.every(({ problem }) => problem === "") ? 0 : 1);
