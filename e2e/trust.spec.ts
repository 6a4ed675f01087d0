/** From a sweep to what it is worth: estimated, paused, cut off and gone on with, looked at, verified, walked forward, judged. */
import { type ChildProcess, spawn } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";

const PORT = "4391";
const root = join(import.meta.dirname, "..");
let again: ChildProcess | null = null;

/** The server that serves this port, by the environment it was started with. */
function serverProcess(): number {
  for (const name of readdirSync("/proc").filter((entry) => /^\d+$/.test(entry)))
    try {
      const command = readFileSync(`/proc/${name}/cmdline`, "utf8");
      const environment = readFileSync(`/proc/${name}/environ`, "utf8");
      // A shell that started it has the same environment.
      if (/^[^\0]*node\0.*dist\/server\.js/.test(command) && environment.includes(`PLAN_TESTER_PORT=${PORT}\0`)) return Number(name);
    } catch {
      // Case: it ended while one was looking, or is none of ours.
    }
  throw new Error("The server was not found.");
}

async function restartServer(page: Page): Promise<void> {
  process.kill(serverProcess(), "SIGKILL");
  await expect.poll(async () => (await page.request.get("/api/health").catch(() => null))?.ok() ?? false).toBe(false);
  again = spawn(process.execPath, ["dist/server.js"], {
    cwd: root,
    stdio: "ignore",
    env: { ...process.env, NODE_ENV: "production", PLAN_TESTER_PORT: PORT, PLAN_TESTER_DATA: process.env.PLAN_TESTER_E2E_DATA },
  });
  await expect.poll(async () => (await page.request.get("/api/health").catch(() => null))?.ok() ?? false, { timeout: 60_000 }).toBe(true);
}

test.afterAll(() => void again?.kill("SIGTERM"));

test("a walk-forward is made, its stitched curve opened, and the verdict read", async ({ page }) => {
  test.setTimeout(180_000);
  await page.goto("/plans/kelp-ebb-fade");
  await page.getByRole("button", { name: "Sweep" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel(/Walk forward/).check();
  await dialog.getByLabel("Sessions to choose on").fill("80");
  await dialog.getByLabel("Sessions to try on").fill("40");
  await expect(dialog.getByText(/4 windows in \d+ sessions/)).toBeVisible();
  await dialog.getByLabel("Method").selectOption("Spread evenly");
  await dialog.getByLabel("Variants at most").fill("30");
  await expect(dialog.getByTestId("estimate")).toContainText(/30 variants at most, of 81 in each window, about/);
  await dialog.getByRole("button", { name: "Start the walk" }).click();
  await expect(page.getByTestId("walk-state")).toContainText("complete · 4 of 4 windows", { timeout: 120_000 });
  await expect(page.getByText(/gaining in \d of 4 windows/)).toBeVisible();
  await page.getByRole("link", { name: "Open it as a run" }).click();
  await expect(page.getByText("Each part of this curve was made with inputs chosen before it.")).toBeVisible();

  await page.goto("/runs/kelp-ebb-fade-first?tab=trust");
  const verdict = page.getByRole("region", { name: "Verdict" });
  await expect(verdict.getByText("This period has been used for a sweep", { exact: false })).toBeVisible();
  await page.getByRole("button", { name: /Perturb/ }).click();
  await expect(verdict.getByText(/With its inputs perturbed it/)).toBeVisible({ timeout: 30_000 });
  await expect(verdict.getByText(/The next honest step:/)).toBeVisible();
  await expect(page.getByText("Confidence, all trials counted")).toBeVisible();
  await expect(page.getByText(/The same trades, drawn 2,000 times/)).toBeVisible({ timeout: 30_000 });
  // What was shaken stays known while one looks elsewhere.
  await page.getByRole("tab", { name: "Summary" }).click();
  await page.getByRole("tab", { name: "Trust" }).click();
  await expect(verdict.getByText(/With its inputs perturbed it/)).toBeVisible();

  // The journal leads back to the walk-forward.
  await page.goto("/plans/kelp-ebb-fade?tab=tried");
  const walked = page.getByRole("row").filter({ hasText: /walk-forward over 120 settings/ });
  await walked.first().getByRole("link").click();
  await expect(page.getByText("Window by window")).toBeVisible();
});

test("the end of history is kept unseen, and opened on purpose", async ({ page }) => {
  await page.goto("/plans/tide-turn");
  await page
    .getByRole("button", { name: /trials?/ })
    .first()
    .click();
  await page.getByLabel("Hold out from").fill("2025-01-01");
  await page.getByRole("button", { name: "Hold it out" }).click();
  await expect(page.getByRole("button", { name: /held out from 1 Jan 2025/ })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByText(/reaches into the holdout/).first()).toBeVisible();
  await page.getByRole("button", { name: /held out from/ }).click();
  await page.getByRole("button", { name: "Release the holdout …" }).click();
  await page.getByRole("button", { name: "Release for good" }).click();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Run Ctrl/ }).click();
  await expect(page.getByTestId("run-state")).toContainText("draft run");
  await page.getByRole("tab", { name: "Journal" }).click();
  const opened = page.getByRole("row").filter({ hasText: "the holdout was released" });
  await expect(opened).toBeVisible();
  await expect(opened.getByRole("link")).toHaveCount(0);
});

test("a search over instruments, timeframes and an exit, with an aim of one's own", async ({ page }) => {
  await page.goto("/plans/brine-base-entry");
  await page.getByRole("button", { name: /^Exit kit/ }).click();
  // Another test may have left a kit on it.
  const fresh = page.getByRole("button", { name: "New kit" });
  await expect(fresh.or(page.getByLabel("Stop loss", { exact: true }))).toBeVisible();
  if (await fresh.isVisible()) await fresh.click();
  await page.getByLabel("Stop loss", { exact: true }).fill("2.5");
  await page.getByLabel("Stop loss, unit").selectOption("multiple of");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Sweep" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByText("Vary the run itself").click();
  await dialog.getByLabel("Instrument", { exact: true }).check();
  for (const symbol of ["TIDE", "AUKL", "PUFN", "GANN", "XSC/ORM"]) await dialog.getByLabel(symbol, { exact: true }).uncheck();
  await dialog.getByLabel(/^Kit stop/).check();
  await dialog.getByLabel("Conditions and links between inputs").fill("kit.stop <= span / 10");
  await dialog.getByRole("button", { name: "Add a metric" }).click();
  await dialog.getByRole("button", { name: "Add a condition" }).click();
  await dialog.getByLabel("Condition 1, value").fill("10");
  await dialog.getByLabel("Method").selectOption("Coarse to fine");
  await dialog.getByLabel("Variants at most").fill("60");
  await expect(dialog.getByTestId("estimate")).toContainText(/60 variants at most, of [\d,]+, about .* of memory/, { timeout: 30_000 });
  await dialog.getByRole("button", { name: "Start" }).click();
  await expect(page.getByTestId("sweep-state")).toContainText("complete", { timeout: 60_000 });
  await expect(page.getByText(/aiming at Net over drawdown 50\s% \+ Net profit 50\s%, with Trades at least 10/)).toBeVisible();

  // The best of each instrument, and a filter over figures.
  const grid = page.getByRole("grid", { name: "Variants" });
  await page.getByLabel("Best for each").selectOption("Instrument");
  await expect(grid).toHaveAttribute("aria-rowcount", "2");
  await page.getByLabel("Best for each").selectOption("");
  await page.getByLabel("Only").fill("trades >= 10, out.speed > 0");
  await expect(page.getByText(/no input "out.speed"/)).toBeVisible();
  await page.getByLabel("Only").fill("trades >= 10");
  await expect(page.getByText(/no input/)).toBeHidden();

  await page.getByRole("tab", { name: "Surface" }).click();
  await page.getByLabel("Side by side").selectOption("Instrument");
  await expect(page.getByRole("table", { name: "Net over drawdown by Channel span and Kit stop" })).toHaveCount(2);
  await page.getByRole("tab", { name: "Table" }).click();
  await grid.getByRole("row").nth(3).click();
  await page.getByRole("button", { name: "Keep as variant" }).click();
  const [, name, symbol] = /“(.*Instrument ([^\s,]+).*)”/.exec((await page.getByText(/is a variant of the plan now/).textContent()) ?? "")!;
  await page.getByRole("button", { name: "Open out-of-sample run" }).click();
  await expect(page).toHaveURL(/\/runs\//, { timeout: 30_000 });

  // On the Bench it brings the instrument that it was found on.
  await page.goto("/plans/brine-base-entry");
  await page.getByRole("button", { name: /^Instrument: / }).click();
  await page.getByRole("button", { name: /^TIDE/ }).click();
  await expect(page.getByRole("button", { name: "Instrument: TIDE" })).toBeVisible();
  await page.getByLabel("Variant", { exact: true }).selectOption(name!);
  await expect(page.getByRole("button", { name: `Instrument: ${symbol}` })).toBeVisible();
});

// These are last, since they end the server that the others use.
test("a sweep is estimated, paused, cut off by the end of the server, and goes on to its end", async ({ page }) => {
  test.setTimeout(240_000);
  await page.goto("/plans/brine-cross");
  await page.getByRole("button", { name: "Sweep" }).click();
  const dialog = page.getByRole("dialog");
  for (const [name, values] of [
    ["Fast average", ["5", "60", "1"]],
    ["Slow average", ["20", "120", "2"]],
  ] as const)
    for (const [k, part] of ["from", "to", "step"].entries()) await dialog.getByLabel(`${name}, ${part}`).fill(values[k]!);
  await dialog.getByLabel("Conditions and links between inputs").fill("fast < slow");
  await dialog.getByLabel("Method").selectOption("Spread evenly");
  await dialog.getByLabel("Variants at most").fill("2000");
  await expect(dialog.getByTestId("estimate")).toContainText(/[\d,]+ variants.*, about .* on \d+ cores, .* of memory/);
  await dialog.getByLabel("Conditions and links between inputs").fill("fast < speed");
  await expect(dialog.getByText(/has no input "speed"/)).toBeVisible();
  await dialog.getByLabel("Conditions and links between inputs").fill("fast < slow");
  await dialog.getByRole("button", { name: "Start" }).click();
  await page.getByRole("button", { name: "Pause" }).click();
  await expect(page.getByTestId("sweep-state")).toContainText("paused");
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByRole("button", { name: "Pause" })).toBeVisible();
  await restartServer(page);
  await page.reload();
  await expect(page.getByTestId("sweep-state")).toContainText("complete", { timeout: 120_000 });
  await expect(page.getByTestId("sweep-state")).not.toContainText("failed");

  // Looked at from every side.
  await page.getByRole("tab", { name: "Surface" }).click();
  await expect(page.getByRole("button", { name: /Fast average \d+, Slow average \d+/ }).first()).toBeVisible();
  await page.getByRole("tab", { name: "Effects" }).click();
  await expect(page.getByRole("table", { name: /by Fast average/ })).toBeVisible();
  await page.getByRole("tab", { name: "In against out" }).click();
  await expect(page.getByText(/Rank correlation/)).toBeVisible();
  await page.getByRole("tab", { name: "Parallel" }).click();
  await page.getByLabel("Trades, from").fill("40");
  await expect(page.getByText(/variants within the bounds/)).toBeVisible();
  await page.getByRole("tab", { name: "Overfitting" }).click();
  await expect(page.getByText(/Probability of overfitting \d+\s%/)).toBeVisible({ timeout: 60_000 });

  // Three candidates, unchanged, on the later stretch.
  await page.getByRole("tab", { name: "Plateau" }).click();
  for (const row of [1, 2, 3]) {
    await page.getByRole("row").nth(row).getByRole("button").click();
    await page.getByRole("button", { name: "Pick to compare" }).click();
  }
  await page.getByRole("button", { name: "Compare 3 picked, out-of-sample" }).click();
  await expect(page.getByRole("columnheader", { name: /Fast average/ })).toHaveCount(3, { timeout: 30_000 });
});

async function toTheEnd(page: Page): Promise<void> {
  await expect(page.getByTestId("luck-state")).toContainText("complete · 19 markets", { timeout: 150_000 });
}

test("on KELP: the luck test is paused, survives the end of the server, and the verdict is read", async ({ page }) => {
  test.setTimeout(300_000);
  await page.goto("/sweeps");
  await page
    .getByRole("link", { name: /Kelp ebb fade/ })
    .first()
    .click();
  await page.getByRole("tab", { name: "Trust" }).click();
  await expect(page.getByTestId("sweep-verdict")).toContainText("Not decided", { timeout: 60_000 });
  await page.getByRole("button", { name: "Run the luck test on 19 markets" }).click();
  await expect(page.getByTestId("luck-progress")).toContainText(/market [3-9] of 19/, { timeout: 60_000 });
  await page.getByRole("button", { name: "Pause" }).click();
  await expect(page.getByTestId("luck-state")).toContainText("paused");
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByTestId("luck-progress")).toBeVisible();
  await restartServer(page);
  await page.reload();
  await page.getByRole("tab", { name: "Trust" }).click();
  await toTheEnd(page);
  await expect(page.getByTestId("sweep-verdict")).toContainText(/^(For|Open|Against)/);
  await expect(page.getByRole("region", { name: "Luck test" })).toContainText(/In 19 markets .* Luck alone finds about/);
  await expect(page.getByTestId("ratio-to-expect")).toContainText(/best ratio [\d.]+, of which luck finds [\d.−]+: expect/);
  const [report] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Printable report" }).click()]);
  expect(report.suggestedFilename()).toMatch(/^Sweep of Kelp ebb fade report\.html$/);
});

test("on GANN, where there is nothing to find, a search is not believed", async ({ page }) => {
  test.setTimeout(240_000);
  const { settings, source } = await (await page.request.get("/api/plans/brine-cross")).json();
  const made = await page.request.post("/api/sweeps", {
    data: {
      ...{ planId: "brine-cross", source, inputs: {}, outOfSample: null, aim: "sharpe", constraints: ["fast < slow"], search: null },
      settings: { ...settings, symbol: "GANN", timeframe: "1h", from: "2023-03-01", to: "2024-02-29" },
      ranges: [
        { input: "fast", from: 8, to: 32, step: 8 },
        { input: "slow", from: 40, to: 120, step: 20 },
      ],
    },
  });
  expect(made.ok()).toBe(true);
  await page.goto(`/sweeps/${(await made.json()).id}`);
  await expect(page.getByTestId("sweep-state")).toContainText("complete", { timeout: 60_000 });
  await page.getByRole("tab", { name: "Trust" }).click();
  await page.getByRole("button", { name: "Run the luck test on 19 markets" }).click();
  await toTheEnd(page);
  await expect(page.getByTestId("sweep-verdict")).toContainText(/^(Open|Against)/);
});
