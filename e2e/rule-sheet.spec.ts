/** As one would who can't program: a rule sheet is written in sentences, run, mirrored, read back, swept, taken on in code. */
import { expect, type Page, test } from "@playwright/test";
import { netOf } from "./steps.ts";

/** Writes a rule into the line of a part. */
async function say(page: Page, part: string, sentence: string): Promise<void> {
  const line = page.getByRole("combobox", { name: `Add a rule: ${part}` });
  await line.fill(sentence);
  await line.press("Enter");
  await expect(line).toHaveValue("");
}

const part = (page: Page, name: string) => page.getByRole("region", { name, exact: true });

test("from an empty sheet to a run, mirrored, swept, and on in code", async ({ page }) => {
  await page.goto("/plans");
  await page.getByRole("button", { name: "New rule sheet", exact: true }).click();
  await say(page, "Long entry", "RSI on 1h crosses below 35, and close is above EMA (50) on 1d");
  await say(page, "Long exit", "RSI on 1h crosses above 55");
  // Evidence stands at each rule, and at both together, before anything is run.
  await expect(part(page, "Long entry").getByText(/on [\d,]+ bars \(.* %\), begins [\d,]+ times/)).toHaveCount(3);

  await page.getByRole("button", { name: /^Exits:/ }).click();
  await page.getByLabel("Stop loss", { exact: true }).fill("1");
  await page.getByLabel("Stop loss, unit").selectOption("percent");
  await page.getByLabel("Target", { exact: true }).fill("2");
  await page.getByLabel("Target, unit").selectOption("percent");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Control+Enter");
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  const longOnly = await netOf(page).textContent();

  await page.getByRole("checkbox", { name: "Shorts mirror longs" }).check();
  await expect(part(page, "Short entry")).toContainText("the RSI (14) of close on 1h crosses above 65");
  await expect(part(page, "Short exit")).toContainText("the RSI (14) of close on 1h crosses below 45");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(netOf(page)).not.toHaveText(longOnly ?? "");

  await page.getByRole("tab", { name: "In words" }).click();
  await expect(
    page.getByText(/Enters short when the RSI \(14\) of close on 1h crosses above 65, and close is below the EMA/),
  ).toBeVisible();
  await expect(page.getByText(/The stop loss is 1 % away\. The target is 2 % away\./).first()).toBeVisible();

  // A line of the evidence leads back to its row.
  await page.getByRole("tab", { name: "Rules" }).click();
  const words = part(page, "Long entry");
  await words.getByRole("button", { name: "Number: 35" }).click();
  await page.getByLabel("Number", { exact: true }).fill("30");
  await page.keyboard.press("Escape");
  await expect(part(page, "Short entry")).toContainText("crosses above 70");
  await page.keyboard.press("Control+z");
  await expect(part(page, "Short entry")).toContainText("crosses above 65");

  // Its numbers are inputs like any other's.
  await page.getByRole("button", { name: "Sweep", exact: true }).click();
  await expect(page.getByRole("dialog").getByText("RSI span").first()).toBeVisible();
  await page.keyboard.press("Escape");

  await page.reload();
  await expect(part(page, "Short entry")).toContainText("crosses above 65");
  await page.getByRole("button", { name: "Go on in code" }).click();
  await expect(page.getByRole("textbox", { name: /Editor content|source/i }).first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Go on in code" })).toHaveCount(0);

  // The sheet stays in the versions, and one can return to it.
  await page.keyboard.press("Alt+v");
  const versions = page.getByRole("dialog", { name: "Versions of this plan" });
  await versions.getByRole("button", { name: /^Rule sheet/ }).click();
  await versions.getByRole("button", { name: "Bring back the text" }).click();
  await expect(part(page, "Short entry")).toContainText("crosses above 65");
});

test("two clocks as alerts only, then run, tuned, weighed rule by rule, and in a second plan", async ({ page }) => {
  test.setTimeout(180_000);
  await page.goto("/plans");
  await page.getByRole("button", { name: "New rule sheet", exact: true }).click();
  await say(page, "Long entry", "RSI on 1h crosses below 35, and close is above EMA (50) on 1d");
  await say(page, "Long exit", "RSI on 1h crosses above 55");
  await page.getByRole("button", { name: /^What rules do/ }).click();
  await page.getByRole("button", { name: "alerts only" }).click();
  await page.keyboard.press("Control+Enter");
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  const evidence = page.getByTestId("evidence");
  await expect(evidence.getByRole("tab", { name: "Trades 0" })).toBeVisible();
  await expect(evidence.getByRole("tab", { name: /^Log [1-9]/ })).toBeVisible();

  await page.getByRole("button", { name: /^What rules do/ }).click();
  await page.getByRole("button", { name: "orders", exact: true }).click();
  await page.keyboard.press("Control+Enter");
  await expect(evidence.getByRole("tab", { name: /^Trades [1-9]/ })).toBeVisible();

  // What each row earns, in the tab and at the row.
  await evidence.getByRole("tab", { name: "By rule" }).click();
  await evidence.getByRole("button", { name: /^Weigh each rule/ }).click();
  const entry = evidence.getByRole("listitem", { name: "the RSI (14) of close on 1h crosses below 35" });
  await expect(entry).toContainText(/\d+ of 99/, { timeout: 60_000 });
  await expect(entry).toContainText(/kept out\s*\d+/);
  await expect(part(page, "Long entry").getByText(/a year by this rule, \d+ of 99 placebos as good/)).toHaveCount(2);
  await evidence.getByRole("tab", { name: "Journal" }).click();
  await expect(evidence.getByText(/what each rule earns, against 99 placebos/)).toBeVisible();

  // A row taken off: what it earned was of the sheet with it.
  const rows = part(page, "Long entry").locator("[data-row]");
  await rows.last().getByRole("button", { name: "What can be done with this rule" }).click();
  await page.getByRole("menuitem", { name: "Switch off" }).click();
  await expect(part(page, "Long entry").getByText(/a year by this rule/)).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect(part(page, "Long entry").getByText(/a year by this rule/)).toHaveCount(2);

  // Two of its numbers tuned, and the best run opened.
  await page.getByRole("button", { name: "Sweep", exact: true }).click();
  const dialog = page.getByRole("dialog");
  for (const [name, from, to, step] of [
    ["RSI span", "10", "18", "4"],
    ["Level", "30", "40", "5"],
  ] as const) {
    await dialog.getByLabel(`${name}, from`).fill(from);
    await dialog.getByLabel(`${name}, to`).fill(to);
    await dialog.getByLabel(`${name}, step`).fill(step);
  }
  await expect(dialog.getByTestId("estimate")).toContainText("9 variants");
  await dialog.getByRole("button", { name: "Start" }).click();
  await expect(page.getByTestId("sweep-state")).toContainText("complete · 9 of 9 variants", { timeout: 60_000 });
  await page.goBack();

  const saved = page.waitForEvent("download");
  await page.getByRole("button", { name: "More", exact: true }).click();
  await page.getByRole("menuitem", { name: "Save plan as a file" }).click();
  const file = await (await saved).path();
  await page.goto("/plans");
  await page.getByLabel("Open a plan file").setInputFiles(file);
  await expect(part(page, "Long entry")).toContainText("the RSI (14) of close on 1h crosses below 35");
});

test("what can't be read is marked, words are offered, and rules are moved by keys", async ({ page }) => {
  await page.goto("/plans");
  await page.getByRole("button", { name: "New rule sheet", exact: true }).click();
  const line = page.getByRole("combobox", { name: "Add a rule: Long entry" });
  await line.fill("close jumps over 30");
  await line.press("Enter");
  await expect(part(page, "Long entry").getByRole("alert")).toContainText('"jumps" (character 7) does not fit');
  await line.fill("close is ab");
  await line.press("ArrowDown");
  await line.press("Tab");
  await expect(line).toHaveValue("close is above ");
  await line.pressSequentially("open");
  await line.press("Enter");
  await say(page, "Long entry", "the bar on 1h is up");

  const rows = part(page, "Long entry").locator("[data-row]");
  await expect(rows.first()).toContainText("close is above open");
  await rows.last().getByRole("button", { name: "Move this rule" }).focus();
  await page.keyboard.press("Alt+ArrowUp");
  await expect(rows.first()).toContainText("the bar on 1h is up");
  await rows.first().getByRole("button", { name: "What can be done with this rule" }).click();
  await page.getByRole("menuitem", { name: "Switch off" }).click();
  await expect(rows.first()).toContainText("switched off");
  await rows.last().getByRole("button", { name: "What can be done with this rule" }).click();
  await page.getByRole("menuitem", { name: "Copy to the other side" }).click();
  await expect(part(page, "Short entry")).toContainText("close is below open");
});
