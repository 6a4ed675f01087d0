/** From a plan's source to the complete result over a million bars, against a loop written for this one strategy. */
import { Backtest, resolveInputs, resolveSettings, StudyStore, specsOf } from "@plan-tester/core";
import { guard, loadPlan, lockDown } from "../runner/src/child/sandbox.ts";
import { CROSS_SOURCE, crossLoop } from "./cross-loop.ts";
import { INSTRUMENT, median, timed, walk } from "./series.ts";

const BARS = 1_000_000;
const ROUNDS = 15;

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
const close = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(a));
if (
  !close(one.figures.netProfit, other.net) ||
  one.figures.trades !== other.trades ||
  !close(one.figures.maxDrawdown, other.maxDrawdown) ||
  !one.equity.every((value, i) => close(value, other.equity[i]!))
)
  throw new Error(
    `The two sides differ: net ${one.figures.netProfit} and ${other.net}, trades ${one.figures.trades} and ${other.trades}, drawdown ${one.figures.maxDrawdown} and ${other.maxDrawdown}.`,
  );

const ratios: number[] = [];
const engineMs: number[] = [];
const loopMs: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  // The two sides of a round follow each other, so that a slow moment of the machine meets both.
  const engine = timed(() => ours(round)).ms;
  const hand = timed(loop).ms;
  engineMs.push(engine);
  loopMs.push(hand);
  ratios.push(engine / hand);
}
console.log(
  `  ${other.trades} trades; engine ${median(engineMs).toFixed(1)} ms, loop ${median(loopMs).toFixed(1)} ms (medians of ${ROUNDS})`,
);
console.log(`bench engine-cross ratio ${median(ratios).toFixed(2)}`);
