/** The luck test of a sweep of 1,000 settings on 25,000 bars against 20 such sweeps, and the statistics of its days. */
import { daysNotSeen, Random, superiorAbility } from "@plan-tester/core";
import { serveApp } from "./app.ts";
import { median } from "./series.ts";

const MARKETS = 19;
const { call, stop } = await serveApp();
const { source, settings } = await call<{ source: string; settings: object }>("GET", "/plans/brine-cross");

async function ended(path: string): Promise<{ status: string; elapsedMs: number }> {
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, 250));
    const answer = await call<{ status: string; elapsedMs: number }>("GET", path);
    if (answer.status === "complete") return answer;
    if (answer.status !== "running") throw new Error(`${path} ended as ${answer.status}.`);
  }
}

const { id, variants } = await call<{ id: string; variants: number }>("POST", "/sweeps", {
  ...{ planId: "bench", source, inputs: {}, outOfSample: null, aim: "sharpe", search: null },
  settings: { ...settings, symbol: "BRIN", timeframe: "15m", from: "2023-03-01", to: "2025-02-28" },
  ranges: [
    { input: "fast", from: 5, to: 44, step: 1 },
    { input: "slow", from: 50, to: 98, step: 2 },
  ],
});
if (variants !== 1000) throw new Error(`The sweep has ${variants} settings.`);
const sweep = await ended(`/sweeps/${id}`);
await call("POST", `/sweeps/${id}/luck`, { markets: MARKETS });
const luck = await ended(`/sweeps/${id}/luck`);
const share = luck.elapsedMs / (MARKETS * sweep.elapsedMs);
await call("DELETE", `/sweeps/${id}`);
await stop();

const [settingsOf, days] = [1000, 750];
const random = new Random(7);
const returns = Float32Array.from({ length: settingsOf * days }, () => random.normal());
const timed = (work: () => unknown): number =>
  median(
    Array.from({ length: 5 }, () => {
      const at = performance.now();
      work();
      return performance.now() - at;
    }),
  );
const seen = timed(() => daysNotSeen(returns, settingsOf, 252));
const ability = timed(() => superiorAbility(returns, settingsOf, 1));
console.log(
  `bench luck ${MARKETS} markets of ${variants.toLocaleString("en-GB")} settings in ${(luck.elapsedMs / 1000).toFixed(1)} s, ${share.toFixed(2)} of as many sweeps (goal 1.16: 20 sweeps and a tenth); ` +
    `${settingsOf.toLocaleString("en-GB")} settings x ${days} days: days not seen in ${seen.toFixed(0)} ms, superior ability in ${ability.toFixed(0)} ms (goal 1,000 for both)`,
);
