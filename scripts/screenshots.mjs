// npm run screenshots [names]: one picture of each main view, from the demo data of a running server, into docs/screenshots.
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { ensureChromium, root } from "./shared.mjs";

const base = `http://localhost:${process.env.PLAN_TESTER_PORT ?? 4177}`;
const wanted = process.argv.slice(2);
const docs = join(root, "docs");
for (const folder of ["screenshots", "rule-sheets"]) mkdirSync(join(docs, folder), { recursive: true });
const browser = await chromium.launch({
  executablePath: ensureChromium(),
  args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
});

/**
 * @param {(page: import("@playwright/test").Page) => Promise<unknown>} [act] what is done on the page before the picture is taken
 * @param {(page: import("@playwright/test").Page) => import("@playwright/test").Locator} [part] what the picture shows, instead of the view
 */
async function picture(name, path, act = async (_page) => undefined, theme = "paper", part = undefined) {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await context.addInitScript((value) => localStorage.setItem("theme", value), theme);
  const page = await context.newPage();
  const answer = await page.goto(base + path);
  if (!answer?.ok()) throw new Error(`${base}${path} answered ${answer?.status()}: is the server ready?`);
  await page.waitForTimeout(3500);
  await act(page);
  await page.waitForTimeout(700);
  await (part ? part(page) : page).screenshot({ path: join(docs, name.includes("/") ? "" : "screenshots", `${name}.png`) });
  await context.close();
}

const first = async (path) => (await (await fetch(base + path)).json())[0]?.id;
await picture("bench", "/plans/kelp-ebb-fade");
await picture("chart", "/plans/kelp-ebb-fade?tab=chart", async (page) => page.getByRole("button", { name: "Trade ›" }).click());
await picture("trades", "/plans/brine-channel?tab=trades");
await picture("exit-kit", "/plans/brine-base-entry", async (page) => {
  await page.getByRole("button", { name: /^Exit kit/ }).click();
  const ofLibrary = page.getByRole("button", { name: "Stop scaled by range", exact: true });
  if (await ofLibrary.isVisible()) await ofLibrary.click();
  await page.getByLabel("Stop loss", { exact: true }).fill("2.5");
  await page.getByLabel("Target", { exact: true }).fill("2");
  await page.getByLabel("Target, unit").selectOption("R");
  if (!(await page.getByLabel("Lock 1 keeps", { exact: true }).isVisible())) await page.getByRole("button", { name: "Add a lock" }).click();
});
await picture("line-evidence", "/plans/worded-rules", async (page) => {
  await page.getByRole("button", { name: "Lines", exact: true }).click();
  await page.getByTestId("editor").click();
  await page.keyboard.press("Control+End");
  await page.waitForTimeout(1500);
});
await picture("market", "/markets/BRIN", async (page) => {
  const studies = ["ema(close, 20)", "ema(close, 50) on 1d", "rsi(close, 14)", "close > ema(close, 20)"];
  await page.evaluate((text) => localStorage.setItem("market studies", text), studies.join("\n"));
  await page.reload();
  await page.getByRole("button", { name: "Remove rsi(close, 14)" }).waitFor();
  await page.waitForTimeout(2000);
  await page.getByRole("button", { name: "Mark long" }).click();
  const box = await page.getByLabel(/^Price of BRIN/).boundingBox();
  if (!box) throw new Error("The chart is not there.");
  const { x, y, width, height } = box;
  await page.mouse.move(x + width * 0.66, y + height * 0.34);
  await page.mouse.down();
  await page.mouse.move(x + width * 0.84, y + height * 0.14, { steps: 4 });
  await page.mouse.up();
  await page.getByRole("heading", { name: "1 mark" }).waitFor();
});
await picture("plans", "/plans");
await picture("markets", "/markets");
await picture("rule-sheet", "/plans/puffin-dip-sheet", async (page) =>
  page
    .getByText(/begins [\d,]+ times/)
    .first()
    .waitFor(),
);
/** @param {import("@playwright/test").Page} page */
const sheetOf = (page) => page.getByRole("tablist", { name: "Rule sheet" }).locator("xpath=../..");
/** @param {import("@playwright/test").Page} page */
const hasEvidence = (page) =>
  page
    .getByText(/begins [\d,]+ times/)
    .first()
    .waitFor();
await picture(
  "rule-sheets/typing",
  "/plans/puffin-dip-sheet",
  async (page) => {
    await hasEvidence(page);
    const line = page.getByRole("combobox", { name: "Add a rule: Long entry" });
    await line.pressSequentially("the RSI (14) of close on 1h crosses ", { delay: 30 });
  },
  "paper",
  sheetOf,
);
await picture(
  "rule-sheets/word",
  "/plans/puffin-dip-sheet",
  async (page) => {
    await hasEvidence(page);
    await page
      .getByRole("button", { name: /^Number/ })
      .first()
      .click();
  },
  "paper",
  sheetOf,
);
await picture(
  "rule-sheets/in-words",
  "/plans/puffin-dip-sheet",
  async (page) => page.getByRole("tab", { name: "In words" }).click(),
  "paper",
  sheetOf,
);
await picture(
  "rule-sheets/by-rule",
  "/plans/puffin-dip-sheet?tab=rules",
  async (page) => {
    await page
      .getByRole("button", { name: /placebos/ })
      .first()
      .click();
    await page.getByRole("progressbar").waitFor();
    await page.getByRole("progressbar").waitFor({ state: "hidden", timeout: 120_000 });
  },
  "paper",
  (page) => page.getByTestId("evidence"),
);
await picture("runs", "/runs");
const sweep = await first("/api/sweeps");
await picture("sweep", `/sweeps/${sweep}`, async (page) => page.getByRole("grid", { name: "Variants" }).getByRole("row").nth(2).click());
await picture("sweep-trust", `/sweeps/${sweep}`, async (page) => {
  await page.getByRole("tab", { name: "Trust" }).click();
  const begin = page.getByRole("button", { name: "Run the luck test on 19 markets" });
  await page.getByTestId("sweep-verdict").waitFor();
  if (await begin.isVisible()) await begin.click();
  await page.getByTestId("luck-state").filter({ hasText: "complete" }).waitFor({ timeout: 240_000 });
});
await picture("stepper", "/plans/kelp-ebb-fade?tab=chart", async (page) => {
  await page.getByRole("button", { name: "Conditions", exact: true }).click();
  await page.getByRole("button", { name: "Step", exact: true }).click();
  await page.getByLabel("What a step goes to").selectOption("trade");
  for (let k = 0; k < 3; k++) await page.keyboard.press("Alt+ArrowRight");
  await page.waitForTimeout(1500);
});
await picture("blend", "/blends/four-of-the-isles", async (page) => page.getByText(/be ready for \d/).waitFor());
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
