/** A bundle is saved in one workspace and opened in a fresh one, where its runs come to the same. */
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";

const PORT = 4395;
const folder = mkdtempSync(join(tmpdir(), "plan-tester-fresh-"));
let server: ChildProcess;

/** A server of its own on an empty folder, without the demo world. */
test.beforeAll(async () => {
  server = spawn("node", ["dist/server.js"], {
    cwd: join(import.meta.dirname, ".."),
    env: { ...process.env, PLAN_TESTER_PORT: String(PORT), PLAN_TESTER_DATA: folder, PLAN_TESTER_DEMO: "off", NODE_ENV: "production" },
    stdio: "ignore",
  });
  await expect(async () => expect((await fetch(`http://localhost:${PORT}/api/health`)).ok).toBe(true)).toPass({ timeout: 60_000 });
});
test.afterAll(async () => {
  const ended = new Promise((resolve) => server.once("exit", resolve));
  server.kill("SIGTERM");
  await ended;
  rmSync(folder, { recursive: true, force: true });
});

test("two runs are saved as a bundle, opened in a fresh workspace and verified there", async ({ page }) => {
  const file = join(folder, "two.bundle.zip");
  await page.goto("/runs");
  for (const plan of ["Crown high water", "Brine cross"])
    await page.getByRole("row").filter({ hasText: plan }).filter({ hasText: "As shipped" }).first().getByRole("checkbox").check();
  await page.getByRole("button", { name: "Bundle 2" }).click();
  const dialog = page.getByRole("dialog", { name: "Save as a bundle" });
  await dialog.getByLabel("Title").fill("Two of the isles");
  await dialog.getByLabel("Note").fill("For a second look.");
  const [download] = await Promise.all([
    page.waitForEvent("download", { timeout: 120_000 }),
    dialog.getByRole("button", { name: "Save", exact: true }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("Two of the isles.bundle.zip");
  await download.saveAs(file);
  await expect(dialog.getByRole("status")).toContainText(/Saved, .* MB/);

  await page.goto(`http://localhost:${PORT}/plans`);
  await page.locator('input[aria-label="Open a bundle"]').setInputFiles(file);
  const opened = page.getByRole("dialog");
  await expect(opened.getByRole("status")).toContainText("All 2 runs were made again here and came to the same, to the last bit.", {
    timeout: 120_000,
  });
  await expect(opened).toContainText("For a second look.");
  await expect(opened.getByRole("row").filter({ hasText: "XSC/ORM" })).toContainText("added");
  await opened.getByRole("link", { name: "As shipped" }).first().click();
  await page.getByRole("button", { name: "Check" }).click();
  await page.getByRole("button", { name: "Run again and compare" }).click();
  await expect(page.getByText(/every fill, trade and equity value is the same/)).toBeVisible();

  await page.goto(`http://localhost:${PORT}/plans`);
  await page
    .locator('input[aria-label="Open a bundle"]')
    .setInputFiles({ name: "broken.zip", mimeType: "application/zip", buffer: Buffer.from("PK broken") });
  await expect(page.getByRole("dialog")).toContainText(/can.t be read as a zip file/);
  await expect(page.getByRole("dialog")).toContainText("Nothing was changed.");
});
