/** A sweep of 100,000 variants: written down and read again, and opened in the real browser. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Database } from "../server/src/db/database.ts";
import { SweepRepository } from "../server/src/features/sweeps/sweep-repository.ts";
import { openApp } from "./app.ts";
import { median } from "./series.ts";

const ROUNDS = 5;
const { base, data, page, call, end } = await openApp();
const plan = await call<{ source: string; settings: object }>("GET", "/plans/brine-cross");
const request = {
  planId: "bench",
  source: plan.source,
  inputs: {},
  settings: { ...plan.settings, timeframe: "15m", from: "2025-02-03", to: "2025-02-14" },
  ranges: [
    { input: "fast", from: 2, to: 41, step: 1 },
    { input: "slow", from: 50, to: 99, step: 1 },
    { input: "stop", from: 8, to: 400, step: 8 },
  ],
  outOfSample: { from: "2025-02-17", to: "2025-02-21" },
  aim: "returnToDrawdown",
};
const began = performance.now();
const { id, variants } = await call<{ id: string; variants: number }>("POST", "/sweeps", request);
if (variants !== 100_000) throw new Error(`The sweep has ${variants} variants.`);
for (let status = "running"; status === "running"; ) {
  await new Promise((resolve) => setTimeout(resolve, 500));
  const sweep = await call<{ status: string; failed: number }>("GET", `/sweeps/${id}`);
  status = sweep.status;
  if (status !== "running" && (status !== "complete" || sweep.failed > 0)) throw new Error(`The sweep ended as ${status}.`);
}
const swept = performance.now() - began;

// The same rows by the repository itself, into a file of their own.
const folder = mkdtempSync(join(tmpdir(), "plan-tester-bench-"));
const [from, to] = [await Database.open(join(data, "plan-tester.sqlite")), await Database.open(join(folder, "copy.sqlite"))];
const [written, read]: [number[], number[]] = [[], []];
for (let round = 0; round < ROUNDS; round++) {
  let at = performance.now();
  const stored = await new SweepRepository(from).find(id);
  read.push(performance.now() - at);
  at = performance.now();
  await new SweepRepository(to).save(stored!.detail, stored!);
  written.push(performance.now() - at);
  const copy = await new SweepRepository(to).find(id);
  if (copy?.points.length !== variants || !copy.figures.every((value, i) => Object.is(value, stored!.figures[i])))
    throw new Error("What was read is not what was written.");
}
await from.close();
await to.close();
rmSync(folder, { recursive: true, force: true });

const opened: number[] = [];
const filtered: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  await page.goto(`${base}/sweeps`);
  await page.locator(`a[href="/sweeps/${id}"]`).waitFor();
  opened.push(
    await page.evaluate(async (path) => {
      const at = performance.now();
      document.querySelector<HTMLAnchorElement>(`a[href="${path}"]`)!.click();
      while (document.querySelectorAll("[aria-label=Variants] [role=row]").length < 5)
        await new Promise((resolve) => requestAnimationFrame(resolve));
      return performance.now() - at;
    }, `/sweeps/${id}`),
  );
  const at = Date.now();
  await page.getByLabel("Only").fill("trades >= 3, out.netProfit > 0");
  await page
    .getByText(/^[\d,]+ shown$/)
    .filter({ hasNotText: "100,000" })
    .waitFor();
  filtered.push(Date.now() - at);
}
await call("DELETE", `/sweeps/${id}`).catch(() => undefined);
console.log(
  `bench many-variants ${variants.toLocaleString("en-GB")} variants swept in ${(swept / 1000).toFixed(1)} s; ` +
    `written in ${median(written).toFixed(0)} ms, read in ${median(read).toFixed(0)} ms, opened on screen in ${median(opened).toFixed(0)} ms (goal 1,000), filtered in ${median(filtered).toFixed(0)} ms`,
);
await end();
