/** One plan on five instruments whose bars overlap, against the same instruments with bars at equal times. */
import { ALWAYS_OPEN, type BarSeries, makeSeries, shareTimes } from "@plan-tester/core";
import { lockDown } from "../runner/src/child/sandbox.ts";
import { prepare } from "./run-source.ts";
import { ratioOf, walk } from "./series.ts";

const BARS = 40_000;
const ROUNDS = 15;
const HOUR_MS = 3_600_000;
const START = Date.UTC(2015, 0, 5);
const SEEDS = [3, 5, 9, 14, 21];
const SOURCE = `export default plan({
  title: "Offset",
  build({ markets, when }) {
    for (const { bars, enter, position } of markets) {
      const fast = ema(bars.close, 21);
      const slow = ema(bars.close, 55);
      when(crossesAbove(fast, slow), () => {
        if (position.flat) enter.long({ stopLoss: ticks(60), target: ticks(120) });
      });
      when(crossesBelow(fast, slow), () => {
        if (position.flat) enter.short({ stopLoss: ticks(60), target: ticks(120) });
      });
    }
  },
});
`;

await lockDown();

/** Hourly bars that begin so many minutes after the hour. */
function hoursAt(seed: number, minutes: number): BarSeries {
  const { time, ...columns } = walk(BARS, seed);
  return makeSeries({ ...columns, time: time.map((_t, i) => START + i * HOUR_MS + minutes * 60_000) }, "1h", ALWAYS_OPEN);
}

function seriesOf(offsets: readonly number[]): BarSeries[] {
  const all: BarSeries[] = [];
  SEEDS.forEach((seed, k) => {
    all.push(shareTimes(hoursAt(seed, offsets[k]!), all));
  });
  return all;
}

const equal = seriesOf([0, 0, 0, 0, 0]);
const overlapping = seriesOf([0, 12, 24, 36, 48]);

function run(series: readonly BarSeries[]) {
  const { backtest, stores } = prepare(
    SOURCE,
    series.map((bars, k) => ({ symbol: `WALK${k}`, bars })),
  );
  backtest.advance(BARS);
  const result = backtest.result();
  for (const store of stores) store.clear();
  return result;
}

const [apart, together] = [run(overlapping), run(equal)];
const difference = Math.abs(apart.figures.netProfit - together.figures.netProfit);
// The same bars an hour's part later: the same trades, but for those that the end of the data cuts.
if (apart.figures.trades < 100 || Math.abs(apart.figures.trades - together.figures.trades) > SEEDS.length)
  throw new Error(
    `Overlapping bars make ${apart.figures.trades} trades, equal times ${together.figures.trades}; net differs by ${difference}.`,
  );
const { ratio, engineMs, loopMs } = ratioOf(
  ROUNDS,
  () => run(overlapping),
  () => run(equal),
);
console.log(
  `  ${apart.figures.trades} trades; overlapping ${engineMs.toFixed(1)} ms, equal times ${loopMs.toFixed(1)} ms (medians of ${ROUNDS})`,
);
console.log(`bench offset ratio ${ratio.toFixed(2)}`);
