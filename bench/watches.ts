/**
 * Watches on the built app: every demo plan on minutes and again on longer bars, up to WATCHES of them (50), for MINUTES (10) each way.
 * A market that waits for nobody at 60x: how late plans answer. A clock that holds at 600x: which pace is reached. Meanwhile
 * pages and lists are asked for, and memory is read. Needs the built app.
 */
import { readdirSync, readFileSync } from "node:fs";
import type { PlanDetail, PlanModule, PlanSummary, VenueStatus, WatchSummary } from "@plan-tester/contract";
import { serveApp } from "./app.ts";

const WATCHES = Number(process.env.WATCHES ?? 50);
const MINUTES = Number(process.env.MINUTES ?? 10);
const TIMEFRAMES = ["1m", "5m", "15m", "1h", "1d"];

/** Resident memory of a process and all below it, megabytes. */
function memoryOf(pid: number): number {
  const kin = new Map<number, { parent: number; pages: number }>();
  for (const name of readdirSync("/proc")) {
    if (!/^\d+$/.test(name)) continue;
    try {
      const fields = readFileSync(`/proc/${name}/stat`, "utf8").split(") ")[1]!.split(" ");
      kin.set(Number(name), { parent: Number(fields[1]), pages: Number(readFileSync(`/proc/${name}/statm`, "utf8").split(" ")[1]) });
    } catch {
      // It has ended meanwhile.
    }
  }
  const isBelow = (id: number): boolean => id === pid || (kin.has(id) && kin.get(id)!.parent > 1 && isBelow(kin.get(id)!.parent));
  return [...kin].reduce((sum, [id, { pages }]) => sum + (isBelow(id) ? (pages * 4096) / 1e6 : 0), 0);
}

const quantile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * share)] ?? Number.NaN;

// What watches leave behind when they are cut off would go on beside every other measure.
const app = await serveApp({}, "bench-watches");
const summaries = await app.call<PlanSummary[]>("GET", "/plans");
const modules = new Set((await app.call<PlanModule[]>("GET", "/modules")).map(({ source }) => source));
const all = await Promise.all(summaries.map(({ id }) => app.call<PlanDetail>("GET", `/plans/${id}`)));
// A module is no plan to be watched.
const plans = all.filter(({ source }) => !modules.has(source));
// Every plan on minutes, which is the most work, and again on longer bars, as many times as it takes.
const [shortest, ...longer] = TIMEFRAMES as [string, ...string[]];
const wanted = [
  ...plans.map((plan) => ({ plan, timeframe: shortest })),
  ...longer.flatMap((_timeframe, round) => plans.map((plan, k) => ({ plan, timeframe: longer[(k + round) % longer.length]! }))),
].slice(0, WATCHES);
while (!(await app.call<VenueStatus>("GET", "/venue")).connected) await new Promise((resolve) => setTimeout(resolve, 200));
// The first ones of a new workspace may still be starting.
for (let tries = 0; tries < 60; tries++) {
  const left = (await app.call<WatchSummary[]>("GET", "/watches")).filter(({ state }) => state !== "ended");
  if (left.length === 0 && tries > 4) break;
  for (const { id } of left) await app.call("POST", `/watches/${id}/stop`, { leaving: "flatten" }).catch(() => undefined);
  await new Promise((resolve) => setTimeout(resolve, 500));
}
await app.call("PUT", "/venue/clock", { speed: 60, holds: true });
for (const { plan, timeframe } of wanted) {
  const { source, inputs, settings } = plan;
  await app.call("POST", "/watches", { planId: plan.id, source, inputs, settings: { ...settings, timeframe } });
}
const list = (): Promise<WatchSummary[]> => app.call("GET", "/watches");
const active = async (): Promise<WatchSummary[]> => (await list()).filter(({ state }) => state !== "ended");
console.log(`${(await active()).length} watches of ${plans.length} plans`);

for (const clock of [
  { speed: 60, holds: false },
  { speed: 600, holds: true },
]) {
  await app.call("PUT", "/venue/clock", clock);
  await new Promise((resolve) => setTimeout(resolve, 10_000));
  const [first, paces, pages] = [memoryOf(process.pid), [] as number[], [] as number[]];
  for (const end = performance.now() + MINUTES * 60_000; performance.now() < end; ) {
    const began = performance.now();
    await (await fetch(app.base)).arrayBuffer();
    pages.push(performance.now() - began);
    paces.push((await app.call<VenueStatus>("GET", "/venue")).pace);
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  const watches = await active();
  const lags = watches.flatMap(({ slowLagMs }) => (slowLagMs === null ? [] : [slowLagMs]));
  const slowest = watches.reduce((a, b) => ((b.slowLagMs ?? 0) > (a.slowLagMs ?? 0) ? b : a));
  const memory = memoryOf(process.pid);
  if (watches.length < wanted.length * 0.9) throw new Error(`Only ${watches.length} of ${wanted.length} watches are left.`);
  console.log(
    `${clock.speed}x, ${clock.holds ? "the clock holds" : "the market waits for nobody"}: pace ${quantile(paces, 0.5).toFixed(0)}x (least ${Math.min(...paces).toFixed(0)}x), lag p95 by watch: median ${quantile(lags, 0.5)} ms, 95 of 100 within ${quantile(lags, 0.95)} ms, most ${slowest.slowLagMs} ms (${slowest.planTitle} on ${slowest.settings.timeframe}); GET / p95 ${quantile(pages, 0.95).toFixed(0)} ms; memory ${first.toFixed(0)} to ${memory.toFixed(0)} MB (${(memory / first).toFixed(2)})`,
  );
}
const began = performance.now();
await app.stop();
console.log(`SIGTERM: ended in ${((performance.now() - began) / 1000).toFixed(1)} s`);
process.exit(0);
