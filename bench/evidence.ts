/**
 * In the real browser: a frame of the price chart with 500,000 bars loaded, the list of 5,000 kept runs, and the opening
 * of a kept run with 20,000 trades.
 */
import { randomUUID } from "node:crypto";
import { join } from "node:path";
import Database from "better-sqlite3";
import { openApp } from "./app.ts";
import { median } from "./series.ts";

const MANY_RUNS = 5000;
const { base, data, page, call, end } = await openApp();
const settings = {
  ...(await call<{ settings: object }>("GET", "/plans/brine-cross")).settings,
  ...{ symbol: "XSC/ORM", timeframe: "1m", from: "2024-10-01", to: "2026-02-27" },
};
const source = `export default plan({
  title: "Every few minutes",
  build({ bars, on, enter, show }) {
    show(ema(bars.close, 200), { label: "Average" });
    let n = 0;
    on.barClose(() => {
      if (n++ % 24 === 0) enter.long({ timeLimit: { bars: 10 }, stopLoss: pips(15) });
    });
  },
});
`;
const id = `many-${randomUUID().slice(0, 8)}`;
const run = await call<{ bars: number; trades: unknown[] }>("POST", "/runs", { id, planId: "bench", source, inputs: {}, settings });
if (run.bars < 500_000 || run.trades.length < 20_000) throw new Error(`Only ${run.bars} bars and ${run.trades.length} trades.`);
await call("PUT", `/runs/${id}/keep`, { name: "Many trades", tags: [] });

// The list.
const file = new Database(join(data, "plan-tester.sqlite"));
const { there } = file.prepare("SELECT count(*) AS there FROM run").get() as { there: number };
const columns = (file.prepare("SELECT name FROM pragma_table_info('run')").all() as { name: string }[]).map(({ name }) => name);
const copy = file.prepare(
  `INSERT INTO run (${columns.join(",")}) SELECT ${columns.map((name) => (name === "id" || name === "name" ? `@${name}` : name)).join(",")} FROM run WHERE id = 'brine-cross-first'`,
);
file.transaction(() => {
  for (let k = there; k < MANY_RUNS; k++) copy.run({ id: randomUUID().slice(0, 13), name: `Copy ${k}` });
})();
file.close();
const listed: number[] = [];
await page.goto(`${base}/plans`);
for (let round = 0; round < 7; round++) {
  await page.getByRole("link", { name: "Plans", exact: true }).click();
  await page.getByRole("heading", { name: "Plans" }).waitFor();
  await page.reload();
  await page.getByRole("heading", { name: "Plans" }).waitFor();
  listed.push(
    await page.evaluate(async () => {
      const began = performance.now();
      [...document.querySelectorAll("a")].find((link) => link.textContent === "Runs")!.click();
      while (!document.querySelector("[data-testid=run-list] a")) await new Promise((resolve) => requestAnimationFrame(resolve));
      return performance.now() - began;
    }),
  );
}
console.log(`bench run-list ${MANY_RUNS.toLocaleString("en-GB")} runs, median ${median(listed).toFixed(0)} ms (goal 300)`);

// Opening the run with many trades: to its figures, then to its curve.
const opened: number[] = [];
for (let round = 0; round < 4; round++) {
  await page.goto(`${base}/runs`);
  await page.getByTestId("run-list").waitFor();
  const began = Date.now();
  await page.goto(`${base}/runs/${id}?tab=trades`);
  await page.getByRole("grid", { name: "Trades" }).getByRole("row").nth(2).waitFor();
  opened.push(Date.now() - began);
}
console.log(
  `bench open-run ${run.trades.length.toLocaleString("en-GB")} trades, page and trades on screen, median ${median(opened).toFixed(0)} ms`,
);

// A frame of the chart: each key moves or zooms, and is drawn within the frame.
await page.getByRole("tab", { name: "Chart" }).click();
const chart = page.getByRole("region", { name: /^Price of/ });
await chart.waitFor({ timeout: 60_000 });
const frames = async (keys: readonly string[]): Promise<number> =>
  median(
    await page.evaluate(async (names) => {
      const region = [...document.querySelectorAll("section")].find((section) =>
        section.getAttribute("aria-label")?.startsWith("Price of"),
      )!;
      const times: number[] = [];
      for (const key of names) {
        const began = performance.now();
        region.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
        await new Promise((resolve) => setTimeout(resolve));
        times.push(performance.now() - began);
        await new Promise((resolve) => requestAnimationFrame(resolve));
      }
      return times;
    }, keys),
  );
const steps = (count: number, ...keys: string[]): string[] => Array.from({ length: count }, (_none, k) => keys[k % keys.length]!);
const near = await frames(steps(40, "ArrowLeft", "ArrowRight"));
await chart.press("0");
const all = await frames(steps(40, "+", "-"));
console.log(
  `bench chart-frame ${run.bars.toLocaleString("en-GB")} bars loaded: ${near.toFixed(1)} ms near, ${all.toFixed(1)} ms with all in view`,
);
await end();
