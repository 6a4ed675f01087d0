/** Lists as their readers arrange them: sorted, with columns of their choice, found so again, and taken along. */
import { expect, type Page, test } from "@playwright/test";

const heads = async (page: Page, grid: string): Promise<string[]> =>
  (await page.getByRole("grid", { name: grid }).getByRole("columnheader").allTextContents()).map((text) => text.replace(/\u00a0[↑↓]$/, ""));

test("columns of the trades are hidden, moved by mouse and keys, and so again another day", async ({ page }) => {
  await page.goto("/plans/brine-cross?tab=trades");
  const grid = page.getByRole("grid", { name: "Trades" });
  await expect(grid).toBeVisible();
  expect((await heads(page, "Trades")).slice(0, 4)).toEqual(["#", "Side", "Size", "Entry"]);
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByLabel("size", { exact: true }).uncheck();
  await page.keyboard.press("Escape");
  await grid.getByRole("columnheader", { name: "Net" }).dragTo(grid.getByRole("columnheader", { name: "Side" }));
  await expect.poll(async () => (await heads(page, "Trades")).slice(0, 4)).toEqual(["#", "Net", "Side", "Entry"]);
  await grid.getByRole("columnheader", { name: "Net" }).focus();
  await page.keyboard.press("Alt+ArrowRight");
  await expect.poll(async () => (await heads(page, "Trades")).slice(0, 4)).toEqual(["#", "Side", "Net", "Entry"]);
  await page.reload();
  await expect.poll(async () => (await heads(page, "Trades")).slice(0, 4)).toEqual(["#", "Side", "Net", "Entry"]);
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByRole("button", { name: "As at first" }).click();
  expect((await heads(page, "Trades")).slice(0, 4)).toEqual(["#", "Side", "Size", "Entry"]);
});

test("kept runs are walked by keys, sorted, copied for a spreadsheet and saved as they stand", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await page.goto("/runs");
  const grid = page.getByRole("grid", { name: "Kept runs" });
  await grid.getByRole("columnheader", { name: "Net" }).click();
  await expect(grid.getByRole("columnheader", { name: "Net" })).toHaveAttribute("aria-sort", "descending");
  await grid.press("ArrowDown");
  await expect(grid.getByRole("row", { selected: true })).toHaveCount(1);
  const first = await grid.getByRole("row", { selected: true }).getByRole("link").textContent();
  await grid.press("Control+c");
  await expect(page.getByText("1 row copied, as the list shows them")).toBeVisible();
  const [head, row] = (await page.evaluate(() => navigator.clipboard.readText()))
    .trim()
    .split("\n")
    .map((line) => line.split("\t"));
  expect(head).toEqual(["Run", "Plan", "Market", "Period", "Net", "Drawdown", "Trades", "PF", "Sharpe", "Tags", "Kept"]);
  expect(row![0]).toBe(first);
  // A number for a spreadsheet: no sign of thousands, no plus.
  expect(row![4]).toMatch(/^\d+(\.\d+)?$/);
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save list" }).click();
  expect((await saving).suggestedFilename()).toBe("runs.csv");
  await grid.press("Enter");
  await expect(page).toHaveURL(/\/runs\/[\w-]+$/);
});

test("bars are read as a list, and one of them is looked at on the chart", async ({ page }) => {
  await page.goto("/markets/KELP");
  await page.getByLabel("Shown as").selectOption("list");
  const grid = page.getByRole("grid", { name: "Bars of KELP" });
  await page.getByLabel("Year").selectOption({ index: 0 });
  await grid.getByRole("columnheader", { name: "Volume" }).click();
  await grid.press("End");
  const begins = await grid.getByRole("row", { selected: true }).getByRole("gridcell").first().textContent();
  await grid.press("Enter");
  await expect(page.getByRole("region", { name: "Price of KELP" })).toBeVisible();
  await expect(page).toHaveURL(/at=\d+$/);
  const at = Number(new URL(page.url()).searchParams.get("at"));
  const words = new Intl.DateTimeFormat("en-GB", { timeZone: "Atlantic/Faroe", day: "numeric", month: "short", year: "numeric" }).format(
    at,
  );
  expect(begins).toContain(words);
  // Back at the same place: year, order, and the row that was left.
  await page.goBack();
  await expect(grid.getByRole("row", { selected: true })).toBeInViewport();
  await expect(grid.getByRole("row", { selected: true }).getByRole("gridcell").first()).toHaveText(begins!);
});
