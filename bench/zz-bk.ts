import { readFileSync } from "node:fs";
import { type BarSeries, shareTimes } from "@plan-tester/core";
import { lockDown } from "../runner/src/child/sandbox.ts";
import { prepare } from "./run-source.ts";
import { walk } from "./series.ts";

const BARS = 200_000;
const SOURCE = /const SOURCE = `([\s\S]*?)`;/.exec(readFileSync("bench/basket.ts", "utf8"))![1]!;
await lockDown();
const series: BarSeries[] = [];
for (const seed of [3, 5, 9]) series.push(shareTimes(walk(BARS, seed), series));
const parts: Record<string, number> = {};
function run(members: readonly number[]) {
  const t = performance.now();
  const { backtest, stores } = prepare(
    SOURCE,
    members.map((k) => ({ symbol: `WALK${k}`, bars: series[k]! })),
  );
  const u = performance.now();
  backtest.advance(BARS);
  const v = performance.now();
  backtest.result();
  for (const store of stores) store.clear();
  const w = performance.now();
  if (n > 20) {
    parts.prepare = (parts.prepare ?? 0) + u - t;
    parts.advance = (parts.advance ?? 0) + v - u;
    parts.result = (parts.result ?? 0) + w - v;
  }
}
let n = 0;
for (; n < 120; n++) process.env.APART ? [0, 1, 2].map((k) => run([k])) : run([0, 1, 2]);
for (const [k, v] of Object.entries(parts)) console.log(k, (v / 99).toFixed(2));
