/**
 * In the real browser: from Ctrl+Enter to the figures on screen, 100,000 bars, each time with another input. Needs the
 * built app (npm start once) and starts a server of its own on a data folder of its own.
 */
import { openApp } from "./app.ts";
import { median } from "./series.ts";

const ROUNDS = 40;
/** Rounds that bring bars and code into their caches, in both plan processes that wait for runs. */
const WARM_UP = 8;
const { base, page, call, end } = await openApp();

// XSC/ORM in 10-minute bars: 111,744 of them in three years.
const plan = await call<{ settings: object }>("GET", "/plans/brine-cross");
const settings = { ...plan.settings, symbol: "XSC/ORM", timeframe: "10m", from: "2023-03-01", to: "2025-11-10" };
await call("PATCH", "/plans/brine-cross", { settings, inputs: { contracts: 1 } });

await page.goto(`${base}/plans/brine-cross`);
await page.getByLabel(/^Fast average/).waitFor();
await page.waitForTimeout(6000);

// The page shows the last run of the time before: the first of this one has to differ from it.
const first = 10 + Math.floor(Math.random() * 100);
const times: number[] = [];
let bars = 0;
for (let round = 0; round < ROUNDS + WARM_UP; round++) {
  await page.getByLabel(/^Fast average/).fill(String(first + round));
  await page.waitForTimeout(400);
  const ms = await page.evaluate(async () => {
    const figures = () =>
      [...document.querySelectorAll("h2")].find((head) => head.textContent === "What it made")?.parentElement?.textContent ?? "";
    const before = figures();
    const began = performance.now();
    window.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", ctrlKey: true, bubbles: true }));
    while (figures() === before) {
      if (performance.now() - began > 20_000) throw new Error("The figures did not change.");
      await new Promise((resolve) => requestAnimationFrame(resolve));
    }
    return performance.now() - began;
  });
  if (round >= WARM_UP) times.push(ms);
  const last = page.getByTestId("run-state");
  await last.waitFor();
}
const runs = (await page.evaluate(async () =>
  (
    await fetch("/api/markets/XSC%2FORM/bars?timeframe=10m&from=2023-03-01&to=2025-11-10")
  )
    .arrayBuffer()
    .then((buffer) => buffer.byteLength),
)) as number;
bars = Math.floor(runs / 64);
if (bars < 100_000) throw new Error(`Only ${bars} bars; 100,000 are wanted.`);
const sorted = [...times].sort((a, b) => a - b);
console.log(
  `  slowest ${sorted
    .slice(-4)
    .map((ms) => ms.toFixed(0))
    .join(", ")} ms`,
);
console.log(`  ${bars.toLocaleString("en-GB")} bars, ${ROUNDS} runs`);
console.log(
  `bench edit-to-evidence median ${median(times).toFixed(0)} ms p95 ${sorted[Math.floor(sorted.length * 0.95)]!.toFixed(0)} ms (goal 300)`,
);
await end();
