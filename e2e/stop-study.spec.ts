/** Exit kits put into the library, and a stop study of them in one act. */
import { expect, test } from "@playwright/test";

test("a kit is kept in the library, and a stop study of it and a range is run and compared", async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto("/plans/brine-displaced");
  await page.getByRole("button", { name: /^Exit kit:/ }).click();
  await page.getByRole("button", { name: "New kit" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Study stops");
  await page.getByRole("spinbutton", { name: "Stop loss", exact: true }).fill("60");
  await page.getByText("Library of kits").click();
  await page.getByRole("button", { name: "Put this kit into the library" }).click();
  await expect(page.getByText("“Study stops” is in the library as it is here.")).toBeVisible();
  await page.keyboard.press("Escape");

  await page.getByRole("button", { name: "Stop study" }).click();
  const dialog = page.getByRole("dialog", { name: "Stop study" });
  await dialog.getByRole("checkbox", { name: "Study stops" }).check();
  await dialog.getByLabel("And the present kit over").selectOption("stop loss");
  await dialog.getByLabel("from", { exact: true }).fill("40");
  await dialog.getByLabel("to", { exact: true }).fill("120");
  await dialog.getByLabel("step", { exact: true }).fill("40");
  await dialog.getByRole("button", { name: "Run 5 variants and compare" }).click();
  await expect(page).toHaveURL(/\/compare\?batch=/, { timeout: 60_000 });
  for (const name of ["No exit kit", "Study stops", "Study stops, stop loss 40 ticks", "Study stops, stop loss 120 ticks"])
    await expect(page.getByText(name, { exact: true }).first()).toBeVisible({ timeout: 60_000 });

  await page.goto("/plans/brine-displaced");
  await expect(page.getByLabel("Variant", { exact: true }).locator("option")).toHaveCount(6);
  await page.getByRole("button", { name: /^Exit kit:/ }).click();
  await page.getByText("Library of kits").click();
  await expect(page.getByRole("list", { name: "Kits of the library" })).toContainText("1 plan, 1 variant");
});
