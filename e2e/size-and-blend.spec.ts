/** From a drawdown to what to trade: kept runs on one account, sized, doubted, run together, and set to watch. */
import { expect, test } from "@playwright/test";

const RUNS = ["kelp-ebb-fade", "worded-rules", "brine-base-entry", "brine-base-entry-sheet"].map((id) => `${id}-first`);

test("from four runs to a blend at 20 %: a twin is left out, the least account read, run as one account, set to watch", async ({
  page,
}) => {
  test.setTimeout(120_000);
  await page.goto(`/compare?runs=${RUNS.join(",")}`);
  await page.getByRole("button", { name: "Blend them" }).click();
  await expect(page).toHaveURL(/\/blends\//, { timeout: 30_000 });
  const members = page.getByRole("table", { name: /^Members, their sizes/ });
  await expect(members.getByRole("row", { name: /Brine base entry, a sheet/ })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/these four would have fallen .* more than the 20 % tolerated/)).toBeVisible({ timeout: 30_000 });

  // The twins are named with the reason, and one of them is left out.
  const twins = page.getByRole("alert").filter({ hasText: "Twins:" });
  await expect(twins).toContainText("their daily results correlate 1.00");
  await twins.getByRole("button", { name: "Leave out 4" }).click();
  await expect(page.getByText(/these three would have fallen/)).toBeVisible();
  await expect(members.getByRole("spinbutton", { name: "Size of Brine base entry, a sheet" })).toHaveValue("0");

  // Sized on an account that is large enough, so that 20 % are kept.
  await page.getByRole("button", { name: /^Account:/ }).click();
  await page.getByLabel("Account, crowns").fill("800000");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^Weights:/ }).click();
  await page.getByRole("button", { name: "to equal drawdown" }).click();
  await expect(page.getByRole("status").filter({ hasText: "would have fallen" })).toContainText("On 800,000 crowns these three");
  await expect(page.getByText(/more than the 20 % tolerated/)).toHaveCount(0);
  const least = page.getByRole("row", { name: /^Least account for all/ });
  await expect(least.getByRole("cell")).toHaveText(/^\d{3},\d{3}$/, { timeout: 30_000 });

  // On less than that, the largest is said to be too large.
  const needed = Number((await least.getByRole("cell").textContent())!.replace(/,/g, ""));
  await page.getByRole("button", { name: /^Account:/ }).click();
  await page.getByLabel("Account, crowns").fill(String(Math.round(needed * 0.7)));
  await page.keyboard.press("Escape");
  await expect(members.getByText(/the account is too small for it/).first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect(page.getByRole("status").filter({ hasText: "would have fallen" })).not.toContainText(String(needed));

  // The engine runs them as one account: what it makes is the sum of what they make alone.
  await page.getByRole("button", { name: "Run as one account" }).click();
  await expect(page.getByText(/On one account they made .* exactly what their runs add up to/)).toBeVisible({ timeout: 60_000 });

  // It is kept, and comes back as it was.
  await expect(page.getByRole("status").filter({ hasText: /^saved$/ })).toBeVisible();
  const shown = await page.getByRole("status").filter({ hasText: "would have fallen" }).textContent();
  await page.reload();
  await expect(page.getByRole("status").filter({ hasText: "would have fallen" })).toContainText(shown!.split(";")[0]!, { timeout: 30_000 });

  await page.getByRole("button", { name: "Set to watch …" }).click();
  const dialog = page.getByRole("dialog", { name: /^Watch / });
  await expect(dialog).toContainText(
    "3 watches run on KELP 15 min; BRIN 15 min; BRIN 1 h with 800,000 crowns of practice money, together,",
  );
  await dialog.getByRole("button", { name: /^Start/ }).click();
  await expect(page).toHaveURL(/\/watches$/, { timeout: 60_000 });
  const started = (
    (await (await page.request.get("/api/watches")).json()) as { id: string; options: { account: string }; state: string }[]
  ).filter(({ options }) => options.account.startsWith("blend-"));
  expect(started.length).toBe(3);
  expect(new Set(started.map(({ options }) => options.account)).size).toBe(1);
  for (const { id } of started) await page.request.post(`/api/watches/${id}/stop`, { data: { leaving: "flatten" } });
});

test("a size is calculated on a run, tried against what was tolerated, and kept as a variant of the plan", async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto("/plans/kelp-swing?tab=size");
  await page.keyboard.press("Control+Enter");
  await page.getByLabel("Tolerated fall, % of the balance").fill("15");
  await page.getByRole("radio", { name: /^as it was/ }).check();
  const found = page.getByText(/With 15 % tolerated, each unit asks for .* crowns of balance\. On 100,000 crowns that is \d+ units?\./);
  await expect(found).toBeVisible({ timeout: 60_000 });
  const size = Number(/that is (\d+) unit/.exec((await found.textContent())!)![1]);
  await expect(page.getByText(`What ${size} unit${size === 1 ? "" : "s"} mean on this account`)).toBeVisible({ timeout: 30_000 });

  await page.getByRole("button", { name: /^Try it with/ }).click();
  await expect(page.getByRole("status").filter({ hasText: `This run was sized by ${size} units` })).toContainText(
    "within the 15 % tolerated",
    {
      timeout: 60_000,
    },
  );
  await page.getByRole("button", { name: "Save as a variant" }).click();
  await expect(page.getByText(/is a variant of the plan now/)).toBeVisible();
  await expect(page.getByLabel("Variant", { exact: true }).locator("option", { hasText: "15 % tolerated" })).toHaveCount(1);
});
