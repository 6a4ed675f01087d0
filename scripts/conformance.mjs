// npm run conformance -- ADDRESS SYMBOL: holds a venue to what docs/venues.md asks of it. The instrument is one of the demo world's, or
// one whose facts a file gives: npm run conformance -- ADDRESS my-instrument.json.
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { build } from "esbuild";
import { ensureInstalled, external, root } from "./shared.mjs";

await ensureInstalled();
const [address = "http://127.0.0.1:4178", symbol = "KELP"] = process.argv.slice(2);
const outfile = join(root, "dist-bench", "conformance.js");
await build({
  stdin: {
    contents: `export { conform } from "./venue/src/conformance.ts"; export { instrumentNamed } from "./demo/src/index.ts"; export { readInstrument } from "./contract/src/index.ts";`,
    resolveDir: root,
  },
  ...{ outfile, bundle: true, platform: "node", format: "esm", target: "node20", external, logLevel: "warning" },
});
const { conform, instrumentNamed, readInstrument } = await import(pathToFileURL(outfile).href);
const instrument = symbol.endsWith(".json") ? readInstrument(JSON.parse(readFileSync(symbol, "utf8"))) : instrumentNamed(symbol);
if (!instrument) {
  console.error(`The demo world has no ${symbol}. Give a file of the instrument's facts, such as ./${symbol.toLowerCase()}.json, instead.`);
  process.exit(2);
}
const results = await conform(address, instrument);
for (const { promise, problem } of results) console.log(problem ? `BROKEN  ${promise}: ${problem}` : `kept    ${promise}`);
process.exit(results.every(({ problem }) => problem === "") ? 0 : 1);
