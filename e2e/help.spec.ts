/** Help on every page, by key, button and palette. */
import { expect, test } from "@playwright/test";
import { editorOf, intoEditor } from "./steps.ts";

test("F1 opens the help from the editor, it is searched, and focus goes back where it was", async ({ page }) => {
  await page.goto("/plans/brine-cross");
  await intoEditor(page);
  await page.keyboard.press("F1");
  const help = page.getByRole("dialog", { name: "Help" });
  await expect(help.getByRole("heading", { name: "First steps" })).toBeVisible();
  await help.getByRole("button", { name: "Glossary" }).click();
  await expect(help.getByText("a stop that follows price at a distance and never goes back")).toBeVisible();
  await help.getByLabel("Search the help").fill("opening range");
  await help.getByRole("list", { name: "Found in the help" }).getByRole("button").first().click();
  await expect(help.getByRole("heading").first()).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(help).toBeHidden();
  await expect(editorOf(page).locator("textarea, .native-edit-context").first()).toBeFocused();

  await page.keyboard.press("Control+k");
  await page.keyboard.type("keys");
  await page.keyboard.press("Enter");
  await expect(help.getByRole("table", { name: "Keys that work here" })).toContainText("Ctrl+Enter");
});
