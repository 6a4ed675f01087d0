// Before the tests: the processes and threads that they start, bundled from the source as it is now. Starting one from its
// TypeScript source takes four times as long, and the tests start hundreds.
import { mkdirSync, mkdtempSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildServerSide } from "./bundles.mjs";
import { root } from "./shared.mjs";

export default async function setup() {
  // Under the root, where packages are found.
  const cache = join(root, ".cache");
  mkdirSync(cache, { recursive: true });
  const folder = mkdtempSync(join(cache, "test-"));
  await buildServerSide(folder);
  process.env.PLAN_TESTER_BUNDLES = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}
