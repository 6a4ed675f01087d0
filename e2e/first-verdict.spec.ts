/** The tutorial, step by step as it is written: its file, its program, and the words that it tells one to press. */
import { readFileSync } from "node:fs";
import { expect, type Page, test } from "@playwright/test";
import { netOf, write } from "./steps.ts";

const text = readFileSync("docs/tutorial.md", "utf8");
const program = /```ts\n([\s\S]*?)```/.exec(text)![1]!;
/** Each step's heading with its text. */
const steps = new Map(
  text
    .split(/^## /m)
    .slice(1)
    .map((part) => [part.slice(0, part.indexOf("\n")), part] as const),
);

/** What is done at each step. */
const WALK: Readonly<Record<string, (page: Page) => Promise<void>>> = {
  "1. Bring the file in": async (page) => {
    await page.goto("/");
    await page.getByRole("link", { name: "Markets" }).click();
    await page.getByRole("button", { name: "Import bars" }).click();
    await page.getByLabel("File of bars").setInputFiles("docs/tutorial/whelk.csv");
    await expect(page.getByText(/The first bar opens 2024-01-08 09:00/)).toBeVisible();
    await expect(page.getByLabel("Bars of")).toHaveValue("30m");
    await page.getByLabel("Symbol").fill("WHLK");
    await page.getByRole("dialog").getByRole("button", { name: "Import", exact: true }).click();
    await expect(page.getByText("5,280 bars")).toBeVisible();
  },
  "2. Write a plan": async (page) => {
    await page.goto("/plans");
    await page.getByRole("link", { name: "Plans", exact: true }).click();
    await page.getByRole("button", { name: "New plan", exact: true }).click();
    await expect(page.getByText("Not run yet")).toBeVisible();
    await write(page, program);
    await expect(page.getByRole("heading", { name: "Whelk fade" })).toBeVisible();
    await expect(page.getByLabel("Span")).toHaveValue("40");
  },
  "3. Say what to run it on": async (page) => {
    await page.getByRole("button", { name: /^Instrument:/ }).click();
    await page.getByRole("button", { name: /WHLK/ }).click();
    await page.getByRole("button", { name: /^Timeframe:/ }).click();
    await page.getByRole("button", { name: "30 min", exact: true }).click();
    await page.getByRole("button", { name: /^Costs:/ }).click();
    await page.getByLabel("Costs", { exact: true }).selectOption("own");
    await page.getByLabel("Commission per unit and side").fill("1");
    await page.getByLabel("Spread, ticks").fill("1");
    await page.keyboard.press("Escape");
  },
  "4. Run it and read the warnings first": async (page) => {
    await page.keyboard.press("Control+Enter");
    await expect(page.getByTestId("run-state")).toContainText("draft run");
    await expect(netOf(page)).toBeVisible();
    for (const head of ["What it made", "What it cost in pain", "How reliable it is"]) await expect(page.getByText(head)).toBeVisible();
  },
  "5. Look at a trade": async (page) => {
    await page.getByRole("tab", { name: /^Trades/ }).click();
    await page.getByRole("grid", { name: "Trades" }).getByRole("row").nth(2).click();
    await expect(page.getByRole("region", { name: /Price of WHLK/ })).toBeVisible();
    await expect(page.getByText(/Long 1 “fade”/)).toBeVisible();
  },
  "6. Keep some history unseen": async (page) => {
    await page.getByRole("button", { name: /trials?$/ }).click();
    await page.getByLabel("Hold out from").fill("2025-01-01");
    await page.getByRole("button", { name: "Hold it out" }).click();
    await expect(page.getByRole("button", { name: /held out from 1 Jan 2025/ })).toBeVisible();
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+Enter");
    await expect(page.getByText(/reaches into the holdout/).first()).toBeVisible();
    await page.getByRole("button", { name: /^Last day:/ }).click();
    await page.getByLabel("Last session", { exact: true }).fill("2024-12-31");
    await page.keyboard.press("Escape");
    await page.keyboard.press("Control+Enter");
    await expect(page.getByText(/reaches into the holdout/)).toHaveCount(0);
    await page.getByRole("tab", { name: "Summary" }).click();
    await expect(netOf(page)).toBeVisible();
  },
  "7. Try the neighbourhood": async (page) => {
    await page.getByRole("tab", { name: "Summary" }).click();
    await page.getByRole("button", { name: "Sweep" }).click();
    const dialog = page.getByRole("dialog");
    for (const [field, value] of [
      ["Span, from", "20"],
      ["Span, to", "60"],
      ["Span, step", "10"],
      ["Width, from", "1"],
      ["Width, to", "2"],
      ["Width, step", "0.5"],
    ] as const)
      await dialog.getByLabel(field).fill(value);
    await expect(dialog.getByTestId("estimate")).toContainText("15 variants");
    await dialog.getByRole("button", { name: "Start" }).click();
    await expect(page.getByTestId("sweep-state")).toContainText("complete · 15 of 15 variants");
    await page.getByRole("tab", { name: "Surface" }).click();
    await expect(page.getByRole("button", { name: /Span 40, Width 1.5/ })).toBeVisible();
  },
  "8. Doubt it": async (page) => {
    await page.getByRole("tab", { name: "Trust" }).click();
    await page.getByRole("button", { name: "Run the luck test on 19 markets" }).click();
    await expect(page.getByTestId("luck-state")).toContainText("complete", { timeout: 60_000 });
    await expect(page.getByTestId("sweep-verdict")).toContainText(/^(For|Open|Against)/);
    await page.goto("/plans");
    await page.getByRole("link", { name: "Whelk fade", exact: true }).click();
    await page.getByRole("tab", { name: "Trust" }).click();
    await expect(page.getByText("Evidence for")).toBeVisible();
    await expect(page.getByText("Evidence against")).toBeVisible();
  },
  "9. Keep it": async (page) => {
    await page.keyboard.press("Control+s");
    await page.getByLabel("Name").fill("Whelk, first look");
    await page.getByRole("dialog").getByRole("button", { name: "Keep" }).click();
    await expect(page.getByTestId("run-state")).toContainText("Whelk, first look");
  },
};

test("the tutorial can be walked as it is written", async ({ page }) => {
  test.setTimeout(120_000);
  expect([...steps.keys()]).toEqual(Object.keys(WALK));
  for (const [heading, walk] of Object.entries(WALK)) await test.step(heading, () => walk(page));
});

test("whatever a step names in bold is used when it is walked", () => {
  const unused = [...steps].flatMap(([heading, step]) =>
    [...step.replace(program, "").matchAll(/\*\*(.+?)\*\*/g)]
      .map(([, name]) => name!.replace("Ctrl", "Control"))
      .filter((name) => !WALK[heading]!.toString().toLowerCase().includes(name.toLowerCase())),
  );
  expect(unused).toEqual([]);
});

test("every picture of the tutorial is there", () => {
  const pictures = [...text.matchAll(/!\[[^\]]*\]\(([^)]+)\)/g)].map(([, path]) => path!);
  expect(pictures.length).toBeGreaterThan(3);
  for (const path of pictures) expect(readFileSync(`docs/${path}`).length, path).toBeGreaterThan(10_000);
});
