import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    // On two cores: many tests wait for processes more than they work, and as many as there are cores would leave one idle.
    maxWorkers: 3,
    globalSetup: "./scripts/test-bundles.mjs",
    projects: [
      {
        test: {
          name: "core",
          isolate: false,
          setupFiles: "./scripts/typed-array-equality.ts",
          // Limits are for what hangs: a machine that others use too may give a test a tenth of its time.
          testTimeout: 120_000,
          hookTimeout: 120_000,
          include: ["core/src/**/*.test.ts", "contract/src/**/*.test.ts", "demo/src/**/*.test.ts", "scripts/**/*.test.ts"],
        },
      },
      {
        test: {
          name: "processes",
          isolate: false,
          setupFiles: "./scripts/typed-array-equality.ts",
          include: ["runner/src/**/*.test.ts", "server/src/**/*.test.ts", "cli/src/**/*.test.ts", "venue/src/**/*.test.ts"],
          pool: "forks",
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
      {
        test: {
          name: "web",
          include: ["web/src/**/*.test.{ts,tsx}"],
          environment: "happy-dom",
          testTimeout: 30_000,
          // The app's modules are loaded once for all files: a fifth of the time.
          isolate: false,
          setupFiles: "./web/src/testing-setup.ts",
        },
      },
    ],
  },
});
