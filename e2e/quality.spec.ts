/** One's own bars, doubted: a file with known faults is imported, its sessions found, a spike repaired and the repair undone. */

import { LUNCH_SPIKE, lunchCsv } from "@plan-tester/core/testing/lunch-bars";
import { expect, test } from "@playwright/test";

test("a spike and a hole of one's own file are found, sessions with a break are told, a repair is made and undone", async ({ page }) => {
  await page.goto("/markets");
  await page.getByRole("button", { name: "Import bars" }).click();
  const dialog = page.getByRole("dialog", { name: "Import bars" });
  await dialog.getByLabel("File of bars").setInputFiles({ name: "noon.csv", mimeType: "text/csv", buffer: Buffer.from(lunchCsv()) });
  await dialog.getByRole("button", { name: "Import", exact: true }).click();
  await expect(dialog.getByText("When it trades is not known yet")).toBeVisible();
  // Its hours are not known: nothing can be missing yet.
  await dialog.getByRole("button", { name: "1 stretch" }).click();
  const list = page.getByRole("grid", { name: "Doubtful bars of NOON" });
  await expect(list.getByRole("row").filter({ hasText: "sticks out by" })).toHaveCount(1);

  await page.getByRole("button", { name: "Change facts" }).click();
  const facts = page.getByRole("dialog", { name: "Facts of NOON" });
  await facts.getByRole("button", { name: "Find the sessions in the bars" }).click();
  await expect(facts.getByRole("status")).toContainText("Mon–Fri 09:00–12:00, 13:00–16:00 UTC: 100.0 % of the bars lie inside");
  await facts.getByLabel("Note").fill("Closed at noon.");
  await facts.getByRole("button", { name: "Save", exact: true }).click();
  await expect(facts).toHaveCount(0);
  await expect(page.getByText(/^Changed .*weekly sessions/)).toBeVisible();
  await expect(list.getByRole("row").filter({ hasText: "30 bars in a row are missing" })).toHaveCount(1);
  await expect(page.getByText(/8,970 of 9,000 expected bars are there\. 2 stretches are doubtful/)).toBeVisible();
  await expect(page.getByRole("img", { name: /Coverage of 25 sessions/ })).toBeVisible();

  await list.getByRole("row").filter({ hasText: "spike" }).click();
  await page.getByRole("button", { name: "Repair", exact: true }).click();
  const repair = page.getByRole("dialog", { name: "Repair NOON: spike" });
  await expect(repair.getByText("1 bar of those near it is changed")).toBeVisible();
  await repair.getByLabel("Why").fill("a wrong tick");
  await repair.getByRole("button", { name: "Repair", exact: true }).click();
  await expect(list.getByRole("row").filter({ hasText: "spike" })).toHaveCount(0);
  const repairs = page.getByRole("region", { name: "Repairs" });
  await expect(repairs).toContainText("prices put between their neighbours");
  await expect(repairs).toContainText("a wrong tick");
  await repairs.getByRole("button", { name: "Undo" }).click();
  await expect(list.getByRole("row").filter({ hasText: "spike" })).toHaveCount(1);
  await expect(repairs).toHaveCount(0);

  // What is doubtful is one key away from the chart of it.
  await list.getByRole("row").filter({ hasText: "spike" }).dblclick();
  await expect(page).toHaveURL(new RegExp(`at=${LUNCH_SPIKE}`));
});
