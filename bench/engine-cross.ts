/** From a plan's source to the complete result over a million bars, against a loop written for this one strategy. */
import { Backtest, resolveInputs, resolveSettings, StudyStore, specsOf } from "@plan-tester/core";
import { guard, loadPlan, lockDown } from "../runner/src/child/sandbox.ts";
import { CROSS_SOURCE, crossLoop } from "./cross-loop.ts";
import { close, INSTRUMENT, ratioOf, walk } from "./series.ts";

const BARS = 1_000_000;
const ROUNDS = 31;

await lockDown();
const bars = walk(BARS, 7);
const settings = resolveSettings({ costs: INSTRUMENT.costs });

// Both sides write into memory they have used before, as a plan process does from run to run.
const engineEquity = new Float64Array(BARS);
const loopEquity = new Float64Array(BARS);

function ours(round: number) {
  // A source never seen before: compiling is part of the work.
  const plan = loadPlan(`${CROSS_SOURCE}// ${round}\n`).instantiate();
  guard.restart();
  const store = new StudyStore(bars);
  const backtest = new Backtest({
    plan,
    inputs: resolveInputs(specsOf(plan.inputs), {}),
    feeds: [{ instrument: INSTRUMENT, store, finer: null }],
    settings,
    equity: engineEquity,
  });
  backtest.advance(bars.length);
  const result = backtest.result();
  store.clear();
  return result;
}

const loop = () => crossLoop(bars, INSTRUMENT, 21, 55, 60, 120, settings.cash, loopEquity);

const one = ours(-1);
const other = loop();
if (
  !close(one.figures.netProfit, other.net) ||
  one.figures.trades !== other.trades ||
  !close(one.figures.maxDrawdown, other.maxDrawdown) ||
  !one.equity.every((value, i) => close(value, other.equity[i]!))
)
  throw new Error(
    `The two sides differ: net ${one.figures.netProfit} and ${other.net}, trades ${one.figures.trades} and ${other.trades}, drawdown ${one.figures.maxDrawdown} and ${other.maxDrawdown}.`,
  );

let round = 0;
const { ratio, engineMs, loopMs } = ratioOf(ROUNDS, () => ours(round++), loop);
console.log(`  ${other.trades} trades; engine ${engineMs.toFixed(1)} ms, loop ${loopMs.toFixed(1)} ms (medians of ${ROUNDS})`);
console.log(`bench engine-cross ratio ${ratio.toFixed(2)}`);
