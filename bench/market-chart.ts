/**
 * In the real browser: a frame of a market's chart with ten studies over 500,000 bars and more, near and with all of them in
 * view, against the same chart without studies. Needs the built app and starts a server of its own.
 */
import { openApp } from "./app.ts";
import { median } from "./series.ts";

const STUDIES = [
  ...["ema(close, 20)", "ema(close, 50)", "sma(close, 200)", "bollinger(close, 20, 2).upper", "bollinger(close, 20, 2).lower"],
  ...["rsi(close, 14)", "atr(14)", "close > ema(close, 50)", "close crosses above sma(close, 200)", "ema(close, 20) on 1d"],
];
const MOVES = 40;
const { base, page, end } = await openApp();
const bars = async (): Promise<number> => {
  const [market] = (await (await fetch(`${base}/api/markets`)).json()).filter(
    ({ instrument }: { instrument: { symbol: string } }) => instrument.symbol === "BRIN",
  );
  return market.bars;
};

const frames = async (keys: readonly string[]): Promise<number> =>
  median(
    await page.evaluate(async (names) => {
      const chart = document.querySelector("section[aria-label^='Price of']")!;
      const times: number[] = [];
      for (const key of names) {
        const began = performance.now();
        chart.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
        await new Promise((resolve) => setTimeout(resolve));
        times.push(performance.now() - began);
        await new Promise((resolve) => requestAnimationFrame(resolve));
      }
      return times;
    }, keys),
  );
const steps = (...keys: string[]): string[] => Array.from({ length: MOVES }, (_none, k) => keys[k % keys.length]!);

async function measured(studies: readonly string[]): Promise<{ near: number; all: number; computed: number }> {
  await page.goto(`${base}/markets`);
  await page.evaluate((text) => localStorage.setItem("market studies", text), studies.join("\n"));
  await page.goto(`${base}/markets/BRIN`);
  const began = Date.now();
  await page.getByLabel("Timeframe").selectOption("1m");
  const chart = page.getByRole("region", { name: /^Price of/ });
  await chart.waitFor({ timeout: 60_000 });
  await page.waitForFunction((count) => document.querySelectorAll("[aria-label^='Remove ']").length === count, studies.length);
  await page.waitForFunction(() => !document.querySelector("span.text-soft [aria-label^='Remove ']"), undefined, { timeout: 60_000 });
  const computed = Date.now() - began;
  await page.waitForTimeout(1000);
  const near = await frames(steps("ArrowLeft", "ArrowRight"));
  await chart.press("0");
  return { near, all: await frames(steps("+", "-")), computed };
}

const plain = await measured([]);
const full = await measured(STUDIES);
console.log(
  `  ${(await bars()).toLocaleString("en-GB")} bars: without studies ${plain.near.toFixed(1)} ms near, ${plain.all.toFixed(1)} ms with all in view; ten studies on screen after ${full.computed} ms`,
);
console.log(
  `bench market-chart ten studies: ${full.near.toFixed(1)} ms near (goal 12), ${full.all.toFixed(1)} ms with all in view (goal 16)`,
);
await end();
