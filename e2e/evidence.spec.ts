/** The jobs of a day on the Bench: see what never ran, step to a stop, ask for another stop, compare kits, look at a year. */
import { randomUUID } from "node:crypto";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import Database from "better-sqlite3";
import { editorOf, netOf, write } from "./steps.ts";

const FADE = `export default plan({
  title: "Harbour fade",
  inputs: { width: decimal(2, { min: 0.5, max: 4, step: 0.1, label: "Width" }) },
  build({ bars, inputs, when, enter, position, log }) {
    const { upper, lower } = bollinger(bars.close, 40, inputs.width);
    const under = crossesBelow(bars.close, lower);
    const over = crossesAbove(bars.close, upper);
    when(under, () => {
      const isFree = position.flat;
      if (isFree) enter.long({ stopLoss: ticks(40), target: ticks(60), tag: "ebb" });
      else if (position.units < 0) log("never again");
    });
    when(over, () => {
      if (position.flat) enter.short({ stopLoss: ticks(40), target: ticks(60), tag: "flood" });
    });
  },
});
`;

async function newPlan(page: Page, source: string): Promise<void> {
  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await write(page, source);
  await expect(page.getByRole("heading", { name: "Harbour fade" })).toBeVisible();
  await page.keyboard.press("Control+Enter");
  await expect(page.getByTestId("run-state")).toContainText("draft run");
}

const tab = (page: Page, name: RegExp) => page.getByRole("tab", { name }).click();

test("find by line evidence a branch that never runs, and mend it", async ({ page }) => {
  await newPlan(page, FADE);
  await page.getByRole("button", { name: "Lines", exact: true }).click();
  const dead = editorOf(page).locator(".line-never-ran", { hasText: "never" }).first();
  await expect(dead).toBeVisible();
  await write(page, FADE.replace("position.units < 0", "position.long"));
  await page.keyboard.press("Control+Enter");
  await expect(
    editorOf(page)
      .getByText(/orders · \d+ filled/)
      .first(),
  ).toBeVisible();
  await expect(dead).toBeHidden();
  await tab(page, /^Log [1-9]/);
  await expect(page.getByText("never again").first()).toBeVisible();
  // From a line to its trades.
  await editorOf(page).locator(".view-line", { hasText: "isFree) enter" }).click();
  await page.keyboard.press("Alt+l");
  await expect(page.getByRole("button", { name: /not only: line 10/ })).toBeVisible();
  await expect(page.getByRole("grid", { name: "Trades" }).getByText("flood")).toHaveCount(0);
  await page.getByRole("button", { name: "Hide lines" }).click();
});

test("step to the third stop-out, and read how it came about", async ({ page }) => {
  await newPlan(page, FADE);
  await tab(page, /^Trades/);
  await page.getByLabel("Filter trades").fill("stop");
  const third = page.getByRole("grid", { name: "Trades" }).getByRole("row").nth(3);
  const exit = (await third.getByRole("gridcell").nth(5).textContent()) ?? "";
  await tab(page, /^Chart/);
  await page.getByRole("button", { name: "Step", exact: true }).click();
  const stepper = page.getByRole("complementary", { name: "Stepper" });
  await stepper.getByLabel("What a step goes to").selectOption("stop-out");
  for (let k = 0; k < 3; k++) await page.keyboard.press("Alt+ArrowRight");
  await expect(stepper.getByTestId("step-place")).toContainText(exit.trim().slice(0, 11));
  await expect(stepper.getByText(/closed trade \d+ closed by stop/)).toBeVisible();
  await expect(stepper.getByText("no position")).toBeVisible();
  // Back over its events the lot is still there, with the stop that is about to be met.
  await page.keyboard.press("Alt+Shift+ArrowLeft");
  await expect(stepper.getByTestId("step-place")).toContainText("event");
  await stepper.getByLabel("What a step goes to").selectOption("bar");
  await page.keyboard.press("Alt+ArrowLeft");
  await expect(stepper.getByText(/· stop \d/)).toBeVisible();
  await expect(stepper.getByText("Why no trade here?")).toBeVisible();
  await expect(stepper.getByText(/A position was open: (long|short) 1/)).toBeVisible();
  await page.getByRole("button", { name: "Conditions", exact: true }).click();
  await expect(page.getByRole("button", { name: "Hide conditions" })).toBeVisible();
});

test("a stop asked of the excursions agrees with a run of it, as far as it can", async ({ page }) => {
  await newPlan(page, FADE);
  const before = await netOf(page).textContent();
  await tab(page, /^What if/);
  await page.getByLabel("Stop, ticks", { exact: true }).fill("20");
  const asked = page.getByTestId("what-if-net");
  await expect(asked).not.toHaveText(before ?? "");
  const answer = Number((await asked.textContent())!.replace("−", "-").replace(/[^\d-]/g, ""));
  await page.getByRole("button", { name: "Run with these exits" }).click();
  await expect(page.getByRole("button", { name: "Exit kit: Asked levels" })).toBeVisible();
  await tab(page, /^Summary/);
  await expect(netOf(page)).not.toHaveText(before ?? "");
  const real = Number((await netOf(page).textContent())!.replace("−", "-").replace(/[^\d-]/g, ""));
  const first = Number(before!.replace("−", "-").replace(/[^\d-]/g, ""));
  // Flat sooner, the plan enters again where it could not before: the answers agree in where they point, not to the crown.
  expect(Math.sign(real - first)).toBe(Math.sign(answer - first));
  await tab(page, /^Trades/);
  await page.getByLabel("Filter trades").fill("stop");
  await expect(page.getByRole("grid", { name: "Trades" }).getByRole("row").nth(1)).toContainText("stop");
});

test("four exit kits are set side by side as variants", async ({ page }) => {
  await newPlan(page, FADE);
  const kits = [12, 24, 48, 96];
  await tab(page, /^What if/);
  for (const stop of kits) {
    await page.getByLabel("Stop, ticks", { exact: true }).fill(String(stop));
    await page.getByRole("button", { name: "Run with these exits" }).click();
    await expect(page.getByTestId("run-state")).toContainText("draft run");
    await page.getByRole("button", { name: "Keep as variant" }).click();
    await page.getByLabel("Name of the variant").fill(`Stop ${stop}`);
    await page.getByRole("dialog").getByRole("button", { name: "Keep" }).click();
    await expect(page.getByLabel("Variant", { exact: true })).toContainText(`Stop ${stop}`);
  }
  await page.getByRole("button", { name: "Compare variants" }).click();
  await expect(page).toHaveURL(/compare\?batch=/);
  for (const stop of kits) await expect(page.getByRole("columnheader", { name: new RegExp(`Stop ${stop}\\b`) })).toBeVisible();
  await expect(page.getByLabel("best").first()).toBeVisible();
  await expect(page.getByText("Asked levels: stop 24 ticks")).toBeVisible();
  // Two of them, trade by trade.
  await page.getByRole("button", { name: /Leave out Stop 12/ }).click();
  await page.getByRole("button", { name: /Leave out Stop 96/ }).click();
  await expect(page.getByText("What the change did, trade by trade")).toBeVisible();
  await expect(page.getByRole("button", { name: "ended otherwise" })).toBeVisible();
});

test("one year of a run alone: figures, tables and curve follow", async ({ page }) => {
  await page.goto("/plans/brine-channel");
  const whole = await netOf(page).textContent();
  const stretch = page.getByLabel("Period of the run");
  await expect(stretch).toBeEnabled();
  await stretch.selectOption("2024");
  await expect(page.getByRole("button", { name: "Back to the whole run from 2024" })).toBeVisible();
  await expect(netOf(page)).not.toHaveText(whole ?? "");
  await tab(page, /^Periods/);
  await expect(page.getByRole("button", { name: "2024", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "2023", exact: true })).toHaveCount(0);
  await tab(page, /^Orders/);
  const sent = page.getByRole("grid", { name: "Orders" }).getByRole("row").nth(1).getByRole("gridcell").nth(1);
  await expect(sent).toContainText("2024");
  await tab(page, /^Summary/);
  // Dragging over the curve looks at that stretch.
  const curve = page.getByRole("region", { name: /^Equity, drawdown/ });
  const box = (await curve.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.3, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.5, box.y + 60, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole("button", { name: /Back to the whole run from \d/ })).toBeVisible();
  await page.getByRole("button", { name: /Back to the whole run/ }).click();
  await expect(netOf(page)).toHaveText(whole ?? "");
  // A figure opens the trades behind it.
  await page.getByRole("button", { name: "win rate" }).click();
  await page.getByRole("button", { name: /Show its \d+ trades/ }).click();
  await expect(page.getByRole("button", { name: /not only: win rate/ })).toBeVisible();
});

test("the journal tells what was changed and what it did; a version comes back", async ({ page }) => {
  await newPlan(page, FADE);
  const first = await netOf(page).textContent();
  await page.getByLabel("Width", { exact: true }).fill("1.4");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(netOf(page)).not.toHaveText(first ?? "");
  await write(page, FADE.replace("ticks(60)", "ticks(30)"));
  await page.keyboard.press("Control+Enter");
  await tab(page, /^Journal/);
  await expect(page.getByText("source: 1 lines new, 1 gone")).toBeVisible();
  await expect(page.getByText(/width 2 → 1.4/)).toBeVisible();
  await page.getByRole("button", { name: "More" }).click();
  await page.getByRole("menuitem", { name: /Versions/ }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("list", { name: "Versions" }).getByRole("button").last().click();
  await expect(dialog.locator(".line-delete, .char-delete").first()).toBeVisible();
  await dialog.getByLabel("Name of this version").fill("As first written");
  await dialog.getByLabel("Name of this version").press("Enter");
  await expect(dialog.getByRole("list", { name: "Versions" }).getByText("As first written")).toBeVisible();
  await dialog.getByRole("button", { name: "Bring back the text" }).click();
  await expect(editorOf(page).getByText("ticks(60)").first()).toBeVisible();
});

test("a basket runs in the background and shows good and bad at a glance", async ({ page }) => {
  await page.goto("/plans/kelp-ebb-fade");
  await page.getByRole("button", { name: "More" }).click();
  await page.getByRole("menuitem", { name: /basket/ }).click();
  await page.getByRole("button", { name: "Every future" }).click();
  await page.getByRole("button", { name: "Start 3 runs" }).click();
  await expect(page).toHaveURL(/batches/);
  await expect(page.getByRole("link", { name: "BRIN" })).toBeVisible();
  await expect(page.getByText(/of 3 gained; together/)).toBeVisible();
  await page.getByLabel("Choose KELP").check();
  await page.getByLabel("Choose TIDE").check();
  await page.getByRole("button", { name: "Compare 2" }).click();
  await expect(page.getByRole("columnheader", { name: /KELP/ })).toBeVisible();
});

test("the 2,000th run of a long list is found and opened", async ({ page }) => {
  const file = new Database(join(process.env.PLAN_TESTER_E2E_DATA!, "plan-tester.sqlite"));
  const [run] = file.prepare("SELECT * FROM run WHERE id = 'brine-cross-first'").all() as Record<string, unknown>[];
  const parts = file.prepare("SELECT * FROM run_part WHERE runId = 'brine-cross-first'").all() as Record<string, unknown>[];
  const insertRun = file.prepare(
    `INSERT INTO run (${Object.keys(run!).join(",")}) VALUES (${Object.keys(run!)
      .map((name) => `@${name}`)
      .join(",")})`,
  );
  const insertBody = file.prepare(
    `INSERT INTO run_part (${Object.keys(parts[0]!).join(",")}) VALUES (${Object.keys(parts[0]!)
      .map((name) => `@${name}`)
      .join(",")})`,
  );
  file.transaction(() => {
    for (let k = 1; k <= 2000; k++) {
      const id = randomUUID().slice(0, 13);
      insertRun.run({ ...run, id, name: `Buoy ${k}`, createdMs: 1_600_000_000_000 + k, tags: '["buoys"]' });
      for (const part of parts) insertBody.run({ ...part, runId: id });
    }
  })();
  file.close();
  await page.goto("/runs");
  await page.getByLabel("Only one tag").selectOption("buoys");
  await expect(page.getByText("Run (2,000)")).toBeVisible();
  await page.getByRole("columnheader", { name: /^Kept/ }).click();
  await expect(page.getByRole("link", { name: "Buoy 1", exact: true })).toBeVisible();
  const list = page.getByRole("grid", { name: "Kept runs" });
  await list.evaluate((element) => element.scrollTo(0, element.scrollHeight));
  await expect(page.getByRole("link", { name: "Buoy 2000", exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole("link", { name: "Buoy 2000", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Buoy 2000" })).toBeVisible();
  await expect(netOf(page)).toBeVisible();
});

test("a size is told from the drawdown, tried, and held against what is tolerated", async ({ page }) => {
  await newPlan(page, FADE);
  await tab(page, /^Size$/);
  const measured = page.getByRole("row", { name: /as it was/ });
  await measured.getByRole("radio").check();
  await page.getByLabel("Tolerated fall").fill("10");
  const balance = (await measured.getByRole("cell").nth(2).textContent())!;
  await expect(page.getByText(`asks for ${balance} crowns of balance`)).toBeVisible();
  await page.getByRole("button", { name: "Try it, growing with the balance" }).click();
  // The run says what came of it, and its kit carries the size on.
  await expect(page.getByText(new RegExp(`sized by 1 unit for every ${balance} of balance: it fell [\\d.]+.% at worst`))).toBeVisible();
  await expect(page.getByRole("button", { name: /^Exit kit: Sized/ })).toBeVisible();
});
