// npm test: types, lint, unit and API tests, then the browser tests on the real app; ends with one line that counts them all.
import { spawnSync } from "node:child_process";
import { mkdtempSync, openSync, readFileSync, rmSync } from "node:fs";
import { constants, setPriority, tmpdir } from "node:os";
import { join } from "node:path";
import { companion, ensureBuilt, ensureChromium, ensureInstalled, ensureRedis, root } from "./shared.mjs";

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

function vitest(report, projects) {
  return [
    "run",
    ...projects.flatMap((project) => ["--project", project]),
    "--reporter=default",
    "--reporter=json",
    `--outputFile.json=${report}`,
  ];
}

function countTests(report, ok) {
  try {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, "utf8"));
    passed += numPassedTests;
    failed += numFailedTests + (ok || numFailedTests > 0 ? 0 : 1);
  } catch {
    failed++;
  }
}

/** Those of core and web take what the others leave of the machine, which wait more than they work; told when they are over. */
function startUnitTests() {
  const began = performance.now();
  const [report, output] = [join(folder, "unit.json"), join(folder, "unit.txt")];
  const file = openSync(output, "w");
  const child = companion(bin("vitest"), vitest(report, ["core", "web"]), { env: plain, stdio: ["ignore", file, file] });
  if (child.pid !== undefined) setPriority(child.pid, constants.priority.PRIORITY_LOW);
  return new Promise((resolve) => {
    child.on("exit", (code) => {
      const ok = code === 0;
      const seconds = ((performance.now() - began) / 1000).toFixed(0);
      resolve(() => {
        console.log(`${readFileSync(output, "utf8")}\n-- unit tests: ${ok ? "ok" : "FAILED"} in ${seconds} s, beside the others`);
        countTests(report, ok);
      });
    });
  });
}

const unitTests = startUnitTests();
count(step("types", process.execPath, ["scripts/typecheck.mjs"]));
count(step("lint", bin("biome"), ["check", "."]));
await installed;

const processReport = join(folder, "processes.json");
countTests(processReport, step("process and API tests", bin("vitest"), vitest(processReport, ["processes"])));

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
const tellUnitTests = await unitTests;
tellUnitTests();
rmSync(folder, { recursive: true, force: true });
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
