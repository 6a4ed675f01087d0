/** What the first page asks for: little enough to be there at once, packed, and kept by the browser. */
import { expect, test } from "@playwright/test";

/** Of script, packed, without the editor; bytes. */
const MOST_SCRIPT = 250_000;

test("the first page loads at most 250 kB of script, packed, and asks for it once", async ({ page }) => {
  const session = await page.context().newCDPSession(page);
  await session.send("Network.enable");
  const scripts = new Map<string, { url: string; bytes: number; encoding: string; cache: string }>();
  session.on("Network.responseReceived", ({ requestId, type, response }) => {
    const header = (name: string): string => response.headers[name] ?? response.headers[name.toLowerCase()] ?? "";
    if (type === "Script")
      scripts.set(requestId, { url: response.url, bytes: 0, encoding: header("Content-Encoding"), cache: header("Cache-Control") });
  });
  session.on("Network.loadingFinished", ({ requestId, encodedDataLength }) => {
    const script = scripts.get(requestId);
    if (script) script.bytes = encodedDataLength;
  });
  await page.goto("/plans");
  await expect(page.getByRole("link", { name: /Brine/ }).first()).toBeVisible();
  const loaded = [...scripts.values()];
  expect(loaded.length).toBeGreaterThan(3);
  expect(loaded.filter(({ url }) => /monaco|editor/.test(url))).toEqual([]);
  const assets = loaded.filter(({ url }) => url.includes("/assets/"));
  expect(assets.filter(({ encoding }) => encoding !== "gzip")).toEqual([]);
  expect(assets.filter(({ cache }) => !cache.includes("immutable"))).toEqual([]);
  expect(loaded.reduce((sum, { bytes }) => sum + bytes, 0)).toBeLessThan(MOST_SCRIPT);
});
