/** The editor as a person uses it: key by key, on slow machines, with a server that comes and goes. */
import { expect, type Page, test } from "@playwright/test";
import { editorOf, intoEditor, write } from "./steps.ts";

const LINES = ["const lantern = 17;", "const harbour = lantern + 4;", "const gull = harbour - lantern;"];

async function newPlan(page: Page): Promise<void> {
  await page.goto("/plans");
  await page.getByRole("button", { name: "New plan", exact: true }).click();
  await expect(page.getByText("Not run yet")).toBeVisible();
  await intoEditor(page);
}

/** The source as the server has it. */
const savedSource = async (page: Page): Promise<string> => {
  const id = new URL(page.url()).pathname.split("/").at(-1)!;
  return ((await (await page.request.get(`/api/plans/${id}`)).json()) as { source: string }).source;
};

for (const delay of [15, 120])
  test(`typing at ${delay} ms a key on a slow machine stays as it was typed`, async ({ page }) => {
    await newPlan(page);
    const session = await page.context().newCDPSession(page);
    await session.send("Emulation.setCPUThrottlingRate", { rate: 4 });
    await page.keyboard.press("Control+Home");
    for (const line of LINES) {
      // Completion must not take the Enter.
      await page.keyboard.type(line, { delay });
      await page.keyboard.press("Escape");
      await page.keyboard.press("Enter");
    }
    await session.send("Emulation.setCPUThrottlingRate", { rate: 1 });
    await expect(page.getByText("draft saved")).toBeVisible();
    const source = await savedSource(page);
    expect(source.startsWith(`${LINES.join("\n")}\n`), source.slice(0, 200)).toBe(true);
  });

test("what was typed a moment before leaving is there on coming back, and undo still works", async ({ page }) => {
  await newPlan(page);
  const address = page.url();
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("// tide");
  await page.getByRole("link", { name: "Runs" }).click();
  await page.waitForURL("**/runs");
  await page.goBack();
  await expect(editorOf(page)).toContainText("// tide");
  await intoEditor(page);
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("/* ebb */");
  // Leaving the app altogether, at once.
  await page.goto("about:blank");
  await page.goto(address);
  await expect(editorOf(page)).toContainText("/* ebb */// tide");
});

test("mistakes are told in the plan's words, one after the other by F8", async ({ page }) => {
  await newPlan(page);
  await write(
    page,
    `export default plan({
  title: "Slips",
  build({ bars, enter, when }) {
    const mean = ema(bars, 20);
    when(isAbove(bars.close, 3), () => enter.long({ stopLoss: 40 }));
  },
});
`,
  );
  await expect(page.locator(".squiggly-error").first()).toBeVisible();
  await page.keyboard.press("Control+Home");
  const told = ["Take one of its columns: bars.close.", "The moment at which it begins is becomes(…)", "Give it its unit: ticks(40)"];
  for (const words of told) {
    await page.keyboard.press("F8");
    await expect(page.locator(".marker-widget")).toContainText(words);
  }
});

test("a server that is down gets the draft when it answers again", async ({ page }) => {
  await newPlan(page);
  const pattern = /\/api\/plans\/[^/]+$/;
  await page.route(pattern, (route) => (route.request().method() === "PATCH" ? route.abort() : route.continue()));
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("// kept");
  await expect(page.getByText(/kept in this browser/)).toBeVisible();
  await page.getByRole("link", { name: "Runs" }).click();
  await page.waitForURL("**/runs");
  await page.goBack();
  await expect(editorOf(page)).toContainText("// kept");
  expect(await savedSource(page)).not.toContain("// kept");
  await page.unroute(pattern);
  await expect(page.getByText("draft saved")).toBeVisible({ timeout: 30_000 });
  expect(await savedSource(page)).toContain("// kept");
});

test("two tabs: one follows the other's save; where both have typed, both texts are shown and neither is lost", async ({
  page,
  context,
}) => {
  await newPlan(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await intoEditor(other);
  await page.keyboard.press("Control+Home");
  await page.keyboard.type("// tide\n");
  await expect(page.getByText("draft saved")).toBeVisible();
  await expect(editorOf(other)).toContainText("// tide");

  // The other's save does not get through while this one's does.
  const pattern = /\/api\/plans\/[^/]+$/;
  await other.route(pattern, (route) => (route.request().method() === "PATCH" ? route.abort() : route.continue()));
  await intoEditor(other);
  await other.keyboard.press("Control+Home");
  await other.keyboard.type("// gull\n");
  await expect(other.getByText(/kept in this browser/)).toBeVisible();
  await page.keyboard.type("// heron\n");
  await expect(page.getByText("draft saved")).toBeVisible();
  await other.unroute(pattern);

  const dialog = other.getByRole("dialog", { name: "This plan was saved elsewhere" });
  await expect(dialog).toBeVisible({ timeout: 30_000 });
  await expect(dialog).toContainText("// heron");
  await expect(dialog).toContainText("// gull");
  await dialog.getByRole("button", { name: "Save the text of this Bench" }).click();
  await expect(other.getByText("draft saved")).toBeVisible();
  await expect(editorOf(page)).toContainText("// gull");
  const id = new URL(page.url()).pathname.split("/").at(-1)!;
  const versions = (await (await page.request.get(`/api/plans/${id}/versions`)).json()) as { id: string }[];
  const texts = await Promise.all(
    versions.map(async (version) => ((await (await page.request.get(`/api/versions/${version.id}`)).json()) as { source: string }).source),
  );
  expect(texts.some((text) => text.startsWith("// tide\n// heron"))).toBe(true);
  expect(texts.some((text) => text.startsWith("// gull\n// tide"))).toBe(true);
  await other.close();
});
