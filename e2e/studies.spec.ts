/** The library of studies: found, looked at on a market's bars, and taken into a rule sheet. */
import { expect, test } from "@playwright/test";

test("a study is found, drawn, and its words written into a sheet", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await page.goto("/plans");
  await expect(page.getByRole("button", { name: "New rule sheet", exact: true })).toBeVisible();
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/What to do/).fill("swing high");
  await page.keyboard.press("Enter");
  const article = page.getByRole("article", { name: "swing high" });
  await expect(article).toContainText("Williams 1995");
  await expect(article.getByRole("img", { name: "swingHigh on KELP" }).or(article.locator("canvas"))).toBeVisible();

  await page.getByRole("textbox", { name: "Search studies" }).fill("yang 2000");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/studies\/yangZhangVolatility$/);
  await page.getByRole("textbox", { name: "Search studies" }).fill("bands deviations simple");
  await expect(page.getByRole("navigation", { name: "Studies" }).getByRole("button")).toHaveCount(1);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Copy: in a rule sheet" }).click();
  const words = await page.evaluate(() => navigator.clipboard.readText());
  expect(words).toBe("the Bollinger band middle (20, 2) of close");

  await page.goto("/plans");
  await page.getByRole("button", { name: "New rule sheet", exact: true }).click();
  const line = page.getByRole("combobox", { name: "Add a rule: Long entry" });
  await line.fill(`close crosses above ${words}`);
  await line.press("Enter");
  await expect(page.getByRole("region", { name: "Long entry", exact: true })).toContainText(`close crosses above ${words}`);
});
