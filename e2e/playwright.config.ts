import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { defineConfig } from "@playwright/test";

const port = 4391;
// Playwright reads this file in several processes; they share the folder through the environment.
process.env.PLAN_TESTER_E2E_DATA ??= mkdtempSync(join(tmpdir(), "plan-tester-e2e-"));

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.ts",
  // One at a time: page, server and plan processes already fill two cores.
  workers: 1,
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: [["list"], ["json"]],
  globalSetup: "./calm-venue.ts",
  outputDir: "../test-results",
  use: {
    baseURL: `http://localhost:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
    trace: "off",
  },
  webServer: {
    command: "node dist/server.js",
    cwd: join(import.meta.dirname, ".."),
    url: `http://localhost:${port}/api/health`,
    // The first start makes the demo: half a minute, minutes on a machine that others use too.
    timeout: 400_000,
    env: { PLAN_TESTER_PORT: String(port), PLAN_TESTER_DATA: process.env.PLAN_TESTER_E2E_DATA, NODE_ENV: "production" },
    gracefulShutdown: { signal: "SIGTERM", timeout: 5000 },
  },
});
