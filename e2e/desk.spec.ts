/** The desk and its watches as their user has them: asked first, answered, let lapse, paused, stopped, all of them at once; at 960 px too. */
import { expect, type Page, test } from "@playwright/test";
import { editorOf, untilMarketIsOpen, write } from "./steps.ts";

test.use({ viewport: { width: 960, height: 800 } });

const SOURCE = `export default plan({
  title: "Asker",
  build({ on, enter, position }) {
    let bars = 0;
    on.barClose(() => {
      if (position.flat && bars++ % 3 === 0) enter.long({ stopLoss: ticks(400), tag: "ask" });
      if (position.barsHeld > 2) position.close("enough");
    });
  },
});
`;

async function watch(page: Page, name: string, mode: string): Promise<void> {
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/What to do/).fill("watch");
  await page.getByRole("option", { name: /Set this plan to watch/ }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Name").fill(name);
  await dialog.getByLabel("Mode").selectOption(mode);
  await dialog.getByRole("button", { name: "Start watching" }).click();
  await expect(page.getByRole("heading", { name: new RegExp(name) })).toBeVisible();
}

test("two watches of one plan: one asks first, is accepted, declined and let lapse; the other acts; everything is stopped", async ({
  page,
}) => {
  await untilMarketIsOpen(page);
  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await write(page, SOURCE);
  await expect(page.getByRole("heading", { name: "Asker" })).toBeVisible();
  await page.getByRole("button", { name: /Timeframe: 15 min/ }).click();
  await page.getByRole("button", { name: "1 min", exact: true }).click();
  const bench = page.url();
  await watch(page, "Asker first", "ask first");
  await page.getByRole("button", { name: "60×", exact: true }).click();

  const asked = page.getByRole("region", { name: "Waiting for you" });
  await expect(asked).toContainText("buy 1", { timeout: 40_000 });
  await expect(page).toHaveTitle(/^\(\d\) /);
  await expect(asked).toContainText("is not sent");
  await asked
    .getByRole("button", { name: /Decline/ })
    .first()
    .click();
  await expect(page.getByText(/order \d+ declined/).first()).toBeVisible({ timeout: 20_000 });

  await expect(asked).toContainText("buy 1", { timeout: 40_000 });
  // A key counts once the prompt has been there to be read; late, it takes a second one.
  await expect(async () => {
    await page.keyboard.press("Alt+a");
    await expect(page.getByText(/order \d+ accepted/).first()).toBeVisible({ timeout: 1000 });
  }).toPass({ timeout: 20_000 });
  await expect(page.getByText(/bought 1/).first()).toBeVisible({ timeout: 20_000 });

  await page.goto(bench);
  await expect(editorOf(page)).toBeVisible({ timeout: 20_000 });
  await watch(page, "Asker alone", "automatic");
  await page.getByRole("button", { name: "600×" }).click();
  await expect(page.getByText(/bought 1/).first()).toBeVisible({ timeout: 40_000 });
  await page.getByRole("button", { name: "Pause" }).click();
  await expect(page.getByText("paused: no new entries, exits go on")).toBeVisible();

  await page.getByRole("link", { name: "Watches" }).click();
  await page
    .getByRole("row", { name: /Asker first/ })
    .getByText("Asker first")
    .click();
  await page.getByPlaceholder("Search").fill("lapsed");
  await expect(page.getByText(/lapsed: nobody answered/).first()).toBeVisible();

  await page.getByRole("link", { name: "Watches" }).click();
  await expect(page.getByRole("button", { name: /^Stop everything/ })).toBeEnabled();
  await page.keyboard.press("Alt+Shift+S");
  await page.getByRole("dialog").getByRole("button", { name: "Stop everything" }).click();
  for (const name of ["Asker first", "Asker alone"])
    await expect(page.getByRole("row", { name: new RegExp(name) })).toContainText("ended", { timeout: 20_000 });
  await page
    .getByRole("row", { name: /Asker first/ })
    .getByText("Asker first")
    .click();
  await page.getByRole("button", { name: "1×", exact: true }).click();
});
