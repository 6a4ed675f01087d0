import { Backtest, resolveInputs, resolveSettings, StudyStore, specsOf } from "@plan-tester/core";
import { guard, loadPlan, lockDown } from "../runner/src/child/sandbox.ts";
import { CROSS_SOURCE, crossLoop } from "./cross-loop.ts";
import { INSTRUMENT, median, walk } from "./series.ts";
await lockDown();
const settings = resolveSettings({ costs: INSTRUMENT.costs });
const bars = walk(1_000_000, 7); const eq = new Float64Array(1_000_000); const eq2 = new Float64Array(1_000_000);
const ph: number[][] = [[], [], [], [], []];
for (let r = 0; r < 40; r++) {
  const a = performance.now(); const p = loadPlan(`${CROSS_SOURCE}// ${r}\n`).instantiate(); guard.restart();
  const b0 = performance.now(); const store = new StudyStore(bars);
  const b = new Backtest({ plan: p, inputs: resolveInputs(specsOf(p.inputs), {}), feeds: [{ instrument: INSTRUMENT, store, finer: null }], settings, equity: eq });
  const t0 = performance.now(); b.advance(bars.length); const t1 = performance.now(); b.result(); const t2 = performance.now(); store.clear();
  const t3 = performance.now(); crossLoop(bars, INSTRUMENT, 21, 55, 60, 120, settings.cash, eq2); const t4 = performance.now();
  if (r > 10) [b0 - a, t0 - b0, t1 - t0, t2 - t1, t4 - t3].forEach((v, k) => ph[k]!.push(v));
}
console.log("compile, declare, advance, result, loop", ph.map((v) => median(v).toFixed(2)).join(" "));
