/** One's own bars, doubted: a file with known faults is imported, its sessions found, a spike repaired and the repair undone. */
import { expect, test } from "@playwright/test";

const DAY_MS = 86_400_000;
const MONDAY = Date.UTC(2025, 2, 3);
const at = (day: number, hour: number, minute = 0): number => MONDAY + day * DAY_MS + (hour * 60 + minute) * 60_000;
const [SPIKE, HOLE] = [at(10, 14), at(9, 10)];

/** Five weeks of a market with a lunch break, half an hour missing, and one high threefold. */
function csv(): string {
  const lines = ["time,open,high,low,close,volume"];
  for (let day = 0; day < 35; day++) {
    if (day % 7 > 4) continue;
    for (const [open, close] of [
      [9, 12],
      [13, 16],
    ] as const)
      for (let t = at(day, open); t < at(day, close); t += 60_000) {
        if (t >= HOLE && t < HOLE + 30 * 60_000) continue;
        const k = t / 60_000;
        const price = 400 + ((k * 7) % 13) / 4;
        lines.push(
          [new Date(t).toISOString(), price, t === SPIKE ? 3 * price : price + 0.25, price - 0.25, price, 10 + (k % 97)].join(","),
        );
      }
  }
  return lines.join("\n");
}

test("a spike and a hole of one's own file are found, sessions with a break are told, a repair is made and undone", async ({ page }) => {
  await page.goto("/markets");
  await page.getByRole("button", { name: "Import bars" }).click();
  const dialog = page.getByRole("dialog", { name: "Import bars" });
  await dialog.getByLabel("File of bars").setInputFiles({ name: "noon.csv", mimeType: "text/csv", buffer: Buffer.from(csv()) });
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
  await expect(page).toHaveURL(new RegExp(`at=${SPIKE}`));
});
