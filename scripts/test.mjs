// npm test: types, lint, unit and API tests, then the browser tests on the real app; ends with one line that counts them all.
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureBuilt, ensureChromium, ensureInstalled, ensureRedis, root } from "./shared.mjs";

const installed = ensureInstalled();
const chromium = ensureChromium();
ensureRedis();
ensureBuilt();

const folder = mkdtempSync(join(tmpdir(), "plan-tester-test-"));
const plain = { ...process.env, NO_COLOR: "1", FORCE_COLOR: "0" };
const bin = (name) => join(root, "node_modules", ".bin", name);
let passed = 0;
let failed = 0;

function step(name, command, args, options = {}) {
  const began = performance.now();
  const { status } = spawnSync(command, args, { cwd: root, stdio: "inherit", env: plain, ...options });
  console.log(`-- ${name}: ${status === 0 ? "ok" : "FAILED"} in ${((performance.now() - began) / 1000).toFixed(0)} s`);
  return status === 0;
}

function count(ok) {
  if (ok) passed++;
  else failed++;
}

count(step("types", process.execPath, ["scripts/typecheck.mjs"]));
count(step("lint", bin("biome"), ["check", "."]));

function unitTests(name, ...projects) {
  const report = join(folder, "unit.json");
  const ok = step(name, bin("vitest"), [
    "run",
    ...projects.flatMap((project) => ["--project", project]),
    "--reporter=default",
    "--reporter=json",
    `--outputFile.json=${report}`,
  ]);
  try {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, "utf8"));
    passed += numPassedTests;
    failed += numFailedTests + (ok || numFailedTests > 0 ? 0 : 1);
  } catch {
    failed++;
  }
  rmSync(report, { force: true });
}

// Those without a database go ahead while its driver is compiled.
unitTests("unit tests", "core", "web");
await installed;
unitTests("process and API tests", "processes");

const browserReport = join(folder, "browser.json");
const browserOk = step("browser tests", bin("playwright"), ["test", "--config", "e2e/playwright.config.ts"], {
  env: { ...plain, CHROMIUM: chromium, PLAYWRIGHT_JSON_OUTPUT_NAME: browserReport, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: "1" },
});
try {
  const { stats } = JSON.parse(readFileSync(browserReport, "utf8"));
  passed += stats.expected;
  failed += stats.unexpected + stats.flaky + (browserOk || stats.unexpected > 0 ? 0 : 1);
} catch {
  failed++;
}
rmSync(folder, { recursive: true, force: true });
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
