/** Lists as their readers arrange them: sorted, with columns of their choice, found so again, and taken along. */
import { readFileSync } from "node:fs";
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

test("instruments are kept as a list, which a basket takes; one is put out of the way and comes back", async ({ page }) => {
  await page.goto("/markets");
  await page.getByLabel("Tick AUKL").check();
  await page.getByLabel("Tick GANN").check();
  await page.getByRole("button", { name: "Keep 2 instruments as a list" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Shares at work");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Which instruments").locator("option:checked")).toHaveText("Shares at work");
  await expect(page.getByRole("row", { name: /^Tick/ })).toHaveCount(3);
  await page.getByLabel("Which instruments").selectOption("all");
  await page.getByLabel("Find instruments").fill("gannet");
  await page.getByLabel("Tick GANN").check();
  await page.getByRole("button", { name: "Archive" }).click();
  await expect(page.getByText("No instrument here")).toBeVisible();

  await page.goto("/plans/kelp-ebb-fade");
  await page.getByRole("button", { name: /^Instrument: KELP/ }).click();
  await expect(page.getByRole("list", { name: "Instruments" }).getByText("AUKL")).toBeVisible();
  await expect(page.getByRole("list", { name: "Instruments" }).getByText("GANN")).toHaveCount(0);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "More" }).click();
  await page.getByRole("menuitem", { name: /basket/ }).click();
  await page.getByRole("button", { name: "Shares at work" }).click();
  await expect(page.getByRole("button", { name: "Start 1 run" })).toBeVisible();
  await page.keyboard.press("Escape");

  await page.goto("/markets");
  await page.getByLabel("Which instruments").selectOption("archived");
  await page.getByLabel("Tick GANN").check();
  await page.getByRole("button", { name: "Bring back" }).click();
  await page.getByLabel("Which instruments").selectOption({ label: "Shares at work" });
  await page.getByRole("button", { name: "Delete the list" }).click();
  await expect(page.getByRole("link", { name: "GANN" })).toBeVisible();
});

test("one switch shows all times in another zone; what is saved to a file stays that of the exchange", async ({ page }) => {
  await page.goto("/runs/kelp-ebb-fade-first?tab=trades");
  const grid = page.getByRole("grid", { name: "Trades" });
  const entry = () => grid.getByRole("row").nth(1).getByRole("gridcell").nth(3).textContent();
  await expect(grid).toBeVisible();
  const there = await entry();
  await page.getByRole("button", { name: "Exchange time" }).click();
  await page.getByLabel("Moments are shown").selectOption("Asia/Tokyo");
  await page.keyboard.press("Escape");
  expect(await entry()).not.toBe(there);
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save trades" }).click();
  const head = readFileSync((await (await saving).path())!, "utf8").split("\n")[0];
  expect(head).toContain("entryTime (Atlantic/Faroe)");
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/What to do/).fill("as each exchange");
  await page.keyboard.press("Enter");
  await expect.poll(entry).toBe(there);
});
