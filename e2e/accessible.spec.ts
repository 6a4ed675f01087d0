/** Every view against the accessibility rules that a program can check (WCAG 2.2 A and AA), in both themes. */
import { AxeBuilder } from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";

/** @param rules only these; null for all of WCAG A and AA. */
async function problemsOf(page: Page, rules: readonly string[] | null): Promise<string[]> {
  const axe = new AxeBuilder({ page })
    // There are no frames to look into, which is what the other mode takes its time for.
    .setLegacyMode(true)
    // The editor is a package of its own.
    .exclude(".monaco-editor")
    // What is in order need not be described.
    .options({ resultTypes: ["violations"] });
  const { violations } = await (rules ? axe.withRules([...rules]) : axe.withTags(TAGS)).analyze();
  return violations.flatMap(({ id, nodes }) =>
    nodes.map((node) => `${id}: ${node.target.join(" ")} · ${node.failureSummary?.split("\n")[1]?.trim()}`),
  );
}

const wear = (page: Page, theme: "paper" | "night"): Promise<void> =>
  page.evaluate((name) => {
    document.documentElement.dataset.theme = name;
  }, theme);

const TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

const BENCH_TABS = ["summary", "chart", "trades", "what-if", "trust", "rules", "size", "periods", "figures", "orders", "log", "tried"];
const VIEWS: readonly (readonly [string, string])[] = [
  ...BENCH_TABS.map((tab) => [`/plans/puffin-dip?tab=${tab}`, "Evidence"] as const),
  ["/plans", "Plans"],
  ["/runs", "Kept runs"],
  ["/runs/puffin-dip-first", "Make current"],
  ["/compare?runs=puffin-dip-first,brine-cross-first", "Net profit"],
  ["/markets", "Markets"],
  ["/markets/KELP", "KELP"],
  ["/markets/BRIN?as=quality", "expected bars"],
  ["/markets/BRIN?as=hours", "What a move is worth"],
  ["/sources", "GANN, each past day of the practice venue"],
  ["/sweeps", "Sweeps"],
  ["/blends", "Blends"],
  ["/blends/four-of-the-isles", "Settings to trade"],
  ["/blends/compare?blends=four-of-the-isles", "Joint fall"],
  ["/watches", "Watches"],
  ["/watches/alerts", "What is told"],
  ["/watches/faults", "Kill the venue"],
];

test("every view, on paper and by night", async ({ page }) => {
  test.setTimeout(240_000);
  const found: Record<string, string[]> = {};
  const made = async (what: string): Promise<string> =>
    ((await (await page.request.get(`/api/${what}`)).json()) as { id: string }[])[0]!.id;
  const views = [
    ...VIEWS,
    [`/sweeps/${await made("sweeps")}`, "In-sample"],
    [`/walk-forwards/${await made("walk-forwards")}`, "Window by window"],
  ] as const;
  /** The browser's name of each page, by its path without what is chosen on it. */
  const titles = new Map<string, string>();
  await page.goto("/plans");
  for (const [path, sign] of views) {
    const [before, isElsewhere] = [await page.title(), new URL(page.url()).pathname !== path.split("?")[0]];
    // As a link goes there: the app is loaded once.
    await page.evaluate((to) => {
      history.pushState(null, "", to);
      dispatchEvent(new PopStateEvent("popstate"));
    }, path);
    if (isElsewhere) await expect(page).not.toHaveTitle(before);
    await expect(
      page
        .getByText(sign)
        .or(page.getByRole("tablist", { name: sign }))
        .first(),
    ).toBeVisible();
    await expect(page.getByRole("status").filter({ hasText: /^Loading/ })).toHaveCount(0);
    titles.set(path.split("?")[0]!, await page.title());
    const problems = await problemsOf(page, null);
    // In the night only what colours decide differs.
    await wear(page, "night");
    problems.push(...(await problemsOf(page, ["color-contrast"])).map((problem) => `by night: ${problem}`));
    await wear(page, "paper");
    if (problems.length > 0) found[path] = problems;
  }
  expect([...titles.values()].every((title) => / – Plan Tester$/.test(title))).toBe(true);
  expect(new Set(titles.values()).size).toBe(titles.size);
  expect(found).toEqual({});
});
