/** A watch as it lives: begun from a kept run, heard of by mail and web call, cut off and back, given a new version, compared with its backtest; at 960 px. */
import { expect, type Page, test } from "@playwright/test";
import { netOf, untilMarketIsOpen, write } from "./steps.ts";

test.use({ viewport: { width: 960, height: 800 }, actionTimeout: 20_000 });
test.setTimeout(180_000);

const source = (tag: string): string => `export default plan({
  title: "Drifter",
  inputs: { held: whole(3, { min: 1, max: 60, label: "Hold for" }) },
  build({ on, enter, position, inputs, bars, show }) {
    show(sma(bars.close, 20), { label: "Mean" });
    on.barClose(() => {
      if (position.flat) enter.long({ stopLoss: ticks(4000), tag: "${tag}" });
      else if (position.barsHeld >= inputs.held) position.close("enough");
    });
  },
});
`;

/** Through channels to the practice inbox: the venue's ports follow the server's. */
async function setUpAlerts(page: Page): Promise<void> {
  await page.goto("/watches/alerts");
  await page.getByLabel("Web calls may go to this machine").check();
  await page.getByRole("button", { name: "Add a web call" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Address").fill("http://127.0.0.1:4392/inbox/calls/desk");
  await dialog.getByLabel("Secret of the signature").fill("tide");
  await dialog.getByRole("button", { name: "Preview" }).click();
  await expect(dialog.getByRole("region", { name: "Preview" })).toContainText('"text"');
  await dialog.getByRole("button", { name: "Save the channel" }).click();
  await expect(page.getByRole("cell", { name: "••••••" })).toBeVisible();
  await page.getByRole("button", { name: "Add an e-mail" }).click();
  await dialog.getByLabel("Port").fill("4393");
  await dialog.getByRole("button", { name: "Save the channel" }).click();
  await expect(page.getByRole("cell", { name: /me@localhost by 127.0.0.1:4393/ })).toBeVisible();
  await page.getByRole("button", { name: "Add a rule" }).click();
  const channels = page.getByRole("button", { name: "Channels: On screen" }).last();
  await channels.click();
  await page.getByRole("checkbox", { name: "Mail", exact: true }).check();
  await page.getByRole("checkbox", { name: "Web call", exact: true }).check();
  await page.keyboard.press("Escape");
  await page.getByRole("row", { name: /Mail/ }).getByRole("button", { name: "Send a test" }).click();
  await expect(page.getByText(/Mail took the test/)).toBeVisible();
}

test("from a kept run to a watch: alerts, a fault and its recovery, a new version, drift", async ({ page }) => {
  await setUpAlerts(page);
  await untilMarketIsOpen(page);

  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await write(page, source("one"));
  await expect(page.getByRole("heading", { name: "Drifter" })).toBeVisible();
  await page.getByRole("button", { name: /Timeframe: 15 min/ }).click();
  await page.getByRole("button", { name: "1 min", exact: true }).click();
  const bench = page.url();
  await page.keyboard.press("Control+Enter");
  await expect(netOf(page)).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press("Control+s");
  await page.getByRole("dialog").getByRole("button", { name: "Keep", exact: true }).click();
  await page.getByRole("link", { name: "Runs" }).click();
  await page
    .getByRole("link", { name: /Drifter/ })
    .first()
    .click();
  await page.getByRole("button", { name: "More" }).click();
  await page.getByRole("menuitem", { name: /Watch this run/ }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Name").fill("Drifter live");
  await dialog.getByLabel("Units of each entry").fill("2");
  await dialog.getByRole("button", { name: "Start watching" }).click();
  await expect(page.getByRole("heading", { name: /Drifter live/ })).toBeVisible();
  const watch = page.url();
  await page.getByRole("button", { name: "60×", exact: true }).click();
  await expect(page.getByLabel(/Live price of/)).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/bought 2/).first()).toBeVisible({ timeout: 40_000 });

  // The line is cut with something open, and is there again.
  await page.getByRole("link", { name: "Faults" }).click();
  await page.getByLabel("Break the line, s").fill("2");
  await page.getByRole("form", { name: "Break the line" }).getByRole("button", { name: "Set" }).click();
  await page.goto(watch);
  await expect(page.getByText(/connected again/).first()).toBeVisible({ timeout: 20_000 });

  // A new version is taken when nothing is open; then other inputs at once.
  await page.goto(bench);
  await write(page, source("two"));
  await expect(page.getByText(/draft saved|saved/).first()).toBeVisible();
  await page.goto(watch);
  const changed = page.getByRole("region", { name: "The plan was changed" });
  await expect(changed).toContainText("source", { timeout: 20_000 });
  await changed
    .getByRole("button", { name: /When nothing is open|Take it now/ })
    .first()
    .click();
  await expect(page.getByText(/a new version runs from here on/).first()).toBeVisible({ timeout: 40_000 });
  await page.getByRole("button", { name: "Inputs", exact: true }).click();
  await page.getByRole("dialog").getByLabel("Hold for").fill("5");
  await page.getByRole("button", { name: "Take them now" }).click();
  await expect(page.getByText(/held 3 → 5/).first()).toBeVisible({ timeout: 20_000 });

  await page.getByRole("tab", { name: "Drift" }).click();
  await expect(page.getByRole("region", { name: "Drift" })).toContainText(/connection|lag|other version|earlier difference/, {
    timeout: 40_000,
  });

  // What it did is kept as a run, beside the backtest of the same bars.
  await page.getByRole("button", { name: "Open as run" }).click();
  await expect(page.getByRole("heading", { name: /Drifter live.*, as it went/ })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("tab", { name: /^Trades [1-9]/ })).toBeVisible();
  await page.getByRole("link", { name: "Compare with the backtest of the same bars" }).click();
  await expect(page.getByRole("columnheader", { name: /backtest/ })).toBeVisible();

  await page.goto("/watches/alerts?tab=inbox");
  await expect(page.getByRole("region", { name: "Mails" })).toContainText("Drifter live: filled", { timeout: 20_000 });
  await expect(page.getByRole("region", { name: "Web calls" })).toContainText("POST /inbox/calls/desk");
  await page.getByRole("tab", { name: "Outcomes" }).click();
  await expect(page.getByRole("cell", { name: "sent" }).first()).toBeVisible();

  // Nothing is told any more: what comes after this is not about alerts.
  await page.getByRole("tab", { name: "Rules and channels" }).click();
  await page.getByRole("checkbox", { name: "The rule is on" }).last().uncheck();
  await page.getByRole("link", { name: "Watches" }).click();
  await expect(page.getByRole("button", { name: /^Stop everything/ })).toBeEnabled();
  await page.keyboard.press("Alt+Shift+S");
  await page.getByRole("dialog").getByRole("button", { name: "Stop everything" }).click();
  await expect(page.getByRole("row", { name: /Drifter live/ })).toContainText("ended", { timeout: 20_000 });
  await page.getByRole("button", { name: "1×", exact: true }).click();
});
