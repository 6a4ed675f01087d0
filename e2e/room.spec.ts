/** Small windows and large letters: nothing is out of reach, panes stand one below the other, and keep the sizes one gave them. */
import { expect, type Page, test } from "@playwright/test";

/** 1280 x 800 at 200 %. */
const ZOOMED = { width: 640, height: 400 };
const PAGES = [
  "/plans",
  "/markets",
  "/runs",
  "/sweeps",
  "/blends",
  "/blends/four-of-the-isles",
  "/watches",
  "/sources",
  "/markets/BRIN?as=hours",
  "/storage",
  "/plans/kelp-ebb-fade",
];

/** How far the page itself can be pushed sideways, pixels. */
const overhang = (page: Page): Promise<number> =>
  page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);

test("at 200 % no page has to be pushed sideways, and its head can be used", async ({ page }) => {
  await page.setViewportSize(ZOOMED);
  for (const path of PAGES) {
    await page.goto(path);
    await expect(page.getByRole("navigation", { name: "Main" })).toBeVisible();
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    expect(await overhang(page), path).toBe(0);
    for (const name of ["Watches", "Help"]) {
      const box = (await page.getByText(name, { exact: true }).first().boundingBox())!;
      expect(box.x + box.width, `${name} on ${path}`).toBeLessThanOrEqual(ZOOMED.width);
    }
  }
});

test("below 900 pixels the Bench puts evidence under the source, and both can be scrolled to", async ({ page }) => {
  await page.setViewportSize({ width: 880, height: 700 });
  await page.goto("/plans/kelp-ebb-fade");
  const editor = page.getByRole("code").first();
  const tabs = page.getByRole("tab", { name: "Summary" });
  await expect(editor).toBeVisible();
  await expect(tabs).toBeVisible();
  const [source, evidence] = [(await editor.boundingBox())!, (await tabs.boundingBox())!];
  expect(evidence.y).toBeGreaterThan(source.y + source.height - 1);
  await tabs.scrollIntoViewIfNeeded();
  await expect(tabs).toBeInViewport();
});

test("panes keep the sizes that they were given", async ({ page }) => {
  await page.goto("/plans/kelp-ebb-fade");
  const tabs = page.getByRole("tab", { name: "Summary" });
  await expect(tabs).toBeVisible();
  const before = (await tabs.boundingBox())!.x;
  const handle = page.getByRole("separator").last();
  const grip = (await handle.boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + 100);
  await page.mouse.down();
  await page.mouse.move(grip.x + 160, grip.y + 100, { steps: 8 });
  await page.mouse.up();
  const moved = (await tabs.boundingBox())!.x;
  expect(moved).toBeGreaterThan(before + 100);
  await page.waitForTimeout(300);
  await page.reload();
  await expect(tabs).toBeVisible();
  await expect.poll(async () => Math.abs((await tabs.boundingBox())!.x - moved)).toBeLessThan(8);
});

test("with the system's own colours the chosen page and tab stand out", async ({ page }) => {
  await page.emulateMedia({ forcedColors: "active" });
  await page.goto("/plans/kelp-ebb-fade");
  const groundOf = (name: string) => page.getByRole("tab", { name }).evaluate((tab) => getComputedStyle(tab).backgroundColor);
  await expect(page.getByRole("tab", { name: "Summary" })).toBeVisible();
  expect(await groundOf("Summary")).not.toBe(await groundOf("Trades"));
  const linkGround = (name: string) =>
    page.getByRole("link", { name, exact: true }).evaluate((link) => getComputedStyle(link).backgroundColor);
  expect(await linkGround("Plans")).not.toBe(await linkGround("Runs"));
});
