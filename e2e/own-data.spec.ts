/** One's own data from ticks and Parquet to marks: imported, added to, looked at with studies, marked, and held against a plan. */

import { mkdtempSync, readFileSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { lunchTicks } from "@plan-tester/core/testing/lunch-bars";
import { expect, type Page, test } from "@playwright/test";

const importFile = async (page: Page, name: string, buffer: Buffer) => {
  await page.getByRole("button", { name: "Import bars" }).click();
  const dialog = page.getByRole("dialog", { name: "Import bars" });
  await dialog.getByLabel("File of bars").setInputFiles({ name, mimeType: "application/octet-stream", buffer });
  return dialog;
};

test("ticks of one's own become an instrument with a lunch break; saved as Parquet they are another, and add to it, and a source brings the next day", async ({
  page,
}) => {
  await page.goto("/markets");
  const dialog = await importFile(page, "noonticks.csv", Buffer.from(lunchTicks()));
  await expect(dialog.getByLabel("A line is")).toHaveValue("ticks");
  await dialog.getByRole("button", { name: "Import", exact: true }).click();
  await expect(dialog.getByText("8,970 bars")).toBeVisible();
  await expect(dialog.getByLabel(/^as the bars show, Mon–Fri 09:00–12:00, 13:00–16:00 UTC/)).toBeChecked();
  await dialog.getByLabel("Class and costs").selectOption("KELP");
  await dialog.getByRole("button", { name: "Take these" }).click();
  await expect(dialog.getByText("When it trades")).toHaveCount(0);
  await dialog.getByRole("link", { name: "Open NOONTICKS" }).click();
  await page.getByLabel("Timeframe").selectOption("1m");
  const saved = page.waitForEvent("download");
  await page.getByRole("link", { name: "Save as Parquet" }).click();
  const parquet = readFileSync((await (await saved).path())!);

  await page.goto("/markets");
  const again = await importFile(page, "noonagain.parquet", parquet);
  await again.getByRole("button", { name: "Import", exact: true }).click();
  await expect(again.getByText("8,970 bars")).toBeVisible();
  await again.getByRole("button", { name: "Close" }).last().click();
  // The same once more: each is there already, and nothing is asked.
  const third = await importFile(page, "noonagain.parquet", parquet);
  await expect(third.getByText("Read as the last file with these columns was.")).toBeVisible();
  await expect(third.getByText(/NOONAGAIN has 8,970 bars/)).toBeVisible();
  await third.getByRole("button", { name: "Import", exact: true }).click();
  await expect(third.getByText("0 were new, 8,970 there already.")).toBeVisible();
  await third.getByRole("button", { name: "Close" }).last().click();

  // A source brings the next day.
  const folder = mkdtempSync(join(tmpdir(), "plan-tester-source-"));
  const next = Array.from(
    { length: 60 },
    (_none, k) => `${new Date(Date.UTC(2025, 3, 7, 9, k)).toISOString()},400,400.25,399.75,400,7,0.5`,
  );
  const file = join(folder, "2025-04-07.csv");
  writeFileSync(file, ["time,open,high,low,close,volume,spread", ...next].join("\n"));
  const before = Date.now() / 1000 - 60;
  utimesSync(file, before, before);
  await page.goto("/sources");
  await page.getByRole("button", { name: "Add a source" }).click();
  const source = page.getByRole("dialog", { name: "Add a source" });
  await source.getByLabel("Name").fill("Past days");
  await source.getByLabel("Brings bars of").selectOption("NOONAGAIN");
  await source.getByLabel("Path of the folder").fill(folder);
  await source.getByRole("button", { name: "Add", exact: true }).click();
  const row = (name: string) => page.getByRole("row").filter({ hasText: name });
  await row("Past days").getByRole("button", { name: "Look now" }).click();
  await expect(page.getByText("2025-04-07.csv: 60 bars added").first()).toBeVisible();
  await page.getByRole("link", { name: "NOONAGAIN" }).click();
  await expect(page.getByText("9,030 of 1 min")).toBeVisible();
});

test("studies are laid over the chart and stand in the list, a mark is drawn, and a plan's run is held against it", async ({ page }) => {
  await page.goto(`/markets/KELP?at=${Date.UTC(2025, 1, 3, 10)}`);
  for (const study of ["ema(close, 20)", "close crosses above ema(close, 20)"]) {
    await page.getByRole("button", { name: "Study", exact: true }).click();
    await page.getByLabel("Search the library, or write").fill(study);
    await page.keyboard.press("Enter");
    await expect(page.getByRole("button", { name: `Remove ${study}` })).toBeVisible();
  }
  await page.getByRole("button", { name: "Layout" }).click();
  await page.getByRole("menuitem", { name: "Keep these studies as a layout…" }).click();
  await page.getByLabel("Name").fill("Crossing");
  await page.getByRole("dialog").getByRole("button", { name: "Keep" }).click();
  await expect(page.getByRole("button", { name: "Layout Crossing" })).toBeVisible();

  await page.getByRole("button", { name: "Mark long" }).click();
  const chart = page.getByLabel(/^Price of KELP/);
  const { x, y, width, height } = (await chart.boundingBox())!;
  await page.mouse.move(x + width * 0.3, y + height * 0.4);
  await page.mouse.down();
  await page.mouse.move(x + width * 0.5, y + height * 0.35, { steps: 4 });
  await page.mouse.up();
  const marks = page.getByRole("region", { name: "Marks" });
  await expect(marks.getByRole("heading", { name: "1 mark" })).toBeVisible();
  await marks.getByLabel("Note").fill("the turn");
  await page.keyboard.press("Enter");
  await marks.getByRole("button", { name: "Short" }).click();
  await expect(marks.getByRole("heading", { name: "2 marks" })).toBeVisible();
  await marks.getByRole("button", { name: "Delete the mark" }).last().click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(marks.getByRole("heading", { name: "2 marks" })).toBeVisible();

  await page.getByLabel("Shown as").selectOption("list");
  await page.getByLabel("Bars where").selectOption({ label: "where close crosses above ema(close, 20)" });
  await expect(page.getByRole("columnheader", { name: "ema(close, 20)", exact: true })).toBeVisible();
  const saved = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save list" }).click();
  const [head, ...rows] = readFileSync((await (await saved).path())!, "utf8")
    .trimEnd()
    .split("\n");
  expect(head).toContain("close crosses above ema(close, 20)");
  expect(rows.length).toBeGreaterThan(50);
  expect(rows.every((row) => row.trimEnd().endsWith("yes"))).toBe(true);

  // A kept run of the demo on the same instrument, on whose tab the marks are.
  await page.goto("/runs/kelp-ebb-fade-first");
  await page.getByRole("tab", { name: "Marks 2" }).click();
  await expect(page.getByText(/ of 2 marks met/)).toBeVisible();
  const missed = page.getByRole("region", { name: "Missed" });
  await missed.getByRole("button", { name: "What stood in the way?" }).first().click();
  await expect(missed.getByText("the mark's bar")).toBeVisible();
  await missed.getByRole("button", { name: "Step through the run here" }).click();
  await expect(page.getByTestId("step-place")).toBeVisible();
});
