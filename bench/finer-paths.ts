/**
 * 15-minute bars walked along the 1-minute bars inside, against a loop written for this one strategy that does the same:
 * two averages on the coarse bars, stop and target looked for minute by minute.
 */
import { Backtest, resample, resolveInputs, resolveSettings, StudyStore, specsOf } from "@plan-tester/core";
import { guard, loadPlan, lockDown } from "../runner/src/child/sandbox.ts";
import { CROSS_SOURCE, finerLoop } from "./cross-loop.ts";
import { close, INSTRUMENT, ratioOf, walk } from "./series.ts";

const MINUTES = 1_000_000;
const ROUNDS = 11;

await lockDown();
const minutes = walk(MINUTES, 7);
const { series, firstSource } = resample(minutes, "15m");
const finer = { series: minutes, first: firstSource };
const settings = resolveSettings({ costs: INSTRUMENT.costs, path: "finer" });
const engineEquity = new Float64Array(series.length);
const loopEquity = new Float64Array(series.length);

function ours() {
  const plan = loadPlan(CROSS_SOURCE).instantiate();
  guard.restart();
  const store = new StudyStore(series);
  const backtest = new Backtest({
    plan,
    inputs: resolveInputs(specsOf(plan.inputs), {}),
    feeds: [{ instrument: INSTRUMENT, store, finer }],
    settings,
    equity: engineEquity,
  });
  backtest.advance(series.length);
  const result = backtest.result();
  store.clear();
  return result;
}

const loop = () => finerLoop(series, finer, INSTRUMENT, 21, 55, 60, 120, settings.cash, loopEquity);
const one = ours();
const other = loop();
if (
  !close(one.figures.netProfit, other.net) ||
  one.figures.trades !== other.trades ||
  !one.equity.every((value, i) => close(value, other.equity[i]!))
)
  throw new Error(`The two sides differ: net ${one.figures.netProfit} and ${other.net}, trades ${one.figures.trades} and ${other.trades}.`);
const { ratio, engineMs, loopMs } = ratioOf(ROUNDS, ours, loop);
console.log(
  `  ${other.trades} trades on ${series.length} bars; engine ${engineMs.toFixed(1)} ms, loop ${loopMs.toFixed(1)} ms (medians of ${ROUNDS})`,
);
console.log(`bench finer-paths ratio ${ratio.toFixed(2)}`);
