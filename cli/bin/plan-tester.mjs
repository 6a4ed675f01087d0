#!/usr/bin/env node
// Runs the built command line when there is one that is not older than its source, else the source itself.
import { existsSync, readdirSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";

const root = join(dirname(fileURLToPath(import.meta.url)), "..", "..");
const built = join(root, "dist", "plan-tester.js");

function newest(folder) {
  let time = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    time = Math.max(time, entry.isDirectory() ? newest(path) : entry.name.includes(".test.") ? 0 : statSync(path).mtimeMs);
  }
  return time;
}

const fresh =
  existsSync(built) &&
  ["core", "contract", "runner", "cli", "demo"].every((name) => newest(join(root, name, "src")) <= statSync(built).mtimeMs);
if (fresh) await import(pathToFileURL(built).href);
else {
  const { register } = await import("tsx/esm/api");
  register();
  await import(pathToFileURL(join(root, "cli", "src", "main.ts")).href);
}
