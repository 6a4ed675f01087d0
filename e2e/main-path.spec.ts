/** The main path, as a user goes it: write, run, look, sweep, watch, import. */
import { expect, test } from "@playwright/test";
import { netOf, untilMarketIsOpen, write } from "./steps.ts";

const PLAN = `export default plan({
  title: "Lantern",
  inputs: {
    fast: whole(10, { min: 2, max: 100, unit: "bars", label: "Fast average" }),
    slow: whole(40, { min: 5, max: 200, unit: "bars", label: "Slow average" }),
    stop: whole(30, { min: 2, max: 400, unit: "ticks", label: "Stop" }),
  },
  build({ bars, inputs, when, enter, position, show, log }) {
    const fast = ema(bars.close, inputs.fast);
    const slow = ema(bars.close, inputs.slow);
    show(fast, { label: "Fast" });
    when(crossesAbove(fast, slow), () => {
      if (position.flat) enter.long({ stopLoss: ticks(inputs.stop), target: ticks(60), tag: "lit" });
      log("lit up");
    });
  },
});
`;

test("write a plan, run it, look at a trade, change an input, keep the run", async ({ page }) => {
  await page.goto("/plans");
  await expect(page.getByRole("link", { name: "Kelp ebb fade", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await expect(page.getByText("Not run yet")).toBeVisible();
  await write(page, PLAN);
  await expect(page.getByRole("heading", { name: "Lantern" })).toBeVisible();
  await expect(page.getByLabel("Slow average")).toHaveValue("40");

  await page.keyboard.press("Control+Enter");
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  const first = await netOf(page).textContent();
  await page.getByRole("tab", { name: /Trades/ }).click();
  const row = page.getByRole("grid", { name: "Trades" }).getByRole("row").nth(2);
  await expect(row).toContainText("lit");
  await row.click();
  await expect(page.getByRole("tab", { name: "Chart" })).toHaveAttribute("data-state", "active");
  await expect(page.getByText(/Long 1 “lit”/)).toBeVisible();
  const chart = page.getByRole("region", { name: /Price of KELP/ });
  await chart.focus();
  await page.keyboard.press("ArrowUp");
  await chart.hover();
  await expect(chart.getByText(/Fast \d+\.\d+/)).toBeVisible();

  await page.getByRole("tab", { name: "Summary" }).click();
  await page.getByLabel("Stop", { exact: true }).fill("12");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(netOf(page)).not.toHaveText(first ?? "");

  await page.keyboard.press("Control+s");
  await page.getByLabel("Name").fill("Lantern, tight");
  await page.getByRole("dialog").getByRole("button", { name: "Keep" }).click();
  await expect(page.getByTestId("run-state")).toContainText("Lantern, tight");
  await page.getByRole("link", { name: "Runs" }).click();
  await page.getByRole("link", { name: "Lantern, tight" }).click();
  await expect(page.getByText(/fingerprint [0-9a-f]{16}/)).toBeVisible();
  await expect(page.getByLabel(/^Stop/)).toHaveValue("12");
});

test("an error is shown where it stands, and nothing is lost", async ({ page }) => {
  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await write(page, PLAN.replace("slow);", "slow;"));
  await expect(page.getByRole("button", { name: /Line 10/ })).toBeVisible();
  await write(page, PLAN.replace('log("lit up")', 'throw new Error("on purpose")'));
  await expect(page.getByRole("button", { name: /Line 10/ })).toBeHidden();
  await page.keyboard.press("Control+Enter");
  const alert = page.getByRole("alert").filter({ hasText: "on purpose" });
  await expect(alert.getByRole("button", { name: "line 14" })).toBeVisible();
  await expect(page.getByText("draft saved")).toBeVisible();
  await page.reload();
  await expect(page.getByRole("heading", { name: "Lantern" })).toBeVisible();
});

test("the settings sentence changes what is run", async ({ page }) => {
  await page.goto("/plans/brine-cross");
  await page.getByRole("button", { name: /Timeframe: 1 h/ }).click();
  await page.getByRole("button", { name: "30 min", exact: true }).click();
  await page.getByRole("button", { name: /Costs: market costs/ }).click();
  await page.getByLabel("Costs", { exact: true }).selectOption("none");
  await page.keyboard.press("Escape");
  const note = page.getByRole("note").filter({ hasText: "Changed since" });
  await expect(note).toHaveText(/^Evidence of BRIN, 1 h\. Changed since: (timeframe, costs|costs, timeframe)\./);
  await note.getByRole("button", { name: "Run this" }).click();
  await expect(page.getByText("No costs are counted")).toBeVisible();
  await expect(note).toBeHidden();
  await expect(page.getByText("draft saved")).toBeVisible();
});

test("a period that moves with the data is chosen in words, and the run keeps its days", async ({ page }) => {
  await page.goto("/plans/puffin-two-clocks");
  await page.getByRole("button", { name: "Period: from" }).click();
  await page.getByLabel("How many").fill("6");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: "Period: of the last 6 months," })).toBeVisible();
  await expect(page.getByRole("button", { name: "First day: 28 Aug 2025" })).toBeVisible();
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByRole("note").filter({ hasText: "Changed since" })).toBeHidden();
  const id = await page.evaluate(async () => (await (await fetch("/api/plans/puffin-two-clocks/last-draft")).json()).runId);
  await page.goto(`/runs/${id}`);
  await expect(page.getByText(/bars from 28 Aug 2025 to 27 Feb 2026/)).toBeVisible();
});

test("coming back to the Bench finds the last run of it", async ({ page }) => {
  await page.goto("/plans/tide-turn");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  const net = await netOf(page).textContent();
  await page.getByRole("link", { name: "Markets" }).click();
  await page.waitForURL("**/markets");
  await page.goBack();
  await expect(netOf(page)).toHaveText(net ?? "");
  await page.reload();
  await expect(netOf(page)).toHaveText(net ?? "");
  await expect(page.getByTestId("run-state")).toContainText("draft run");
});

test("sweep two inputs, look at the surface, open the best row as a run", async ({ page }) => {
  await page.goto("/plans/brine-cross");
  await page.getByRole("button", { name: "Sweep" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Fast average, from").fill("10");
  await dialog.getByLabel("Fast average, to").fill("30");
  await dialog.getByLabel("Fast average, step").fill("5");
  await dialog.getByLabel("Slow average, from").fill("40");
  await dialog.getByLabel("Slow average, to").fill("70");
  await dialog.getByLabel("Slow average, step").fill("10");
  await expect(dialog.getByTestId("estimate")).toContainText(/20 variants, about .* on \d+ cores/);
  await dialog.getByRole("button", { name: "Start" }).click();
  await expect(page.getByTestId("sweep-state")).toContainText("complete · 20 of 20 variants");
  const grid = page.getByRole("grid", { name: "Variants" });
  await expect(grid.getByText("In-sample")).toBeVisible();
  await expect(grid.getByText("Out-of-sample")).toBeVisible();
  await page.getByRole("tab", { name: "Surface" }).click();
  await expect(page.getByRole("button", { name: /Fast average 10, Slow average 40/ })).toBeVisible();
  await page.getByRole("tab", { name: "Table" }).click();
  await grid.getByRole("row").nth(2).click();
  await page.getByRole("button", { name: "Open in-sample run" }).click();
  await expect(page.getByRole("heading", { name: "Brine cross, draft run" })).toBeVisible();
  await expect(netOf(page)).toBeVisible();
});

test("a watch goes to work on the practice venue and fills an order", async ({ page }) => {
  await untilMarketIsOpen(page);
  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await write(
    page,
    `export default plan({
  title: "Buoy",
  build({ on, enter, position }) {
    on.barClose(() => {
      if (position.flat) enter.long({ stopLoss: ticks(40), target: ticks(40), tag: "buoy" });
    });
  },
});
`,
  );
  await expect(page.getByRole("heading", { name: "Buoy" })).toBeVisible();
  await page.getByRole("button", { name: /Timeframe: 15 min/ }).click();
  await page.getByRole("button", { name: "1 min", exact: true }).click();
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/What to do/).fill("watch");
  await page.getByRole("option", { name: /Set this plan to watch/ }).click();
  await page.getByRole("button", { name: "Start watching" }).click();
  await page.getByRole("button", { name: "600×" }).click();
  await expect(page.getByText(/bought 1 \S+ at/).first()).toBeVisible({ timeout: 40_000 });
  await expect(page.getByText("Stop loss")).toBeVisible();
  await page.getByRole("button", { name: "Stop…" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Stop", exact: true }).click();
  await expect(page.getByText("ended", { exact: true })).toBeVisible();
  await page.getByRole("button", { name: "1×", exact: true }).click();
});

test("import a CSV, see what was left out, chart it", async ({ page }) => {
  const rows = ["Date,Time,Open,High,Low,Close,Volume"];
  for (let i = 0; i < 3000; i++) {
    const at = (k: number): number => Math.round((50 + 3 * Math.sin(k / 40)) * 100) / 100;
    const [open, close] = [at(i), at(i + 1)];
    const when = new Date(Date.UTC(2025, 2, 3) + i * 300_000);
    rows.push(
      `${when.getUTCDate()}.${when.getUTCMonth() + 1}.${when.getUTCFullYear()},${when.toISOString().slice(11, 16)},${open},${Math.max(open, close)},${Math.min(open, close)},${close},5`,
    );
  }
  rows.splice(10, 0, "3.3.2025,00:43,1,2,3,4,5");
  await page.goto("/markets");
  await page.getByRole("button", { name: "Import bars" }).click();
  await page
    .getByLabel("File of bars")
    .setInputFiles({ name: "driftwood.csv", mimeType: "text/csv", buffer: Buffer.from(rows.join("\n")) });
  await expect(page.getByText(/The first bar opens 2025-03-03 00:00 UTC/)).toBeVisible();
  await expect(page.getByLabel("Bars of")).toHaveValue("5m");
  await page.getByRole("dialog").getByRole("button", { name: "Import", exact: true }).click();
  await expect(page.getByText("3,000 bars")).toBeVisible();
  await expect(page.getByText("Line 11", { exact: true })).toBeVisible();
  await page.getByRole("link", { name: "Open DRIFTWOOD" }).click();
  await expect(page.getByRole("region", { name: /Price of DRIFTWOOD/ })).toBeVisible();
});

test("a file that can be read in two ways asks which is right, and imports nothing before", async ({ page }) => {
  const rows = ["Date;Open;High;Low;Close;Volume"];
  for (let day = 1; day <= 9; day++) rows.push(`0${day}/04/2025;2.00${day};2.01${day};1.99${day};2.00${day};1.200`);
  await page.goto("/markets");
  await page.getByRole("button", { name: "Import bars" }).click();
  await page.getByLabel("File of bars").setInputFiles({ name: "ebbstone.csv", mimeType: "text/csv", buffer: Buffer.from(rows.join("\n")) });
  const questions = page.getByRole("group", { name: "Question" });
  await expect(questions).toHaveCount(2);
  await expect(page.getByText(/"01\/04\/2025" and every other date of the file can be read in more than one order/)).toBeVisible();
  const go = page.getByRole("dialog").getByRole("button", { name: "Import", exact: true });
  await expect(go).toBeDisabled();
  await page.getByRole("button", { name: "day, month, year" }).click();
  await expect(go).toBeDisabled();
  // What is chosen by hand answers too.
  await page.getByLabel("Decimal sign").selectOption(",");
  await expect(questions).toHaveCount(0);
  await expect(page.getByText(/The first bar opens 2025-04-01 00:00 UTC at 2001/)).toBeVisible();
  await expect(page.getByLabel("Bars of")).toHaveValue("1d");
  await go.click();
  await expect(page.getByText("9 bars")).toBeVisible();
});

test("both themes, and the palette leads anywhere", async ({ page }) => {
  await page.goto("/plans");
  await page.getByRole("button", { name: /Theme: paper/ }).click();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "night");
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/What to do/).fill("puffin dip");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Puffin dip" })).toBeVisible();
  await page.goto("/nowhere");
  await expect(page.getByText("Page not found")).toBeVisible();
});
