/** Four plans on one account, against the same four runs, one after the other (at most 1.3 times as long). */
import {
  Backtest,
  type BacktestOptions,
  type BarSeries,
  BlendRun,
  resolveInputs,
  resolveSettings,
  StudyStore,
  shareTimes,
  specsOf,
} from "@plan-tester/core";
import { guard, loadPlan, lockDown } from "../runner/src/child/sandbox.ts";
import { INSTRUMENT, ratioOf, walk } from "./series.ts";

const BARS = 200_000;
const ROUNDS = 21;
/** Four ways to trade that differ in pace and in their orders. */
const sourceOf = (fast: number, slow: number, order: string): string => `export default plan({
  title: "Crossing ${fast}",
  build({ bars, when, enter, exit, position }) {
    const fast = ema(bars.close, ${fast});
    const slow = ema(bars.close, ${slow});
    const trend = ema(bars.at("1h").close, 20);
    when(crossesAbove(fast, slow).and(isAbove(bars.close, trend)), () => { if (position.flat) ${order}; });
    when(crossesBelow(fast, slow), () => exit.long());
  },
});
`;
const SOURCES = [
  sourceOf(21, 55, "enter.long({ stopLoss: ticks(60), target: ticks(120) })"),
  sourceOf(8, 30, "enter.long.stop(bars.high.now + 1, { stopLoss: ticks(40), goodFor: 5 })"),
  sourceOf(40, 160, "enter.long({ trail: ticks(90) })"),
  sourceOf(13, 89, "enter.long.limit(bars.low.now, { stopLoss: ticks(50), goodFor: 10 })"),
];

await lockDown();
const series: BarSeries[] = [];
for (const seed of [3, 5, 9, 13]) series.push(shareTimes(walk(BARS, seed), series));

function optionsOf(k: number): BacktestOptions {
  const plan = loadPlan(SOURCES[k]!).instantiate();
  guard.restart();
  return {
    ...{ plan, inputs: resolveInputs(specsOf(plan.inputs), {}), settings: resolveSettings({ costs: INSTRUMENT.costs }) },
    feeds: [{ instrument: { ...INSTRUMENT, symbol: `WALK${k}` }, store: new StudyStore(series[k]!), finer: null }],
  };
}

const each = [0, 1, 2, 3];
/** Columns are let go, as by who takes the next plan. */
const letGo = (options: BacktestOptions): void => {
  for (const { store } of options.feeds) store.clear();
};
const together = () => {
  const members = each.map(optionsOf);
  const run = new BlendRun({ cash: 1e9, ruin: "stop", members });
  run.advance(Number.POSITIVE_INFINITY);
  const results = run.results();
  members.forEach(letGo);
  return results;
};
const apart = () =>
  each.map((k) => {
    const options = optionsOf(k);
    const backtest = new Backtest(options);
    backtest.advance(BARS);
    const result = backtest.result();
    letGo(options);
    return result;
  });

const [joint, alone] = [together(), apart()];
for (const k of each) {
  const [a, b] = [joint[k]!, alone[k]!];
  if (a.figures.netProfit !== b.figures.netProfit || a.equity.some((value, i) => value !== b.equity[i]))
    throw new Error(`Plan ${k} makes ${a.figures.netProfit} on the shared account, ${b.figures.netProfit} alone.`);
}
const { ratio, engineMs, loopMs } = ratioOf(ROUNDS, together, apart);
const trades = joint.reduce((sum, { figures }) => sum + figures.trades, 0);
console.log(
  `  ${trades} trades; on one account ${engineMs.toFixed(1)} ms, one after the other ${loopMs.toFixed(1)} ms (medians of ${ROUNDS})`,
);
console.log(`bench blend ratio ${ratio.toFixed(2)}`);
