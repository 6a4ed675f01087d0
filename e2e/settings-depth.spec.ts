/** What a run can be made on beyond the plain account, and the questions one may put to it. */
import { expect, test } from "@playwright/test";

test("an exit kit laid over the plan takes over its exits; off again, all is as before", async ({ page }) => {
  await page.goto("/plans/brine-base-entry");
  const warnings = page.getByRole("region", { name: "Warnings" });
  await expect(warnings.getByText(/trades sent by this line had no stop/).first()).toBeVisible();
  await page.getByRole("button", { name: "Exit kit: no exit kit" }).click();
  await page.getByRole("button", { name: "New kit" }).click();
  await page.getByLabel("Stop loss", { exact: true }).fill("2.5");
  await page.getByLabel("Stop loss, unit").selectOption("multiple of");
  await expect(page.getByLabel("Stop loss, study")).toHaveValue("atr(14)");
  await page.getByLabel("Sides").selectOption("long only");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  await expect(warnings.getByText(/had no stop/)).toBeHidden();
  await page.getByRole("tab", { name: /Trades/ }).click();
  const trades = page.getByRole("grid", { name: "Trades" });
  await expect(trades.getByText("short", { exact: true })).toHaveCount(0);
  await expect(trades.getByText("stop", { exact: true }).first()).toBeVisible();
  await page.getByRole("button", { name: "Exit kit: My kit" }).click();
  await page.getByRole("button", { name: "Remove" }).click();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(warnings.getByText(/had no stop/).first()).toBeVisible();
});

test("a kit that can't be read is refused in words, and nothing is lost", async ({ page }) => {
  await page.goto("/plans/brine-cross");
  await page.getByRole("button", { name: /^Exit kit/ }).click();
  const file = page.getByLabel("Exit kit file");
  await file.setInputFiles({
    name: "odd.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"name":"Odd","long":{"stopLoss":{"unit":"furlongs","value":2}}}'),
  });
  await expect(page.getByText(/unit must be one of .*ticks/)).toBeVisible();
  await file.setInputFiles({
    name: "tight.json",
    mimeType: "application/json",
    buffer: Buffer.from('{"name":"Tight","long":{"stopLoss":{"unit":"ticks","value":9}},"short":{"timeLimit":{"bars":4}}}'),
  });
  await expect(page.getByRole("button", { name: "Exit kit: Tight" })).toBeVisible();
  await expect(page.getByLabel("Short: stop loss", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Remove" }).click();
});

test("further instruments, account and path are said in the sentence and change the run", async ({ page }) => {
  await page.goto("/plans/isles-short-line");
  await expect(page.getByRole("button", { name: "Further instruments: with 3 more" })).toBeVisible();
  await page.getByRole("tab", { name: /Trades/ }).click();
  await expect(page.getByRole("columnheader", { name: "On", exact: true })).toBeVisible();
  await page.getByRole("button", { name: /Further instruments/ }).click();
  await page.getByRole("checkbox", { name: /TIDE/ }).uncheck();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Further instruments: with PUFN and BRIN" })).toBeVisible();
  await page.getByRole("button", { name: /Path inside a bar/ }).click();
  await page.getByRole("button", { name: /^Adverse/ }).click();
  await page.getByRole("button", { name: /^Account/ }).click();
  await page.getByLabel("Most positions at once").fill("1");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Account: at most 1 positions" })).toBeVisible();
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await page.getByRole("tab", { name: /Log/ }).click();
  await expect(page.getByText(/the most is 1 \(R6\)/).first()).toBeVisible();
});

test("a run is verified, and checked for look-ahead", async ({ page }) => {
  await page.goto("/plans/brine-cross");
  await page.getByRole("button", { name: "Check", exact: true }).click();
  await page.getByRole("button", { name: "Run again and compare" }).click();
  await expect(page.getByText(/every fill, trade and equity value is the same/)).toBeVisible();
  await page.getByRole("button", { name: "Check look-ahead" }).click();
  await expect(page.getByText(/No look-ahead: compared at [\d,]+ places/)).toBeVisible({ timeout: 30_000 });
});

test("a plan takes in a module of the workspace, and the module has its own page", async ({ page }) => {
  await page.goto("/plans/brine-ladder");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  await page.getByRole("tab", { name: /Trades/ }).click();
  await expect(page.getByRole("grid", { name: "Trades" }).getByText("lock", { exact: true }).first()).toBeVisible();
  await page.goto("/plans/profit-ladder");
  await expect(page.getByRole("heading", { name: "profit-ladder" })).toBeVisible();
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByText(/This is a module/)).toBeVisible();
});

test("line evidence shows a branch that never runs, and what came of each line's orders", async ({ page }) => {
  await page.goto("/plans/worded-rules");
  await page.getByRole("button", { name: "Lines", exact: true }).click();
  const editor = page.getByTestId("editor");
  await editor.click();
  await page.keyboard.press("Control+End");
  await expect(editor.getByText(/^\s*\d+ orders · \d+ filled · \d+ trades · [+−]/).first()).toBeVisible();
  // Orders go at market: the branch with the limit order never ran.
  await expect(editor.locator(".line-never-ran", { hasText: "limit" }).first()).toBeVisible();
  await page.getByLabel("Order", { exact: true }).selectOption("limit");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  // The market orders stand further up than the end of the source.
  await editor.hover();
  await page.mouse.wheel(0, -240);
  await expect(editor.locator(".line-never-ran", { hasText: 'rule"' }).first()).toBeVisible();
  await page.getByRole("button", { name: "Hide lines" }).click();
  await expect(editor.locator(".line-never-ran")).toHaveCount(0);
});
