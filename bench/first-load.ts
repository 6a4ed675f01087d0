/**
 * In the real browser: how soon a page is there that was never loaded, beside one that the browser keeps. First content on the
 * list of plans, and on the Bench until a typed letter stands in the editor. Needs the built app.
 */
import type { Browser } from "@playwright/test";
import { openApp } from "./app.ts";
import { median } from "./series.ts";

const ROUNDS = 7;
const { base, page, end } = await openApp();
const browser = page.context().browser() as Browser;

/** Milliseconds from the request: first content, and until the page can be worked with. */
interface Load {
  readonly paint: number;
  readonly ready: number;
}

type Visit = (fresh: Awaited<ReturnType<Browser["newPage"]>>) => Promise<void>;

async function load(path: string, visit: Visit, context: Awaited<ReturnType<Browser["newContext"]>>): Promise<Load> {
  const fresh = await context.newPage();
  const began = performance.now();
  await fresh.goto(base + path, { waitUntil: "commit" });
  await visit(fresh);
  const ready = performance.now() - began;
  const paint = await fresh.evaluate(() => performance.getEntriesByName("first-contentful-paint")[0]?.startTime ?? Number.NaN);
  if (!(paint > 0)) throw new Error(`${path} painted nothing.`);
  await fresh.close();
  return { paint, ready };
}

async function pair(name: string, path: string, visit: Visit): Promise<void> {
  const cold: Load[] = [];
  const warm: Load[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    cold.push(await load(path, visit, context));
    warm.push(await load(path, visit, context));
    await context.close();
  }
  const of = (loads: readonly Load[], what: keyof Load): number => median(loads.map((one) => one[what]));
  console.log(
    `  ${name}: first content ${of(cold, "paint").toFixed(0)} ms, then ${of(warm, "paint").toFixed(0)}; ready ${of(cold, "ready").toFixed(0)} ms, then ${of(warm, "ready").toFixed(0)}`,
  );
  console.log(`bench first-load ${name} ratio ${(of(cold, "ready") / of(warm, "ready")).toFixed(2)}`);
}

await pair("plans", "/plans", async (fresh) => {
  await fresh.getByRole("link", { name: "Brine cross", exact: true }).waitFor();
});
await pair("bench", "/plans/brine-cross", async (fresh) => {
  const editor = fresh.getByTestId("editor").locator(".monaco-editor").first();
  await editor.locator(".view-line").first().waitFor();
  await editor.click({ position: { x: 200, y: 15 } });
  await fresh.keyboard.press("Home");
  await fresh.keyboard.type("q");
  await fresh.waitForFunction(() => [...document.querySelectorAll(".view-line")].some(({ textContent }) => textContent?.startsWith("q")));
  await fresh.keyboard.press("Backspace");
});
await end();
