// npm run screenshots [names]: one picture of each main view, from the demo data of a running server, into docs/screenshots.
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { ensureChromium, root } from "./shared.mjs";

const base = `http://localhost:${process.env.PLAN_TESTER_PORT ?? 4177}`;
const wanted = process.argv.slice(2);
const out = join(root, "docs", "screenshots");
mkdirSync(out, { recursive: true });
const browser = await chromium.launch({
  executablePath: ensureChromium(),
  args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
});

/** @param {(page: import("@playwright/test").Page) => Promise<unknown>} [act] what is done on the page before the picture is taken */
async function picture(name, path, act = async (_page) => undefined, theme = "paper") {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.addInitScript((value) => localStorage.setItem("theme", value), theme);
  const page = await context.newPage();
  await page.goto(base + path);
  await page.waitForTimeout(3500);
  await act(page);
  await page.waitForTimeout(700);
  await page.screenshot({ path: join(out, `${name}.png`) });
  await context.close();
}

const first = async (path) => (await (await fetch(base + path)).json())[0]?.id;
await picture("bench", "/plans/kelp-ebb-fade");
await picture("chart", "/plans/kelp-ebb-fade?tab=chart", async (page) => page.getByRole("button", { name: "Trade ›" }).click());
await picture("trades", "/plans/brine-channel?tab=trades");
await picture("exit-kit", "/plans/brine-base-entry", async (page) => {
  await page.getByRole("button", { name: /^Exit kit/ }).click();
  if (await page.getByRole("button", { name: "New kit" }).isVisible()) await page.getByRole("button", { name: "New kit" }).click();
  await page.getByLabel("Stop loss", { exact: true }).fill("2.5");
  await page.getByLabel("Stop loss, unit").selectOption("multiple of");
});
await picture("line-evidence", "/plans/worded-rules", async (page) => {
  await page.getByRole("button", { name: "Lines", exact: true }).click();
  await page.getByTestId("editor").click();
  await page.keyboard.press("Control+End");
  await page.waitForTimeout(1500);
});
await picture("market", "/markets/BRIN");
await picture("plans", "/plans");
await picture("markets", "/markets");
await picture("rule-sheet", "/plans/puffin-dip-sheet", async (page) =>
  page
    .getByText(/begins [\d,]+ times/)
    .first()
    .waitFor(),
);
await picture("runs", "/runs");
const sweep = await first("/api/sweeps");
await picture("sweep", `/sweeps/${sweep}`, async (page) => page.getByRole("grid", { name: "Variants" }).getByRole("row").nth(2).click());
await picture("surface", `/sweeps/${sweep}`, async (page) => page.getByRole("tab", { name: "Surface" }).click());
await picture("stepper", "/plans/kelp-ebb-fade?tab=chart", async (page) => {
  await page.getByRole("button", { name: "Conditions", exact: true }).click();
  await page.getByRole("button", { name: "Step", exact: true }).click();
  await page.getByLabel("What a step goes to").selectOption("trade");
  for (let k = 0; k < 3; k++) await page.keyboard.press("Alt+ArrowRight");
  await page.waitForTimeout(1500);
});
await picture("what-if", "/plans/kelp-ebb-fade?tab=what-if", async (page) => page.getByLabel("Stop, ticks", { exact: true }).fill("60"));
await picture("compare", "/compare?runs=kelp-ebb-fade-first,kelp-swing-first");
await picture("trust", "/plans/kelp-ebb-fade?tab=trust", async (page) => {
  await page.getByRole("button", { name: /Perturb/ }).click();
  await page.waitForTimeout(4000);
});
const walk = await first("/api/walk-forwards");
if (walk) await picture("walk-forward", `/walk-forwards/${walk}`);
const watch = await first("/api/watches");
if (watch) await picture("watch", `/watches/${watch}`);
await picture("desk", "/watches", undefined, "night");
await browser.close();
